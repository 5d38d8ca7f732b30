import { expect, test } from "vitest";

import { clipTime, isLaid, laidWords, playbackRate } from "./clips";

const clip = { impact_s: 2.6, swing_impact_s: 15.4, slower: 1, seconds: 4.2, rate_hz: 60 };

test("an instant of the swing is the middle of the picture that was taken then", () => {
  expect(clipTime(clip, 15.4)).toBeCloseTo(2.6 + 0.5 / 60, 6);
  expect(clipTime(clip, 14.4)).toBeCloseTo(1.6 + 0.5 / 60, 6);
  expect(clipTime(clip, 15.4 + 0.016)).toBeCloseTo(2.6 + 0.5 / 60, 6); // still the same picture
  expect(clipTime(clip, 15.4 + 0.017)).toBeCloseTo(2.6 + 1.5 / 60, 6);
});

test("a video that plays eight times slower runs eight times as far", () => {
  const slow = { ...clip, slower: 8, seconds: 30 };
  expect(clipTime(slow, 15.5)! - clipTime(slow, 15.4)!).toBeCloseTo(0.8, 2);
  expect(playbackRate(slow, 0.25)).toBe(2);
  expect(playbackRate({ ...clip, slower: 8 }, 4)).toBe(16);
});

test("what was not filmed is not shown as if it was", () => {
  expect(clipTime(clip, 12.0)).toBeNull();
  expect(clipTime(clip, 18.0)).toBeNull();
  expect(clipTime({ ...clip, impact_s: null }, 15.4)).toBeNull();
  expect(isLaid({ ...clip, swing_impact_s: null })).toBe(false);
  expect(isLaid(clip)).toBe(true);
});

test("how it is laid is said", () => {
  expect(laidWords({ ...clip, aligned_by: "sound" })).toBe("by the sound of the strike");
  expect(laidWords({ ...clip, aligned_by: "click" })).toBe("by hand, to about 8 ms");
  expect(laidWords({ ...clip, aligned_by: "" })).toBe("");
});
