/** Putts without React: their courses, distances, outcomes and the scales of their graphs. */
import { decodeTraces, type Traces } from "./traces";
import { number, tr } from "@/lib/language";
import { FOOT_M } from "@/lib/units";

export type Unit = "m" | "ft";
/** Distances closer than this are the same. */
const SAME_M = 0.051;

/** *3 m*, *4.5 m*, *10 ft*, as the server says it. */
export function distanceWords(metres: number, unit: Unit): string {
  return unit === "ft" ? number(Number((metres / FOOT_M).toPrecision(3))) + tr(" ft") : `${number(Number(metres.toPrecision(3)))} m`;
}

export const sameDistance = (a: number | null, b: number | null): boolean => (a === null || b === null ? a === b : Math.abs(a - b) < SAME_M);

/** Courses of a lesson's putts by their ids: "FAP1", header length, JSON header, one block of traces a putt. */
export function decodeCourses(buffer: ArrayBuffer): Map<string, Traces> {
  const magic = String.fromCharCode(...new Uint8Array(buffer, 0, 4));
  if (magic !== "FAP1") throw new Error(tr("not the courses of putts"));
  const size = new DataView(buffer).getUint32(4, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 8, size))) as { putts: { id: string; bytes: number }[] };
  const out = new Map<string, Traces>();
  let at = 8 + size;
  for (const { id, bytes } of header.putts) {
    out.set(id, decodeTraces(buffer.slice(at, at + bytes)));
    at += bytes;
  }
  return out;
}

/** Where a ball went, in the order of their keys 1 to 5; `at`: of the hole, in its radii, seen from above with the target up. */
export const OUTCOMES = [
  { id: "holed", name: tr("Holed"), at: [0, 0] },
  { id: "left", name: tr("Left"), at: [-2.2, 0] },
  { id: "right", name: tr("Right"), at: [2.2, 0] },
  { id: "short", name: tr("Short"), at: [0, 2.2] },
  { id: "long", name: tr("Long"), at: [0, -2.2] },
] as const;
export type Outcome = (typeof OUTCOMES)[number]["id"];

/** How far past, or short, to choose from, in m. */
export const PAST_M: Record<Unit, readonly number[]> = { m: [0.2, 0.5, 1, 2], ft: [1, 2, 3, 6].map((f) => f * FOOT_M) };

/** Which way a miss beyond the hole is kept: short is behind it. */
export const pastOf = (outcome: string, size: number): number => (outcome === "short" ? -size : size);

/** *0.5 m past*, *2 ft short*. */
export function pastWords(metres: number, unit: Unit): string {
  return `${distanceWords(Math.abs(metres), unit)} ${metres < 0 ? tr("short") : tr("past")}`;
}

/** The path of a course over x, broken where it is not a number. */
export function pathOf(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  toX: (v: number) => number,
  toY: (v: number) => number,
  from = -Infinity,
  to = Infinity,
): string {
  let path = "";
  let pen = false;
  for (let k = 0; k < x.length; k++) {
    const [a, b] = [x[k]!, y[k]!];
    if (!Number.isFinite(a) || !Number.isFinite(b) || a < from || a > to) {
      pen = false;
      continue;
    }
    path += `${pen ? "L" : "M"}${toX(a).toFixed(1)},${toY(b).toFixed(1)}`;
    pen = true;
  }
  return path;
}

/** A scale for rates, deg/s, that holds the largest of them: one of a few, so that it does not jump from putt to putt. */
export function rateScale(courses: readonly Traces[], column: string): number {
  let most = 0;
  for (const c of courses) for (const v of c.columns[column] ?? []) if (Number.isFinite(v)) most = Math.max(most, Math.abs(v));
  return [20, 50, 100, 200, 400].find((s) => most <= s) ?? 800;
}

/** How far a loop reaches to either side, deg: the least that holds every putt, the same for all of them. */
export function loopScale(putts: readonly { values: Record<string, Record<string, number>> }[]): number {
  const went = putts.flatMap((p) => ["putt_extension_range", "putt_deviation_range"].map((m) => p.values[m]?.["takeaway..impact"] ?? 0));
  return [2, 5, 10, 20].find((s) => went.every((v) => v <= s)) ?? 40;
}

export const STEPS = ["address", "extension", "deviation", "together", "rotation", "putter", "distances"] as const;
export type StepId = (typeof STEPS)[number];
/** What the steps are called, in standard and in plain words. */
export const STEP_NAMES: Record<StepId, { standard: string; plain: string }> = {
  address: { standard: tr("Face, grip, hands"), plain: tr("Face, grip, hands") },
  extension: { standard: tr("Extension alone"), plain: tr("Cup and bow alone") },
  deviation: { standard: tr("Radial deviation alone"), plain: tr("Hinge alone") },
  together: { standard: tr("Both together"), plain: tr("Both together") },
  rotation: { standard: tr("Rotation"), plain: tr("Rotation") },
  putter: { standard: tr("Putter and pendulum"), plain: tr("Putter and pendulum") },
  distances: { standard: tr("Across distances"), plain: tr("Across distances") },
};

/** The step before or after, and where it ends the same. */
export function stepBy(step: StepId, by: number): StepId {
  return STEPS[Math.min(STEPS.length - 1, Math.max(0, STEPS.indexOf(step) + by))]!;
}
