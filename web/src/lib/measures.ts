/** The measures of the Swing view, by group, and how each is drawn. Words for up and down come from the catalogue. */
import * as generated from "./generated/measures";

import type { MetricWords, Vocabulary } from "./words";

export type Drawing = "cup" | "hinge" | "roll" | "shaft" | "turn" | "tilt" | "distance" | "joint" | "feet";

export interface Measure {
  id: string;
  name: string;
  drawing: Drawing;
  zero: { plain: string; standard: string } | null;
  /** Words beside the trace where more and less of the value have words of their own. */
  beside: readonly [string, string] | null;
}

export interface Group {
  id: string;
  name: string;
  measures: readonly Measure[];
  add: string;
}

export const GROUPS: readonly Group[] = generated.GROUPS;
/** The groups of a swing: the putter's are of putts alone, and of a putt only those that were seen, as nobody turns into a putt. */
export const groupsWith = (club: string, seen: (group: Group) => boolean): readonly Group[] =>
  GROUPS.filter((g) => (club === "putter" ? g.id === "putting" || seen(g) : g.id !== "putting"));
/** The group after another, and the first after the last. */
export function nextGroup(group: Group, groups: readonly Group[]): Group {
  return groups[(groups.indexOf(group) + 1) % groups.length]!;
}
/** Rates shown one above the other in the order they should peak. */
export const SEQUENCE = generated.SEQUENCE;
export const MEASURES: readonly Measure[] = GROUPS.flatMap((g) => g.measures);

export const measureById = (id: string): Measure | undefined => MEASURES.find((m) => m.id === id);

/** Of the feet, without a trace of their own. */
const OF_FEET = ["lead_share", "lead_heel_toe", "trail_heel_toe", "stance_position"];

/** What shows a value of a metric as it happens; undefined where nothing is drawn of it. */
export const drawingFor = (metric: string): Drawing | undefined => measureById(metric)?.drawing ?? (OF_FEET.includes(metric) ? "feet" : undefined);
export const groupOf = (measure: string): Group => GROUPS.find((g) => g.id === measure || g.measures.some((m) => m.id === measure)) ?? GROUPS[0]!;

/** The measure, or the group, in which a metric is looked at. */
export function measureOf(metric: string): string {
  return (generated.SHOWN_AS as Record<string, string>)[metric] ?? GROUPS[0]!.measures[0]!.id;
}

/** The checkpoint to open for a finding's moment. */
export function checkpointOf(event: string): string {
  const last = event.split("..").at(-1) ?? event;
  return last === "swing" || last.startsWith("impact") ? (last === "swing" ? "arm_level_down" : "impact") : last;
}

/** Words beside a trace: above, below and at zero. */
export function sides(measure: Measure, metric: MetricWords, words: Vocabulary): { up: string; down: string; zero: string } {
  return {
    up: measure.beside?.[0] ?? (words === "plain" ? metric.plain_positive : metric.positive),
    down: measure.beside?.[1] ?? (words === "plain" ? metric.plain_negative : metric.negative),
    zero: measure.zero?.[words] ?? "",
  };
}
