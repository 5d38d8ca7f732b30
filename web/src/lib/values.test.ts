import { describe, expect, it } from "vitest";

import { differing, said, shownValue, valueWords } from "./values";
import type { MetricWords } from "./words";

const metric: MetricWords = {
  id: "m",
  label: "M",
  plain_label: "m",
  unit: "deg",
  positive: "extended",
  negative: "flexed",
  plain_positive: "cupped",
  plain_negative: "bowed",
  decimals: 0,
};
const table = {
  at: [21, null, 3],
  sd: [2.3, null, 1],
  source: "wrist sensors",
  other: { "address..top": [-4, 0.8] },
  seen: { markers: { at: [20, null, null], sd: [4, null, null] } },
};
const judged = { metric: "m", moment: "address", verdict: "in_range", words: "21° extended", plain_words: "21° cupped" };
const swing = { values: { m: table }, judged: [judged] };

describe("a value of a swing", () => {
  it("is found at a checkpoint with what a range says of it and what others saw", () => {
    const at = shownValue(swing, "m", "address")!;
    expect([at.value, at.uncertainty, at.judged?.verdict]).toEqual([21, 2.3, "in_range"]);
    expect(differing(at, metric, "plain")).toBe("wrist sensors; markers: 20° cupped ±4°");
    expect(valueWords(at, metric, "plain")).toBe("21° cupped");
  });
  it("is found at other moments, and said in words where the server said none", () => {
    const change = shownValue(swing, "m", "address..top")!;
    expect(change.value).toBe(-4);
    expect(valueWords(change, metric, "standard")).toBe("4° flexed");
    expect(differing(change, metric, "plain")).toBe("");
  });
  it("is undefined where nothing was measured", () => {
    expect(shownValue(swing, "m", "takeaway")).toBeUndefined();
    expect(shownValue(swing, "m", "finish")).toBeUndefined();
    expect(shownValue(swing, "n", "top")).toBeUndefined();
  });
  it("is said in plain words only where they differ", () => {
    expect(said({ words: "0.03 s" }, "plain")).toBe("0.03 s");
    expect(said(judged, "plain")).toBe("21° cupped");
  });
});
