import { describe, expect, it } from "vitest";

import { traceBlock } from "@/testing/blocks";

import { decodeCourses, distanceWords, loopScale, OUTCOMES, pastOf, pastWords, pathOf, rateScale, sameDistance, stepBy, STEPS } from "./putts";
import { decodeTraces } from "./traces";

/** The courses of putts as the server sends them. */
function coursesBlock(putts: Record<string, Record<string, number[]>>): ArrayBuffer {
  const blocks = Object.entries(putts).map(([id, columns]) => [id, new Uint8Array(traceBlock(columns))] as const);
  let header = JSON.stringify({ putts: blocks.map(([id, b]) => ({ id, bytes: b.length })) });
  header += " ".repeat((4 - (header.length % 4)) % 4);
  const size = blocks.reduce((n, [, b]) => n + b.length, 8 + header.length);
  const out = new Uint8Array(size);
  out.set(new TextEncoder().encode("FAP1"));
  new DataView(out.buffer).setUint32(4, header.length, true);
  out.set(new TextEncoder().encode(header), 8);
  let at = 8 + header.length;
  for (const [, b] of blocks) {
    out.set(b, at);
    at += b.length;
  }
  return out.buffer;
}

describe("courses of putts", () => {
  it("are read one by one, each with its own columns", () => {
    const found = decodeCourses(coursesBlock({ a: { time_s: [0, 1, 2], extension: [0, 1.5, 0] }, b: { time_s: [5, 6], head_along: [0, -3] } }));
    expect([...found.keys()]).toEqual(["a", "b"]);
    expect([...found.get("a")!.columns["extension"]!]).toEqual([0, 1.5, 0]);
    expect([...found.get("b")!.time]).toEqual([5, 6]);
  });

  it("of no putt are none, and anything else is refused", () => {
    expect(decodeCourses(coursesBlock({})).size).toBe(0);
    expect(() => decodeCourses(traceBlock({ time_s: [0] }))).toThrow("not the courses of putts");
  });
});

describe("distances", () => {
  it("are told in metres or feet as the server tells them", () => {
    expect([3, 4.5, 9].map((d) => distanceWords(d, "m"))).toEqual(["3 m", "4.5 m", "9 m"]);
    expect([3.048, 9.144].map((d) => distanceWords(d, "ft"))).toEqual(["10 ft", "30 ft"]);
  });

  it("are the same within five centimetres; not noted is only itself", () => {
    expect(sameDistance(3, 3.048)).toBe(true);
    expect(sameDistance(3, 3.1)).toBe(false);
    expect(sameDistance(null, null)).toBe(true);
    expect(sameDistance(null, 3)).toBe(false);
  });
});

describe("outcomes", () => {
  it("are drawn where the ball went, seen from above with the target up", () => {
    const at = Object.fromEntries(OUTCOMES.map((o) => [o.id, o.at]));
    expect(at["left"]![0]).toBeLessThan(0);
    expect(at["right"]![0]).toBeGreaterThan(0);
    expect(at["short"]![1]).toBeGreaterThan(0);
    expect(at["long"]![1]).toBeLessThan(0);
  });

  it("short is kept behind the hole, everything else past it", () => {
    expect([pastOf("short", 0.5), pastOf("long", 0.5), pastOf("left", 0.5)]).toEqual([-0.5, 0.5, 0.5]);
    expect([pastWords(-0.5, "m"), pastWords(0.3048, "ft")]).toEqual(["0.5 m short", "1 ft past"]);
  });
});

describe("scales", () => {
  const went = (ext: number, dev: number) => ({
    values: { putt_extension_range: { "takeaway..impact": ext }, putt_deviation_range: { "takeaway..impact": dev } },
  });

  it("of loops hold the largest putt of all", () => {
    expect(loopScale([went(1.2, 0.8), went(1.9, 2)])).toBe(2);
    expect(loopScale([went(1.2, 0.8), went(2.1, 0.4)])).toBe(5);
    expect(loopScale([])).toBe(2);
  });

  it("of rates are one of a few", () => {
    const course = (values: number[]) => decodeTraces(traceBlock({ time_s: values.map((_, k) => k), extension_rate: values }));
    expect(rateScale([course([0, 19]), course([-12, NaN])], "extension_rate")).toBe(20);
    expect(rateScale([course([0, -70])], "extension_rate")).toBe(100);
  });
});

it("a course breaks where it was not seen and where it is not asked for", () => {
  const same = (v: number) => v;
  expect(pathOf([0, 1, 2, 3], [5, NaN, 6, 7], same, same)).toBe("M0.0,5.0M2.0,6.0L3.0,7.0");
  expect(pathOf([0, 1, 2, 3], [5, 5, 6, 7], same, same, 1, 2)).toBe("M1.0,5.0L2.0,6.0");
});

it("steps end at both ends", () => {
  expect(STEPS.map((s) => stepBy(s, 1))).toEqual([...STEPS.slice(1), "distances"]);
  expect(stepBy("address", -1)).toBe("address");
});
