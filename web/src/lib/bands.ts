/** The reference band between the instants at which its ranges stand: the monotone cubic of Fritsch and Butland (1984), as the
 * server draws it where it needs to know what leaves the band. */
import type { Traces } from "./traces";

/** Instant (s), lower and upper limit. */
export type Knot = readonly [number, number, number];

const sign = Math.sign;

function endSlope(h0: number, h1: number, m0: number, m1: number): number {
  const d = ((2 * h0 + h1) * m0 - h0 * m1) / (h0 + h1);
  if (sign(d) !== sign(m0)) return 0;
  return sign(m0) !== sign(m1) && Math.abs(d) > 3 * Math.abs(m0) ? 3 * m0 : d;
}

function slopes(x: number[], y: number[]): number[] {
  const h = x.slice(1).map((v, k) => v - x[k]!);
  const m = h.map((v, k) => (y[k + 1]! - y[k]!) / v);
  if (h.length === 1) return [m[0]!, m[0]!];
  const inner = m.slice(1).map((after, k) => {
    const before = m[k]!;
    if (before * after <= 0) return 0;
    const w1 = 2 * h[k + 1]! + h[k]!;
    const w2 = h[k + 1]! + 2 * h[k]!;
    return (w1 + w2) / (w1 / before + w2 / after);
  });
  const n = h.length;
  return [endSlope(h[0]!, h[1]!, m[0]!, m[1]!), ...inner, endSlope(h[n - 1]!, h[n - 2]!, m[n - 1]!, m[n - 2]!)];
}

/** One edge of the band along `time`; NaN outside the knots. */
export function between(x: number[], y: number[], time: Float32Array): Float32Array {
  const d = slopes(x, y);
  const out = new Float32Array(time.length).fill(NaN);
  let k = 0;
  for (let i = 0; i < time.length; i++) {
    const t = time[i]!;
    if (t < x[0]! || t > x[x.length - 1]!) continue;
    while (k < x.length - 2 && t > x[k + 1]!) k++;
    const h = x[k + 1]! - x[k]!;
    const s = (t - x[k]!) / h;
    const a = (1 + 2 * s) * (1 - s) ** 2;
    const b = s * s * (3 - 2 * s);
    out[i] = a * y[k]! + b * y[k + 1]! + h * (s * (1 - s) ** 2 * d[k]! - s * s * (1 - s) * d[k + 1]!);
  }
  return out;
}

/** Traces with their bands as columns `<metric>_band_low` and `_high`. */
export function withBands(traces: Traces, bands: Record<string, readonly (readonly number[])[]>): Traces {
  const columns = { ...traces.columns };
  for (const [metric, knots] of Object.entries(bands)) {
    const x = knots.map((k) => k[0]!);
    columns[`${metric}_band_low`] = between(
      x,
      knots.map((k) => k[1]!),
      traces.time,
    );
    columns[`${metric}_band_high`] = between(
      x,
      knots.map((k) => k[2]!),
      traces.time,
    );
  }
  return { ...traces, columns };
}
