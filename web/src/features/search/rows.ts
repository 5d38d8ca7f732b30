/** Rows of what a search found, in the order they are asked for. */
import type { Schemas } from "@/api/client";
import { direction, type MetricWords, type Vocabulary } from "@/lib/words";
import { bare } from "@/lib/units";

type Lesson = Schemas["FoundLessonOut"];
type Swing = Schemas["FoundSwingOut"];

/** By player, day, swing, or the place of a column; `down`: the largest first. */
export interface FoundSort {
  by: string;
  down: boolean;
}

export interface FoundRow {
  lesson: Lesson;
  swing: Swing;
}

/** Sorted; swings without a value come last either way, equal ones by day, the newest first, and their number. */
export function sortedSwings(data: Schemas["FoundOut"], { by, down }: FoundSort): FoundRow[] {
  const rows = data.lessons.flatMap((lesson) => lesson.swings.map((swing): FoundRow => ({ lesson, swing })));
  const value = ({ lesson, swing }: FoundRow): string | number | null =>
    by === "player" ? lesson.player : by === "day" ? lesson.on : by === "swing" ? swing.number : (swing.values[Number(by)] ?? null);
  const usual = (a: FoundRow, b: FoundRow) => b.lesson.on.localeCompare(a.lesson.on) || a.swing.number - b.swing.number;
  const sign = down ? -1 : 1;
  return rows.sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    if (x === null || y === null) return x === y ? usual(a, b) : x === null ? 1 : -1;
    const order = typeof x === "number" && typeof y === "number" ? x - y : String(x).localeCompare(String(y));
    return sign * order || usual(a, b);
  });
}

/** A value with its sign in a table's cell, where its head names the measure. */
export function cellOf(metric: MetricWords | undefined, value: number | null | undefined, words: Vocabulary): string {
  if (value == null || !metric) return "";
  const told = bare(metric.unit, Math.abs(value), metric.decimals);
  return `${told}${metric.unit === "deg" ? "°" : ""} ${direction(metric, value, words)}`.trim();
}

/** A finding, or a part of the question, in the words that are set. */
export function named(x: { label: string; plain_label: string }, words: Vocabulary): string {
  return words === "plain" ? x.plain_label : x.label;
}

/** The label of a finding that swings have. */
export function findingOf(data: Pick<Schemas["FoundOut"], "labels">, id: string, words: Vocabulary): string {
  const name = data.labels[id];
  return name ? named(name, words) : id;
}
