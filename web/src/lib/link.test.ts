import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { DeviceLink, frameOf, SUBPROTOCOL, type LinkState, type Sample } from "./link";

const sample = (t_us: number, first = 1): Sample => ({ t_us, values: [first, 2, 3, 4, 5, 6] });

/** The server's end: what it was sent, and what it says. */
class Socket {
  static made: Socket[] = [];
  readyState = 1;
  binaryType = "";
  sent: (string | ArrayBuffer)[] = [];
  onopen = () => {};
  onmessage: (event: { data: string }) => void = () => {};
  onclose = () => {};
  constructor(
    readonly url: string,
    readonly protocol: string,
  ) {
    Socket.made.push(this);
  }
  send(data: string | ArrayBuffer) {
    this.sent.push(data);
  }
  close() {
    this.readyState = 3;
  }
  says(message: object) {
    this.onmessage({ data: JSON.stringify(message) });
  }
  get told() {
    return this.sent.filter((s) => typeof s === "string").map((s) => JSON.parse(s) as { type: string; [k: string]: unknown });
  }
  /** The first sequence of each frame. */
  get frames() {
    return this.sent.filter((s) => typeof s !== "string").map((s) => new DataView(s).getUint32(4, true));
  }
}

let now = 5_000_000;
let state: LinkState;
const linked = (): DeviceLink => {
  const link = new DeviceLink(
    "ws://x/api/link",
    { token: "t", device: { id: "a", boot: 1 } },
    () => now,
    (s) => (state = s),
    () => ({ battery: 0.5 }),
    (url, protocol) => new Socket(url, protocol) as unknown as WebSocket,
  );
  link.start();
  return link;
};
const [first, second] = [() => Socket.made[0]!, () => Socket.made[1]!];

beforeEach(() => {
  vi.useFakeTimers();
  Socket.made = [];
});
afterEach(() => vi.useRealTimers());

describe("a frame", () => {
  it("has the header and the samples of the protocol's page, little-endian", () => {
    const view = new DataView(frameOf(3, 70_000, [sample(2 ** 40), sample(2 ** 40 + 16_700, -9.5)]));
    expect(view.byteLength).toBe(24 + 2 * 28);
    expect([view.getUint8(0), view.getUint8(1), view.getUint16(2, true), view.getUint32(4, true)]).toEqual([1, 3, 2, 70_000]);
    expect(view.getBigUint64(8, true)).toBe(2n ** 40n);
    expect([view.getUint32(16, true), view.getUint32(20, true)]).toEqual([0, 0]);
    expect([view.getUint32(24, true), view.getUint32(52, true)]).toEqual([0, 16_700]);
    expect(view.getFloat32(56, true)).toBe(-9.5);
  });
});

describe("the link", () => {
  it("says hello with the protocol, then its clock and its battery", () => {
    linked();
    expect([first().url, first().protocol]).toEqual(["ws://x/api/link", SUBPROTOCOL]);
    first().onopen();
    expect(first().told).toEqual([{ type: "hello", protocol: 1, token: "t", device: { id: "a", boot: 1 } }]);
    first().says({ type: "welcome", bay: "Bay 2" });
    expect(first().told.slice(1)).toEqual([
      { type: "clock", t0_us: now },
      { type: "health", battery: 0.5 },
    ]);
    expect([state.phase, state.bay]).toEqual(["connected", "Bay 2"]);
  });

  it("says with the next clock when the last answer came, so that the round trip is known", () => {
    linked();
    first().onopen();
    first().says({ type: "welcome", bay: "Bay 2" });
    const asked = now;
    now += 2_000;
    first().says({ type: "clock", t0_us: asked, t1_us: 1, t2_us: 2 });
    now += 98_000;
    vi.advanceTimersByTime(100);
    expect(first().told.at(-1)).toEqual({ type: "clock", t0_us: asked + 100_000, last_t0_us: asked, last_t3_us: asked + 2_000 });
  });

  it("keeps what is not safe, and after a reconnect sends what is wanted once more", () => {
    const link = linked();
    first().onopen();
    link.send([sample(1)]); // before the welcome: kept
    expect(first().frames).toEqual([]);
    first().says({ type: "welcome", bay: "Bay 2" });
    link.send([sample(2), sample(3)]);
    link.send([sample(4)]);
    expect(first().frames).toEqual([0, 1, 3]);
    first().says({ type: "ack", stream: 0, sequence: 0 });
    expect([state.sent, state.safe]).toEqual([4, 1]);
    first().onclose();
    expect(state.phase).toBe("connecting");
    link.send([sample(5)]);
    vi.advanceTimersByTime(200);
    second().onopen();
    second().says({ type: "welcome", bay: "Bay 2", resume: { "0": 3 } });
    expect(second().frames).toEqual([3, 4]);
  });

  it("ends where it is refused, and tells why", () => {
    linked();
    first().onopen();
    first().says({ type: "refused", code: 4401, reason: "this token is of no bay" });
    first().onclose();
    vi.advanceTimersByTime(60_000);
    expect([state.phase, state.reason, Socket.made.length]).toEqual(["refused", "this token is of no bay", 1]);
  });

  it("says goodbye and comes back no more", () => {
    const link = linked();
    first().onopen();
    first().says({ type: "welcome", bay: "Bay 2" });
    link.stop("stopped on the phone");
    first().onclose();
    vi.advanceTimersByTime(60_000);
    expect(first().told.at(-1)).toEqual({ type: "bye", reason: "stopped on the phone" });
    expect(Socket.made.length).toBe(1);
  });

  it("tells what the bay is doing", () => {
    linked();
    first().onopen();
    first().says({ type: "welcome", bay: "Bay 2" });
    first().says({ type: "state", state: "calibrating", pose: "bow" });
    expect([state.state, state.pose]).toEqual(["calibrating", "bow"]);
    first().says({ type: "state", state: "swing", number: 4 });
    first().says({ type: "state", state: "armed" });
    first().says({ type: "notice", name: "clock", words: "The clock has jumped." });
    expect([state.state, state.pose, state.swing, state.notice]).toEqual(["armed", "", 4, "The clock has jumped."]);
  });
});
