/** The arc: time runs along it, address at the bottom, up and around to the top, back down inside to impact,
 * and through to the finish. Angles in degrees, 0 at the bottom, growing along the backswing. */
export interface Checkpoint {
  name: string;
  time: number;
}

/** A putt has a transition where a swing has a top: its arc is a short one, and ends as far on the other side. */
const PUTT_FINISH = -72;
const CANONICAL: Record<string, number> = {
  address: 0,
  takeaway: 14,
  shaft_level_back: 90,
  arm_level_back: 126,
  top: 225,
  transition: 72,
  arm_level_down: 126,
  shaft_level_down: 90,
  impact: 0,
  shaft_level_through: -90,
  finish: -118,
};

export const ORDER = Object.keys(CANONICAL);

export interface ArcMap {
  /** Angle and lane (0 outer going back, 1 inner coming down and through) of an instant. */
  place: (t: number) => { angle: number; lane: 0 | 1 };
  /** Instant nearest to an angle in a lane. */
  time: (angle: number, lane: 0 | 1) => number;
  start: number;
  end: number;
  top: number;
  impact: number;
  /** Instants between which the angle is a straight line of time. */
  knots: number[];
}

/** The checkpoint that only putts have: on the arc of a swing it has no bead. */
export const OF_PUTTS = "transition";
const isPutt = (checkpoints: Checkpoint[]) => checkpoints.some((b) => b.name === OF_PUTTS);

function knots(checkpoints: Checkpoint[]): { time: number; angle: number }[] {
  const putt = isPutt(checkpoints);
  return checkpoints
    .filter((b) => b.name in CANONICAL)
    .sort((a, b) => a.time - b.time)
    .map((b) => ({ time: b.time, angle: putt && b.name === "finish" ? PUTT_FINISH : CANONICAL[b.name]! }));
}

function along(points: { x: number; y: number }[], x: number): number {
  if (points.length === 0) return 0;
  if (x <= points[0]!.x) return points[0]!.y;
  for (let k = 1; k < points.length; k++) {
    const a = points[k - 1]!;
    const b = points[k]!;
    if (x <= b.x) return a.y + ((b.y - a.y) * (x - a.x)) / Math.max(b.x - a.x, 1e-9);
  }
  return points[points.length - 1]!.y;
}

export function arcMap(checkpoints: Checkpoint[], start: number, end: number): ArcMap {
  const known = knots(checkpoints);
  const topCheckpoint = checkpoints.find((b) => b.name === "top" || b.name === OF_PUTTS);
  const impactCheckpoint = checkpoints.find((b) => b.name === "impact");
  const top = topCheckpoint?.time ?? (start + end) / 2;
  const impact = impactCheckpoint?.time ?? end;
  if (!topCheckpoint) known.push({ time: top, angle: CANONICAL.top! });
  if (!impactCheckpoint) known.push({ time: impact, angle: 0 });
  known.sort((a, b) => a.time - b.time);
  const first = known[0]?.time ?? start;
  const last = known[known.length - 1]?.time ?? end;
  const byTime = known.map((k) => ({ x: k.time, y: k.angle }));
  const back = known.filter((k) => k.time <= top).map((k) => ({ x: k.angle, y: k.time }));
  const down = known
    .filter((k) => k.time >= top)
    .map((k) => ({ x: -k.angle, y: k.time }))
    .sort((a, b) => a.x - b.x);
  return {
    place: (t) => ({ angle: along(byTime, t), lane: t <= top ? 0 : 1 }),
    time: (angle, lane) => (lane === 0 ? along(back, angle) : along(down, -angle)),
    start: first,
    end: last,
    top,
    impact,
    knots: known.map((k) => k.time),
  };
}

/** Point on the arc. `mirror` draws a left-hander, whose club goes back to the viewer's other side. */
export function point(cx: number, cy: number, radius: number, angle: number, mirror: boolean): [number, number] {
  const a = (angle * Math.PI) / 180;
  const side = mirror ? 1 : -1;
  return [cx + side * radius * Math.sin(a), cy + radius * Math.cos(a)];
}

/** SVG path through the arc from one instant to another, within one lane. */
export function arcPath(map: ArcMap, from: number, to: number, centre: [number, number], radii: [number, number], mirror: boolean): string {
  const stops = [from, ...map.knots.filter((t) => t > from && t < to), to];
  const points: string[] = [];
  for (let s = 1; s < stops.length; s++) {
    const a = stops[s - 1]!;
    const b = stops[s]!;
    const steps = Math.max(1, Math.ceil(Math.abs(map.place(b).angle - map.place(a).angle) / 2.5));
    for (let k = s === 1 ? 0 : 1; k <= steps; k++) {
      const t = a + ((b - a) * k) / steps;
      const { angle, lane } = map.place(t);
      const [x, y] = point(centre[0], centre[1], laneRadius(map, t, radii, lane), angle, mirror);
      points.push(`${x.toFixed(1)},${y.toFixed(1)}`);
    }
  }
  return `M${points.join("L")}`;
}

/** Near the top the outer lane runs over into the inner one. */
export function laneRadius(map: ArcMap, t: number, radii: [number, number], lane: 0 | 1): number {
  if (lane === 0) return radii[0];
  const since = map.place(map.top).angle - map.place(t).angle;
  const share = Math.min(1, Math.max(0, since / 26));
  return radii[0] + (radii[1] - radii[0]) * share * share * (3 - 2 * share);
}
