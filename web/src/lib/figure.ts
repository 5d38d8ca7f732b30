/** The figure of a swing: joints over time, which parts they hang, which of them are measured. */
import { indexAt, type Traces } from "./traces";
import { tr } from "@/lib/language";
import { term } from "@/lib/terms";

export type Point = [number, number, number];

/** A limb between two points, m: radii at its ends. */
export interface Limb {
  part: string;
  from: string;
  to: string;
  r0: number;
  r1: number;
}

const both = (part: string, from: string, to: string, r0: number, r1: number): Limb[] =>
  ["lead", "trail"].map((side) => ({ part: `${side}_${part}`, from: `${side}_${from}`, to: `${side}_${to}`, r0, r1 }));

export const LIMBS: Limb[] = [
  ...both("upper_arm", "shoulder", "elbow", 0.052, 0.042),
  ...both("forearm", "elbow", "wrist", 0.043, 0.03),
  ...both("hand", "wrist", "fingers", 0.036, 0.032),
  ...both("thigh", "hip", "knee", 0.083, 0.057),
  ...both("shank", "knee", "ankle", 0.056, 0.038),
  ...both("foot", "heel", "toe", 0.038, 0.034),
];

/** "head, legs, trail arm" instead of eleven parts. */
export function namedTogether(parts: string[]): string {
  const left = new Set(parts);
  const out: string[] = [];
  const take = (name: string, members: string[]) => {
    if (members.every((m) => left.has(m))) {
      members.forEach((m) => left.delete(m));
      out.push(name);
    }
  };
  const limb = (side: string, kind: "leg" | "arm") =>
    kind === "leg" ? [`${side}_thigh`, `${side}_shank`, `${side}_foot`] : [`${side}_upper_arm`, `${side}_forearm`, `${side}_hand`];
  for (const name of ["pelvis", "upper_body", "head"]) take(term(name), [name]);
  take(tr("arms"), [...limb("lead", "arm"), ...limb("trail", "arm")]);
  take(tr("legs"), [...limb("lead", "leg"), ...limb("trail", "leg")]);
  for (const side of ["lead", "trail"]) {
    take(side === "lead" ? tr("lead arm") : tr("trail arm"), limb(side, "arm"));
    take(side === "lead" ? tr("lead leg") : tr("trail leg"), limb(side, "leg"));
  }
  take(term("club"), ["club"]);
  return [...out, ...[...left].map(term)].join(", ");
}

/** A joint at a time, linear between samples; null inside a gap. `mirror`: as a left-hander lives it. */
export function pointAt(block: Traces, name: string, t: number, mirror: boolean): Point | null {
  const x = block.columns[`${name}_x`];
  const y = block.columns[`${name}_y`];
  const z = block.columns[`${name}_z`];
  if (!x || !y || !z || block.n === 0) return null;
  const k = indexAt(block.time, t);
  const next = Math.min(k + 1, block.n - 1);
  const span = block.time[next]! - block.time[k]!;
  const s = span > 0 ? Math.min(1, Math.max(0, (t - block.time[k]!) / span)) : 0;
  const at = (c: Float32Array) => (s === 0 ? c[k]! : c[k]! + (c[next]! - c[k]!) * s); // a gap may begin right after
  const p: Point = [at(x), mirror ? -at(y) : at(y), at(z)];
  return p.every(Number.isFinite) ? p : null;
}

export type Eye = "front" | "target" | "above" | "behind";

/** Where each fixed eye stands, for a right-hander (y toward the target); from above the ball is up. */
export const EYES: Record<Eye, { name: string; from: Point }> = {
  front: { name: tr("In front"), from: [1, 0, 0] },
  target: { name: tr("Target line"), from: [0, -1, 0] },
  above: { name: tr("Above"), from: [-0.0001, 0, 1] },
  behind: { name: tr("Behind"), from: [-1, 0, 0] },
};

export type Overlay = "address" | "turn" | "spine" | "pelvis" | "hip" | "club";

export interface FigureInfo {
  measured: string[];
  faint: string[];
  placed: boolean;
  note: string;
}

/** Overlays and why one cannot be drawn: nothing may rest on parts that were not measured. */
export const OVERLAYS: { id: Overlay; name: string; missing: (f: FigureInfo) => string }[] = [
  { id: "address", name: tr("Address"), missing: () => "" },
  {
    id: "turn",
    name: tr("Turn"),
    missing: (f) => (f.measured.includes("pelvis") || f.measured.includes("upper_body") ? "" : tr("needs body sensors or markers")),
  },
  {
    id: "spine",
    name: tr("Spine"),
    missing: (f) => (f.measured.includes("pelvis") && f.measured.includes("upper_body") && f.placed ? "" : tr("needs markers on pelvis and upper body")),
  },
  { id: "pelvis", name: tr("Pelvis path"), missing: (f) => (f.measured.includes("pelvis") && f.placed ? "" : tr("needs markers on the pelvis")) },
  {
    id: "hip",
    name: tr("Lead hip"),
    missing: (f) => (["pelvis", "lead_foot"].every((p) => f.measured.includes(p)) && f.placed ? "" : tr("needs markers on pelvis and lead foot")),
  },
  { id: "club", name: tr("Club path"), missing: (f) => (f.measured.includes("club") ? "" : tr("needs markers on the club")) },
];
