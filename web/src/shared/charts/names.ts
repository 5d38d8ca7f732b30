import type { Checkpoint } from "@/lib/arc";
import { placed, type Label } from "@/lib/labels";
import { momentLines } from "@/lib/words";

/** Size of the checkpoints' names. */
export const NAMES = 17;
/** Whose name is left out first where they stand too close. */
const RANK = ["shaft_level_back", "arm_level_back", "address", "top", "impact"];

/** Letters that stay readable over a line. */
export const HALO = { paintOrder: "stroke", stroke: "var(--paper)", strokeWidth: 4, strokeLinejoin: "round" } as const;

/** The checkpoints' names below their marks; where two would touch, the less important one is left out. */
export function namesUnder(
  shown: readonly Checkpoint[],
  selected: string | null,
  x: (t: number) => number,
  baseline: number,
  width: number,
  height: number,
  size = NAMES,
) {
  const labels = shown.map(({ name, time }): Label => {
    const at = x(time);
    return {
      key: name,
      lines: momentLines(name),
      size,
      bold: name === selected,
      must: name === selected,
      priority: RANK.indexOf(name),
      spots: [
        { x: at, y: baseline, anchor: "middle" },
        { x: at - 10, y: baseline, anchor: "start" },
        { x: at + 10, y: baseline, anchor: "end" },
        { x: 2, y: baseline, anchor: "start" },
        { x: width - 2, y: baseline, anchor: "end" },
      ].filter((s) => Math.abs(s.x - at) < 40) as Label["spots"],
    };
  });
  return placed(labels, { left: 0, top: 0, right: width, bottom: height });
}
