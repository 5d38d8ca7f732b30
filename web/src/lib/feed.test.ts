import { beforeEach, describe, expect, it, vi } from "vitest";

import { Feed, joined, type Now } from "./feed";

class Socket {
  static made: Socket[] = [];
  sent: string[] = [];
  onopen = () => {};
  onmessage: (event: { data: string }) => void = () => {};
  onclose: (event: { code: number; reason: string }) => void = () => {};
  constructor() {
    Socket.made.push(this);
  }
  send(text: string) {
    this.sent.push(text);
  }
  close() {}
  says(told: object) {
    this.onmessage({ data: JSON.stringify(told) });
  }
}

let pictures: (() => void)[] = [];
const feed = (first?: Record<string, unknown>) =>
  new Feed(
    "ws://x/api/screen",
    first,
    () => new Socket() as unknown as WebSocket,
    (work) => pictures.push(work),
  );
const draw = () => pictures.splice(0).forEach((work) => work());
const socket = () => Socket.made.at(-1)!;

beforeEach(() => {
  Socket.made = [];
  pictures = [];
  vi.useFakeTimers();
});

describe("a feed", () => {
  it("says its code first, and shows the newest of everything once a picture", () => {
    const f = feed({ code: "ABC" });
    const drawn = vi.fn();
    f.subscribe(drawn);
    f.start();
    socket().onopen();
    expect(socket().sent).toEqual(['{"code":"ABC"}']);
    socket().says({ type: "now", lesson: "l1", along: 0.2, values: { a: [1, 0.1] } });
    socket().says({ type: "now", along: 0.4, values: { b: [2, 0.1] } });
    expect(f.get().along).toBe(0);
    draw();
    expect(drawn).toHaveBeenCalledTimes(1);
    expect([f.get().along, f.get().values, f.get().going]).toEqual([0.4, { a: [1, 0.1], b: [2, 0.1] }, true]);
  });

  it("is heard at once, for sound, with every decision", () => {
    const f = feed();
    const heard: (boolean | null | undefined)[] = [];
    f.listen((now) => heard.push(now.decision?.inside));
    f.start();
    socket().onopen();
    for (const inside of [true, false, null]) socket().says({ type: "now", decision: { inside } });
    expect(heard).toEqual([undefined, true, false, null]);
  });

  it("comes back by itself, but not where it is not let in", () => {
    const f = feed();
    f.start();
    socket().onopen();
    socket().onclose({ code: 1006, reason: "" });
    vi.advanceTimersByTime(300);
    expect(Socket.made.length).toBe(2);
    socket().onclose({ code: 4403, reason: "This code is of no bay." });
    vi.advanceTimersByTime(60_000);
    draw();
    expect([Socket.made.length, f.get().refused, f.get().connected]).toEqual([2, "This code is of no bay.", false]);
  });
});

describe("what is told", () => {
  const now = { trainer: { repetitions: [{ number: 1 }] }, values: { a: [1, 0] }, settled: {}, going: true } as unknown as Now;
  it("adds a repetition to those before it, once", () => {
    const twice = [2, 2].reduce((n, number) => joined(n, { type: "repetition", number }), now);
    expect(twice.trainer!.repetitions.map((r) => r.number)).toEqual([1, 2]);
  });
  it("leaves nothing of a player behind when the lesson is over", () => {
    const over = joined(now, { type: "now", lesson: null, trainer: null });
    expect([over.going, over.values, over.trainer]).toEqual([false, {}, null]);
    expect(joined(now, { type: "now", going_on: false, trainer: null }).values).toEqual({});
  });
});
