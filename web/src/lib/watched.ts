import { tr } from "@/lib/language";

/** What is looked at as it happens: one question after the other at the address, then any measure. */
export interface Question {
  id: "grip" | "aim" | "posture" | "balance";
  name: string;
  asks: string;
  /** The measures that answer it, best first. */
  measures: readonly string[];
}

export const QUESTIONS: readonly Question[] = [
  { id: "grip", name: tr("Grip"), asks: tr("How does the hand sit at address?"), measures: ["lead_wrist_extension"] },
  { id: "aim", name: tr("Aim"), asks: tr("Where do the shoulders point?"), measures: ["thorax_turn", "shoulder_line_turn", "pelvis_turn"] },
  {
    id: "posture",
    name: tr("Posture"),
    asks: tr("How far is the upper body bent?"),
    measures: ["thorax_forward_bend", "posture_from_ground", "pelvis_forward_bend"],
  },
  { id: "balance", name: tr("Balance"), asks: tr("How much stands on each foot?"), measures: ["lead_share"] },
];

export interface BandAt {
  metric: string;
  at: string;
  low: number | null;
  high: number | null;
  relative: boolean;
}

/** The band that holds where the movement is now: at rest that of the address, at the top and at impact theirs. */
export function bandNow(bands: readonly BandAt[], metric: string, along: number): BandAt | null {
  const at = along > 0.9 && along < 1.1 ? "top" : along > 1.9 && along < 2.1 ? "impact" : along < 0.02 || along >= 2.9 ? "address" : "";
  return bands.find((b) => b.metric === metric && b.at === at && !b.relative) ?? null;
}

/** How far beyond the band a value lies, negative below; 0 inside. */
export function beyond(value: number, band: BandAt | null): number {
  if (!band) return 0;
  if (band.low !== null && value < band.low) return value - band.low;
  if (band.high !== null && value > band.high) return value - band.high;
  return 0;
}
