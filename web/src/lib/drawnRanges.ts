/** Ranges at their places on the arc, each with the drawing that shows it; without React. */
import { ORDER, type Checkpoint } from "./arc";
import { measureById, type Drawing } from "./measures";

/** The place of ranges that speak of the whole swing. */
export const WHOLE = "";

/** A swing of ordinary beat, s: only where the beads stand on the arc is taken from it. */
export const NOMINAL: readonly Checkpoint[] = [
  { name: "address", time: 0 },
  { name: "takeaway", time: 0.2 },
  { name: "shaft_level_back", time: 0.5 },
  { name: "arm_level_back", time: 0.66 },
  { name: "top", time: 1 },
  { name: "arm_level_down", time: 1.17 },
  { name: "shaft_level_down", time: 1.22 },
  { name: "impact", time: 1.27 },
  { name: "shaft_level_through", time: 1.36 },
  { name: "finish", time: 1.9 },
];

export interface Placed {
  place: string;
}

/** Ranges by place in the order of the swing, those of the whole swing last. */
export function byPlace<R extends Placed>(ranges: readonly R[]): Map<string, R[]> {
  const out = new Map<string, R[]>();
  for (const place of [...ORDER, WHOLE]) {
    const own = ranges.filter((r) => r.place === place);
    if (own.length) out.set(place, own);
  }
  return out;
}

/** What shows a range: the measure's own drawing where its zero is the range's too, else a bar. */
export function drawingOf(range: { metric: string; change: boolean }): Drawing | "bar" {
  const drawing = measureById(range.metric)?.drawing;
  if (!drawing || (range.change && drawing !== "cup" && drawing !== "hinge")) return "bar";
  return drawing;
}

export interface Reach {
  low: number | null;
  high: number | null;
}

/** The band to draw: an open side ends beyond all that was measured and one's own limit. */
export function closed({ low, high }: Reach, values: readonly number[], least: number): { low: number; high: number } | null {
  if (low === null && high === null) return null;
  const all = [...values, low ?? high!, high ?? low!];
  return { low: low ?? Math.min(...all) - least, high: high ?? Math.max(...all) + least };
}

/** How many of these lie within the limits. */
export const inside = ({ low, high }: Reach, values: readonly number[]): number =>
  values.filter((v) => (low === null || v >= low) && (high === null || v <= high)).length;
