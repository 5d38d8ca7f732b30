/** Values of a swing as the server sends them: all numbers in tables, what a range says of some in words. */
import { OF_PUTTS, ORDER } from "./arc";
import { term } from "./terms";
import { amount, inWords, spread, type MetricWords, type Vocabulary } from "./words";

interface Said {
  words: string;
  plain_words?: string | null;
}

/** In the chosen words; plain words are sent only where they differ. */
export const said = (value: Said, words: Vocabulary): string => (words === "plain" ? (value.plain_words ?? value.words) : value.words);

interface Seen {
  at: (number | null)[];
  sd: (number | null)[];
}

interface Table extends Seen {
  source: string;
  other?: Record<string, number[]>;
  seen?: Record<string, Seen>;
}

interface Judged extends Said {
  metric: string;
  moment: string;
  verdict: string;
  band?: { range_id: string; low: number | null; high: number | null; by: string } | null;
  not_judged_reason?: string | null;
}

interface Swing<J extends Judged> {
  values: Record<string, Table>;
  judged: J[];
}

export interface ShownValue<J extends Judged = Judged> {
  value: number;
  uncertainty: number;
  source: string;
  others: { source: string; value: number; uncertainty: number }[];
  judged: J | undefined;
}

/** Where values at checkpoints stand in a table: a putt's transition last. */
const PLACES = [...ORDER.filter((c) => c !== OF_PUTTS), OF_PUTTS];

/** A value at a moment with all that is known of it; undefined where there is none. */
export function shownValue<J extends Judged>(swing: Swing<J>, metric: string, moment: string): ShownValue<J> | undefined {
  const table = swing.values[metric];
  if (!table) return undefined;
  const place = PLACES.indexOf(moment);
  const [value, uncertainty] = place < 0 ? (table.other?.[moment] ?? []) : [table.at[place], table.sd[place]];
  if (value == null || uncertainty == null) return undefined;
  const others =
    place < 0
      ? []
      : Object.entries(table.seen ?? {}).flatMap(([source, s]) => (s.at[place] == null ? [] : [{ source, value: s.at[place]!, uncertainty: s.sd[place]! }]));
  return { value, uncertainty, source: table.source, others, judged: swing.judged.find((j) => j.metric === metric && j.moment === moment) };
}

/** How other sources saw it, in one line; empty where there is one only. */
export function differing(value: ShownValue, metric: MetricWords, words: Vocabulary): string {
  if (!value.others.length) return "";
  return `${term(value.source)}; ${value.others.map((o) => `${term(o.source)}: ${inWords(metric, o.value, words)} ±${spread(metric, o.uncertainty)}`).join("; ")}`;
}

/** Any value in words, also one that nothing was said of. */
export const valueWords = (value: ShownValue, metric: MetricWords | undefined, words: Vocabulary): string =>
  value.judged ? said(value.judged, words) : metric ? inWords(metric, value.value, words) : amount({ unit: "", decimals: 1 } as MetricWords, value.value);

/** Whether a swing has any value of a metric. */
export const measures = (swing: { values: Record<string, unknown> }, metric: string): boolean => metric in swing.values;
