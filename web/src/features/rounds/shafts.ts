import type { Schemas } from "@/api/client";
import { tr } from "@/lib/language";

export type Motion = Schemas["MotionOut"];
export type Compared = Schemas["ComparedResult"];

export const QUESTIONS = [
  { id: "under_pressure", label: tr("Under pressure"), first: tr("not under pressure"), second: tr("under pressure") },
  { id: "late_holes", label: tr("Late holes"), first: tr("early holes"), second: tr("late holes") },
  { id: "after_bad_result", label: tr("After a bad result"), first: "otherwise", second: tr("after a bad result") },
  { id: "course_against_range", label: tr("Course and range"), first: "range", second: "course" },
] as const;
export type Question = (typeof QUESTIONS)[number]["id"];
export const ALL = "all";

/** Shots of a club that are drawn, by the side of the question they are on; without a side where that is not known. */
export function shotsOf(motions: readonly Motion[], club: string, question: Question): { first: Motion[]; second: Motion[]; other: Motion[] } {
  const shots = motions.filter((m) => m.kind === "shot" && m.club === club && m.length_deg != null);
  if (question === "course_against_range")
    return { first: [], second: shots.filter((m) => m.stroke === "full"), other: shots.filter((m) => m.stroke !== "full") };
  return {
    first: shots.filter((m) => m.sides[question] === false),
    second: shots.filter((m) => m.sides[question] === true),
    other: shots.filter((m) => m.sides[question] === undefined),
  };
}

/** Where a shaft at an elevation ends, seen from in front: hands at the centre, the head toward the target, which a right-hander
 * has on the right of the picture; mirrored for a left-hander. Short of level points up. */
export function shaftEnd(elevationDeg: number, radius: number, mirror: boolean): [number, number] {
  const angle = (elevationDeg * Math.PI) / 180;
  const across = Math.cos(angle) * radius;
  return [mirror ? -across : across, -Math.sin(angle) * radius];
}

/** The arc between two elevations, as a path. */
export function rim(lowDeg: number, highDeg: number, radius: number, mirror: boolean): string {
  const [x0, y0] = shaftEnd(lowDeg, radius, mirror);
  const [x1, y1] = shaftEnd(highDeg, radius, mirror);
  return `M${x0.toFixed(1)} ${y0.toFixed(1)}A${radius} ${radius} 0 0 ${mirror ? 1 : 0} ${x1.toFixed(1)} ${y1.toFixed(1)}`;
}

/** A sector between two elevations, as a path. */
export function sector(lowDeg: number, highDeg: number, radius: number, mirror: boolean): string {
  return `${rim(lowDeg, highDeg, radius, mirror)}L0 0Z`;
}

export const median = (values: readonly number[]): number | null => {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
};

/** "12° short of level", "4° past level". */
export const lengthSaid = (deg: number): string => [lengthDegrees(deg), lengthWay(deg)].filter(Boolean).join(" ");

export const lengthDegrees = (deg: number): string => (Math.round(Math.abs(deg)) === 0 ? "" : `${Math.round(Math.abs(deg))}°`);
export const lengthWay = (deg: number): string => (Math.round(Math.abs(deg)) === 0 ? tr("level") : deg > 0 ? tr("short of level") : tr("past level"));

/** The clubs of a round's shots, those with the most first. */
export function clubsOf(motions: readonly Motion[]): string[] {
  const count = new Map<string, number>();
  for (const m of motions) if (m.kind === "shot") count.set(m.club, (count.get(m.club) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1]).map(([club]) => club);
}

/** What is asked first: the first question whose answer for all clubs together is a difference; else under pressure. */
export function firstQuestion(compared: readonly Compared[]): Question {
  const told = QUESTIONS.find((q) => compared.some((c) => c.what === q.id && c.club === ALL && c.verdict === "changed"));
  return told?.id ?? QUESTIONS.find((q) => compared.some((c) => c.what === q.id))?.id ?? "under_pressure";
}
