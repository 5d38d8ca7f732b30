import { afterEach, beforeEach, expect, test, vi } from "vitest";

import { Rolling, type Recorder } from "./rolling";

const made: Fake[] = [];

class Fake implements Recorder {
  state = "inactive";
  ondataavailable: Recorder["ondataavailable"] = null;
  onstop: Recorder["onstop"] = null;
  constructor() {
    made.push(this);
  }
  start() {
    this.state = "recording";
  }
  stop() {
    this.state = "inactive";
    this.ondataavailable?.({ data: new Blob(["x"]) });
    this.onstop?.();
  }
}

beforeEach(() => {
  made.length = 0;
  vi.useFakeTimers();
});
afterEach(() => vi.useRealTimers());

const rolling = () =>
  new Rolling(
    () => new Fake(),
    () => Date.now(),
  );

test("what is taken began at least six seconds ago, once it has run so long, and never more than twelve", async () => {
  const camera = rolling();
  camera.start();
  for (const [waited, least] of [
    [3000, 3],
    [9000, 6],
    [20_000, 6],
    [6001, 6],
    [5999, 5],
  ] as const) {
    vi.advanceTimersByTime(waited);
    const kept = await camera.take();
    expect(kept!.seconds).toBeGreaterThanOrEqual(least);
    expect(kept!.seconds).toBeLessThanOrEqual(12.1);
  }
  camera.stop();
});

test("nothing older goes on, and nothing is left running", () => {
  const camera = rolling();
  camera.start();
  vi.advanceTimersByTime(60_000);
  expect(made.filter((r) => r.state === "recording")).toHaveLength(2);
  camera.stop();
  expect(made.filter((r) => r.state === "recording")).toHaveLength(0);
});

test("two swings one after the other each get a video", async () => {
  const camera = rolling();
  camera.start();
  vi.advanceTimersByTime(15_000);
  const first = await camera.take();
  vi.advanceTimersByTime(1000);
  const second = await camera.take();
  expect([first, second].every((kept) => kept!.video.size > 0)).toBe(true);
  expect(second!.seconds).toBeGreaterThan(0.9);
  camera.stop();
  expect(await camera.take()).toBeNull();
});
