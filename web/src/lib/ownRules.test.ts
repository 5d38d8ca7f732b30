import { describe, expect, it } from "vitest";

import { bandOf, bandText, firstSentence, measureChoices, NO_BAND, wayWords, type RangeChoice } from "./ownRules";

const range = (metric: string, moment_id: string, extra: Partial<RangeChoice> = {}): RangeChoice => ({
  metric,
  moment_id,
  label: metric,
  moment: moment_id,
  ways: "+ closed, − open",
  low: 0,
  high: 1,
  leans: "",
  ...extra,
});

describe("measures a finding can speak of", () => {
  it("come once each, whatever the schools, with every side that has a limit", () => {
    const found = measureChoices([
      range("turn", "top", { low: null }),
      range("turn", "top", { high: null }),
      range("tempo", "swing", { moment: "whole swing", low: null }),
      range("leaning", "impact", { low: null, high: null }),
    ]);
    expect(found.map((c) => [c.label, c.sides])).toEqual([
      ["tempo", ["above"]],
      ["turn, top", ["above", "below", "outside"]],
    ]);
    expect(firstSentence(found[1]!)).toBe("turn, top: {value}, {over} {past} than the band.");
  });
  it("name their sides in their own words", () => {
    expect(wayWords("above", "+ closed, − open")).toBe("above the band (more closed)");
    expect(wayWords("below", "+ more closed, − more open")).toBe("below the band (more open)");
    expect(wayWords("below", "")).toBe("below the band");
    expect(wayWords("outside", "+ closed, − open")).toBe("outside the band");
  });
});

describe("a trainer band as typed", () => {
  const text = { ...NO_BAND, metric: "turn", low: "30", high: "45,5", relative: true };
  it("is read, a comma too, and goes back into the form", () => {
    const { band, wrong } = bandOf(text);
    expect([band, wrong]).toEqual([{ metric: "turn", start: "takeaway", end: "top", low: 30, high: 45.5, relative: true }, ""]);
    expect(bandText(band)).toEqual({ ...text, high: "45.5" });
    expect(bandText(null)).toEqual(NO_BAND);
  });
  it("is none without a measure and refused in words where it cannot be", () => {
    expect(bandOf(NO_BAND)).toEqual({ band: null, wrong: "" });
    expect(bandOf({ ...text, low: "x" }).wrong).toContain("numbers");
    expect(bandOf({ ...text, low: "", high: "" }).wrong).toContain("one side");
    expect(bandOf({ ...text, low: "50" }).wrong).toBe("The low limit 50 is not below the high limit 45.5.");
  });
});
