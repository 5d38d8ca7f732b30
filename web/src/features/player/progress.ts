/** Where a player's progress is drawn. */
import { scaleLinear } from "d3-scale";
import { dayWords } from "@/lib/dates";

import type { Schemas } from "@/api/client";

export const EDGES = { left: 16, right: 128, top: 20, bottom: 46 };
/** CSS pixels that a day's name takes. */
const DAY = 66;

const at = (on: string) => Date.parse(`${on}T12:00:00Z`);

export const dayOf = (on: string): string => dayWords(on);

/** Scales that hold every lesson, its test, the band's near edges and the noise about the first lesson. */
export function drawn(told: Schemas["ProgressOut"], width: number, height: number) {
  const { points, low, high, noise } = told;
  const first = points[0]!;
  const shown = [
    ...points.flatMap((p) => [p.low, p.high, ...(p.test == null ? [] : [p.test])]),
    ...[low, high].filter((v): v is number => v != null),
    ...(noise == null ? [] : [first.median - noise, first.median + noise]),
  ];
  const margin = 0.1 * (Math.max(...shown) - Math.min(...shown)) || 1;
  const [least, most] = [Math.min(...shown) - margin, Math.max(...shown) + margin];
  const x = days([first.on, points.at(-1)!.on], width);
  const y = scaleLinear([least, most], [height - EDGES.bottom, EDGES.top]);
  return { x, y, least, most };
}

/** Where a day stands between the first and the last that are drawn. */
export function days([first, last]: readonly [string, string], width: number): (on: string) => number {
  const [from, to] = [at(first), at(last)];
  const time = scaleLinear([from, Math.max(to, from + 1)], [EDGES.left + 6, width - EDGES.right]).clamp(true);
  return (on) => time(at(on));
}

/** Which of the days have room: the first, the last, and those between that stand clear of them. */
export function apart(xs: readonly number[]): Set<number> {
  const out = new Set([0, xs.length - 1]);
  for (let k = xs.length - 2; k > 0; k--) {
    const clear = [...out].every((other) => Math.abs(xs[other]! - xs[k]!) > DAY + (other === 0 ? DAY / 2 : 0));
    if (clear) out.add(k);
  }
  return out;
}
