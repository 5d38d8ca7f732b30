import { describe, expect, it } from "vitest";

import { traceBlock } from "@/testing/blocks";

import { decodeTraces, indexAt, outOfBand, valueAt } from "./traces";

const traces = decodeTraces(
  traceBlock({
    time_s: [0, 0.1, 0.2, 0.3, 0.4, 0.5],
    x: [1, 2, 6, 7, 2, NaN],
    x_band_low: [NaN, 0, 0, 0, 0, 0],
    x_band_high: [NaN, 5, 5, 5, 5, 5],
  }),
);

describe("traces", () => {
  it("are read from one binary block", () => {
    expect(traces.n).toBe(6);
    expect(Array.from(traces.columns.x!.slice(0, 3))).toEqual([1, 2, 6]);
    expect(() => decodeTraces(new TextEncoder().encode("NOPE....").buffer as ArrayBuffer)).toThrow();
  });

  it("are linear between samples and absent where there is no value", () => {
    expect(valueAt(traces, "x", 0.15)).toBeCloseTo(4, 5);
    expect(valueAt(traces, "x", 0.5)).toBeNull();
    expect(valueAt(traces, "nothing", 0.1)).toBeNull();
    expect(indexAt(traces.time, 0.29)).toBe(2);
    expect(indexAt(traces.time, 9)).toBe(5);
  });

  it("say where they leave the band", () => {
    const spans = outOfBand(traces, "x");
    expect(spans).toHaveLength(1);
    expect(spans[0]![0]).toBeCloseTo(0.2);
    expect(spans[0]![1]).toBeCloseTo(0.3);
  });
});
