import type { Schemas } from "@/api/client";
import { along, boxOf, placed, type Anchor, type Label, type Spot } from "@/lib/labels";
import { indexAt, type Traces } from "@/lib/traces";

import { TOP } from "./groundPicture";
import { tr } from "@/lib/language";

/** Half of what is drawn around impact, s. */
export const AT_IMPACT_S = 0.022;
export const MOMENT_WORDS: Record<string, string> = { return: tr("starts back"), even: tr("even") };
export const HERE = tr("starts back here");
const SIZE = 16;
const POINTS = 120;
/** Narrower than this (a phone) even the chosen school's name gives way: it stands in the lesson's head, px. */
const ROOMY = 420;
/** A picture lower than this has no room for every name, px. */
const LOW = 90;

interface Asked {
  ground: Pick<Schemas["GroundOut"], "bands" | "moments">;
  traces: Traces;
  /** Where on the clock the return is asked for, s. */
  wanted: { low: number; high: number } | null;
  impact: number | undefined;
  x: (t: number) => number;
  y: (v: number) => number;
  start: number;
  end: number;
  width: number;
  bottom: number;
  /** Words at the left edge for more and less: they stay where they are. */
  sides: readonly [string, string];
}

/** Where the words at the left edge stand: letters' baseline, the lower ones that far above the bottom. */
export const SIDES = { x: 3, above: 14, below: 4 };

const spots = (places: [number, number, Anchor][]): Spot[] => places.map(([x, y, anchor]) => ({ x, y, anchor }));

/** Names on the pressure's course between the feet: beside what they name, never on the line nor on each other. */
export function groundLabels({ ground, traces, wanted, impact, x, y, start, end, width, bottom, sides }: Asked): Map<string, Spot> {
  const level = (t: number) => traces.columns["stance_position"]?.[indexAt(traces.time, t)];
  const line: [number, number][] = [];
  for (let k = 0; k <= POINTS; k++) {
    const t = start + ((end - start) * k) / POINTS;
    const v = level(t);
    if (v !== undefined && Number.isFinite(v)) line.push([x(t), y(v)]);
  }
  const labels: Label[] = [];
  if (impact !== undefined)
    for (const b of ground.bands) {
      const [left, right, top, low] = [x(impact - AT_IMPACT_S) - 6, x(impact + AT_IMPACT_S) + 6, y(b.high) + 14, y(b.low) - 4];
      const middle = (y(b.high) + y(b.low)) / 2 + 5;
      labels.push({
        key: tr("school {school}", { school: b.school }),
        lines: [b.label.toLowerCase()],
        size: SIZE,
        bold: b.chosen,
        priority: b.chosen ? 3 : 2,
        must: b.chosen && width >= ROOMY,
        spots: spots([
          [right, middle, "start"],
          [left, middle, "end"],
          [right, low, "start"],
          [right, top, "start"],
          [left, low, "end"],
          [left, top, "end"],
        ]),
      });
    }
  for (const m of ground.moments) {
    const v = level(m.time_s);
    if (!MOMENT_WORDS[m.name] || v === undefined || !Number.isFinite(v)) continue;
    const [right, left, above, under] = [x(m.time_s) + 10, x(m.time_s) - 10, y(v) - 8, y(v) + 21];
    labels.push({
      key: m.name,
      lines: [MOMENT_WORDS[m.name]!],
      size: SIZE,
      priority: 4,
      must: bottom - TOP > LOW,
      spots: spots(
        m.name === "return"
          ? [
              [right, under, "start"],
              [left, under, "end"],
              [left, above, "end"],
              [right, above, "start"],
              [right + 12, under - 14, "start"],
              [right + 24, under - 30, "start"],
              [x(m.time_s), above - 18, "middle"],
            ]
          : [
              [left, above, "end"],
              [right, under, "start"],
              [right + 8, under + 4, "start"],
              [right, above, "start"],
              [left, under, "end"],
              [left - 8, above - 6, "end"],
            ],
      ),
    });
  }
  if (wanted)
    labels.push({
      key: HERE,
      lines: [HERE],
      size: SIZE,
      priority: 1,
      spots: spots([
        [x(wanted.low) - 6, bottom - 8, "end"],
        [x(wanted.high) + 8, bottom - 8, "start"],
        [x(wanted.low), bottom - 12, "start"],
      ]),
    });
  const bands =
    impact === undefined ? [] : ground.bands.map((b) => ({ left: x(impact - AT_IMPACT_S), right: x(impact + AT_IMPACT_S), top: y(b.high), bottom: y(b.low) }));
  const atEdge = (text: string, baseline: number) => boxOf({ lines: [text], size: SIZE }, { x: SIDES.x, y: baseline, anchor: "start" });
  const taken = [...along(line, 4), ...bands, atEdge(sides[0], SIDES.above), atEdge(sides[1], bottom - SIDES.below)];
  return placed(labels, { left: 2, top: TOP - 8, right: width - 2, bottom }, taken);
}
