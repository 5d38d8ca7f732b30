import { describe, expect, it } from "vitest";

import { between, withBands } from "./bands";

// values of scipy 1.17, PchipInterpolator([0, 1, 1.4, 2], [0, 30, 25, 10])(…): the library the server uses
const X = [0, 1, 1.4, 2];
const Y = [0, 30, 25, 10];
const AT = [0, 0.25, 0.5, 1, 1.2, 1.4, 1.7, 2];
const SCIPY = [0.0, 13.175223, 22.544643, 30.0, 28.315217, 25.0, 18.714674, 10.0];

describe("a band between its knots", () => {
  it("runs as the server's library draws it", () => {
    const got = between(X, Y, Float32Array.from(AT));
    got.forEach((v, k) => expect(v).toBeCloseTo(SCIPY[k]!, 4));
  });

  it("is a straight line between two, and nothing outside", () => {
    const got = between([1, 2], [10, 20], Float32Array.from([0.5, 1.5, 2.5]));
    expect(got[1]).toBeCloseTo(15, 5);
    expect(Number.isNaN(got[0]) && Number.isNaN(got[2])).toBe(true);
  });

  it("becomes columns beside the trace", () => {
    const traces = { n: 3, time: Float32Array.from([1, 1.5, 2]), columns: { x: Float32Array.from([1, 2, 3]) } };
    const banded = withBands(traces, {
      x: [
        [1, 0, 5],
        [2, 2, 9],
      ],
    });
    expect([...banded.columns.x_band_low!]).toEqual([0, 1, 2]);
    expect([...banded.columns.x_band_high!]).toEqual([5, 7, 9]);
    expect(traces.columns).not.toHaveProperty("x_band_low");
  });
});
