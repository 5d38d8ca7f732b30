/** One moment of the figure as the drawing reads it: a course of one sample, written over as the next comes. */
import type { FigureNow } from "./feed";
import type { Traces } from "./traces";

export const PARTS = [
  "pelvis",
  "upper_body",
  "head",
  ...["upper_arm", "forearm", "hand", "thigh", "shank", "foot"].flatMap((part) => [`lead_${part}`, `trail_${part}`]),
  "club",
];

export function standing(): { traces: Traces; put: (points: FigureNow["points"]) => void } {
  const columns: Record<string, Float32Array> = {};
  const traces = { n: 1, time: new Float32Array([0]), columns } as unknown as Traces;
  const put = (points: FigureNow["points"]) => {
    for (const column of Object.values(columns)) column[0] = NaN; // what is not told any more is not there
    for (const [name, place] of Object.entries(points))
      (["x", "y", "z"] as const).forEach((axis, k) => {
        const column = (columns[`${name}_${axis}`] ??= new Float32Array(1));
        column[0] = place[k]!;
      });
  };
  return { traces, put };
}
