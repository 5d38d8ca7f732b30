/** The person a drill is drawn with: a pose seen by one eye, as outlines in the plane, mm; without React. */
import { polygonHull } from "d3-polygon";

export type Eye = "front" | "line" | "above";
export type Place = [number, number, number];
export type Pose = Record<string, Place>;
/** In the plane, right and up, mm. */
export type Flat = [number, number];

interface Ball {
  at: Place;
  r: number;
}

/** A piece of the person: balls, each stretched to the next one. */
interface Piece {
  name: string;
  chains: Ball[][];
  /** How near the eye it is, against the other pieces. */
  near: number;
}

export interface Outline {
  name: string;
  paths: Flat[][];
}

const ROUND = 18;

/** What an eye sees: in front the target is to the right; along the target line the ball is; from above the ball is up. */
export const seen: Record<Eye, (p: Place) => Flat> = {
  front: ([, y, z]) => [y, z],
  line: ([x, , z]) => [x, z],
  above: ([x, y]) => [-y, x],
};
const nearness: Record<Eye, (p: Place) => number> = {
  front: ([x]) => x,
  line: ([, y]) => -y,
  above: ([, , z]) => z,
};

export const middle = (a: Place, b: Place, share = 0.5): Place => [0, 1, 2].map((k) => a[k]! + share * (b[k]! - a[k]!)) as Place;
export const moved = (p: Place, by: Place, far = 1): Place => [p[0] + far * by[0], p[1] + far * by[1], p[2] + far * by[2]];

/** Joints that are not points of the figure themselves. */
export function jointOf(pose: Pose, name: string): Place {
  return name === "hands" ? middle(pose.lead_fingers!, pose.trail_fingers!) : pose[name]!;
}

/** From the head's middle straight ahead, one millimetre. */
export function ahead(pose: Pose): Place {
  const [a, b] = [pose.head!, pose.face!];
  const d: Place = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const length = Math.hypot(...d) || 1;
  return d.map((v) => v / length) as Place;
}

function pieces(pose: Pose, eye: Eye): Piece[] {
  const p = (name: string) => pose[name]!;
  const b = (name: string, r: number): Ball => ({ at: p(name), r });
  const near = (...names: string[]) => names.reduce((sum, n) => sum + nearness[eye](p(n)), 0) / names.length;
  const limbs = (side: string): Piece[] => [
    { name: "shoe", chains: [[b(`${side}_heel`, 44), b(`${side}_toe`, 38)]], near: near(`${side}_heel`) - 400 },
    {
      name: "arm",
      chains: [
        [b(`${side}_shoulder`, 58), b(`${side}_elbow`, 46)],
        [b(`${side}_elbow`, 44), b(`${side}_wrist`, 32)],
        [b(`${side}_wrist`, 36), b(`${side}_fingers`, 42)],
      ],
      near: near(`${side}_shoulder`, `${side}_elbow`),
    },
  ];
  const leg = (side: string) => [
    [b(`${side}_hip`, 92), b(`${side}_knee`, 62)],
    [b(`${side}_knee`, 62), b(`${side}_ankle`, 50)],
  ];
  return [
    ...limbs("lead"),
    ...limbs("trail"),
    { name: "trousers", chains: [...leg("lead"), ...leg("trail"), [b("lead_hip", 98), b("trail_hip", 98), b("pelvis", 104)]], near: near("pelvis") - 300 },
    {
      name: "shirt",
      chains: [[b("pelvis_up", 112), b("lead_shoulder", 60), b("trail_shoulder", 60), b("chest", 96), { at: middle(p("pelvis"), p("pelvis_up")), r: 108 }]],
      near: near("pelvis_up", "chest"),
    },
    {
      name: "head",
      chains: [
        [b("neck", 52), b("head", 60)],
        [b("head", 98), { at: middle(p("head"), p("crown")), r: 92 }],
      ],
      near: near("head") + (eye === "above" ? 0 : 30),
    },
  ].sort((x, y) => x.near - y.near);
}

const round = (centre: Flat, r: number): Flat[] =>
  Array.from({ length: ROUND }, (_, k) => {
    const turn = (2 * Math.PI * k) / ROUND;
    return [centre[0] + r * Math.cos(turn), centre[1] + r * Math.sin(turn)];
  });

/** The outline around balls, as an eye sees it. */
export const around = (balls: readonly Ball[], eye: Eye): Flat[] => polygonHull(balls.flatMap(({ at, r }) => round(seen[eye](at), r)))!;

/** The pieces of the person, the farthest first, each with the outlines that make it up. */
export const person = (pose: Pose, eye: Eye): Outline[] =>
  pieces(pose, eye).map(({ name, chains }) => ({ name, paths: chains.map((balls) => around(balls, eye)) }));

/** The cap: over the upper part of the head, with a peak to the front; the face stays free. */
export function cap(pose: Pose, eye: Eye): Flat[][] {
  const front = ahead(pose);
  const [fx, fy, fz] = front;
  const up = moved(pose.crown!, pose.head!, -1);
  const side: Place = [fy * up[2] - fz * up[1], fz * up[0] - fx * up[2], fx * up[1] - fy * up[0]];
  const wide = Math.hypot(...side) || 1;
  const rim = middle(pose.head!, pose.crown!, 0.42);
  const edge = [moved(rim, side, 72 / wide), moved(rim, side, -72 / wide), moved(rim, front, 66), moved(rim, front, -72)];
  return [
    around([{ at: middle(pose.head!, pose.crown!, 0.9), r: 62 }, ...edge.map((at) => ({ at, r: 26 }))], eye),
    around(
      [
        { at: moved(rim, front, 70), r: 34 },
        { at: moved(rim, front, 150), r: 14 },
      ],
      eye,
    ),
  ];
}

export function bounds(points: readonly Flat[], margin: number): { left: number; bottom: number; width: number; height: number } {
  const [xs, ys] = [points.map((q) => q[0]), points.map((q) => q[1])];
  const left = Math.min(...xs) - margin;
  const bottom = Math.min(...ys) - margin;
  return { left, bottom, width: Math.max(...xs) + margin - left, height: Math.max(...ys) + margin - bottom };
}
