import { beforeEach, expect, test, vi } from "vitest";

import { makeCursor } from "@/lib/cursor";

import { follow, goTo } from "./following";

const clip = { impact_s: 2.0, swing_impact_s: 10.0, slower: 1, seconds: 4.0, rate_hz: 50 };

class Video extends EventTarget {
  currentTime = 0;
  playbackRate = 1;
  paused = true;
  seeking = false;
  play = vi.fn(() => {
    this.paused = false;
    return Promise.resolve();
  });
  pause = vi.fn(() => {
    this.paused = true;
  });
}

let video: Video;
const outside = vi.fn();
const followed = (speed: number | null, at = 10.0) => {
  const cursor = makeCursor(at);
  return { cursor, leave: follow(video as unknown as HTMLVideoElement, clip, cursor, speed, outside) };
};

beforeEach(() => {
  video = new Video();
  outside.mockClear();
});

test("it stands where the arc stands, and catches up when the browser was still looking for the last place", () => {
  const { cursor } = followed(null);
  expect(video.currentTime).toBeCloseTo(2.01);
  video.seeking = true;
  cursor.set(10.5);
  cursor.set(11.0);
  expect(video.currentTime).toBeCloseTo(2.01);
  video.seeking = false;
  video.dispatchEvent(new Event("seeked"));
  expect(video.currentTime).toBeCloseTo(3.01);
});

test("while time runs it plays at that speed and is set right only when it is far off", () => {
  const { cursor } = followed(0.25);
  expect([video.playbackRate, video.paused]).toEqual([0.25, false]);
  video.currentTime = 2.04;
  cursor.set(10.02);
  expect(video.currentTime).toBe(2.04);
  video.currentTime = 2.4;
  cursor.set(10.04);
  expect(video.currentTime).toBeCloseTo(2.05);
});

test("what was not filmed is said", () => {
  const { cursor } = followed(null);
  expect(outside).toHaveBeenLastCalledWith(false);
  cursor.set(3.0);
  expect(outside).toHaveBeenLastCalledWith(true);
});

test("after letting go it stays", () => {
  const { cursor, leave } = followed(null);
  leave();
  cursor.set(11.0);
  video.dispatchEvent(new Event("seeked"));
  expect(video.currentTime).toBeCloseTo(2.01);
});

test("one that is not loaded yet goes to its place when it is", () => {
  const leave = goTo(video as unknown as HTMLVideoElement, 1.5);
  video.currentTime = 0;
  video.dispatchEvent(new Event("loadeddata"));
  expect(video.currentTime).toBe(1.5);
  leave();
});
