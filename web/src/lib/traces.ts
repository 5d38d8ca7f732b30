import { tr } from "@/lib/language";

/** The binary block of traces: "FAT1", header length, JSON header, float32 columns. */
export interface Traces {
  n: number;
  time: Float32Array;
  columns: Record<string, Float32Array>;
}

export function decodeTraces(buffer: ArrayBuffer): Traces {
  const view = new DataView(buffer);
  const magic = String.fromCharCode(...new Uint8Array(buffer, 0, 4));
  if (magic !== "FAT1") throw new Error(tr("not a block of traces"));
  const size = view.getUint32(4, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 8, size))) as {
    n: number;
    columns: string[];
  };
  const columns: Record<string, Float32Array> = {};
  header.columns.forEach((name, k) => {
    columns[name] = new Float32Array(buffer, 8 + size + 4 * header.n * k, header.n);
  });
  return { n: header.n, time: columns["time_s"] ?? new Float32Array(header.n), columns };
}

/** Index of the last sample at or before `t`. */
export function indexAt(time: Float32Array, t: number): number {
  let low = 0;
  let high = time.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (time[middle]! <= t) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Value at `t`, linear between samples; null where there is none. */
export function valueAt(traces: Traces, name: string, t: number): number | null {
  const column = traces.columns[name];
  if (!column || traces.n === 0) return null;
  const k = indexAt(traces.time, t);
  const a = column[k]!;
  const next = Math.min(k + 1, traces.n - 1);
  const b = column[next]!;
  const span = traces.time[next]! - traces.time[k]!;
  const share = span > 0 ? Math.min(1, Math.max(0, (t - traces.time[k]!) / span)) : 0;
  const value = a + (b - a) * share;
  return Number.isFinite(value) ? value : null;
}

/** Stretches [start, end] in s where the trace leaves its band. */
export function outOfBand(traces: Traces, name: string): [number, number][] {
  const values = traces.columns[name];
  const low = traces.columns[`${name}_band_low`];
  const high = traces.columns[`${name}_band_high`];
  if (!values || !low || !high) return [];
  const spans: [number, number][] = [];
  let start = -1;
  for (let k = 0; k <= traces.n; k++) {
    const out = k < traces.n && (values[k]! > high[k]! || values[k]! < low[k]!);
    if (out && start < 0) start = k;
    if (!out && start >= 0) {
      if (k - start > 1) spans.push([traces.time[start]!, traces.time[k - 1]!]);
      start = -1;
    }
  }
  return spans;
}
