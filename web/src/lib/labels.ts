/** Where names stand beside what they name: none over another or over what must be seen, the more important ones first. */
export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export type Anchor = "start" | "middle" | "end";

/** Where the first line's letters stand. */
export interface Spot {
  x: number;
  y: number;
  anchor: Anchor;
}

export interface Label {
  key: string;
  lines: string[];
  size: number;
  bold?: boolean;
  /** The best place first. */
  spots: Spot[];
  /** Of two that want one place the higher gets it. */
  priority: number;
  /** Stands somewhere in any case. */
  must?: boolean;
}

/** Share of the letters' size: how wide one is on average, how far lines stand apart, and how far letters reach up and down. */
const WIDE = 0.5;
const WIDE_BOLD = 0.54;
const LINE = 1.05;
const UP = 0.76;
const DOWN = 0.24;

export function boxOf({ lines, size, bold }: Pick<Label, "lines" | "size" | "bold">, { x, y, anchor }: Spot): Box {
  const width = Math.max(...lines.map((l) => l.length)) * size * (bold ? WIDE_BOLD : WIDE);
  const left = anchor === "start" ? x : anchor === "end" ? x - width : x - width / 2;
  return { left, top: y - UP * size, right: left + width, bottom: y + DOWN * size + (lines.length - 1) * LINE * size };
}

export const overlap = (a: Box, b: Box): boolean => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;
const within = (a: Box, b: Box): boolean => a.left >= b.left && a.top >= b.top && a.right <= b.right && a.bottom <= b.bottom;
const grown = (a: Box, by: number): Box => ({ left: a.left - by, top: a.top - by, right: a.right + by, bottom: a.bottom + by });

/** The places of the labels that have one; the others are left out. `taken`: what no letter may stand on. `gap`: between two. */
export function placed(labels: readonly Label[], bounds: Box, taken: readonly Box[] = [], gap = 4): Map<string, Spot> {
  const out = new Map<string, Spot>();
  const full = [...taken];
  for (const label of [...labels].sort((a, b) => Number(b.must ?? false) - Number(a.must ?? false) || b.priority - a.priority)) {
    const fits = (s: Spot) => {
      const box = boxOf(label, s);
      return within(box, bounds) && !full.some((f) => overlap(grown(box, gap), f));
    };
    const spot = label.spots.find(fits) ?? (label.must ? (label.spots.find((s) => within(boxOf(label, s), bounds)) ?? label.spots[0]) : undefined);
    if (!spot) continue;
    out.set(label.key, spot);
    full.push(boxOf(label, spot));
  }
  return out;
}

/** Boxes along a line, so that no name stands on it. */
export function along(points: readonly [number, number][], half = 3, every = 8): Box[] {
  const out: Box[] = [];
  let last: [number, number] | undefined;
  for (const [x, y] of points) {
    if (last && Math.hypot(x - last[0], y - last[1]) < every) continue;
    out.push({
      left: Math.min(x, last?.[0] ?? x) - half,
      right: x + half,
      top: Math.min(y, last?.[1] ?? y) - half,
      bottom: Math.max(y, last?.[1] ?? y) + half,
    });
    last = [x, y];
  }
  return out;
}
