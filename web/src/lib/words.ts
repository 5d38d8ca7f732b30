import { tr } from "@/lib/language";
import { term } from "@/lib/terms";
import { sized } from "@/lib/units";

/** Values in words: a direction instead of a sign. */
export interface MetricWords {
  id: string;
  label: string;
  plain_label: string;
  unit: string;
  positive: string;
  negative: string;
  plain_positive: string;
  plain_negative: string;
  decimals: number;
  /** Beyond this size words only say that it is beyond. */
  told_to?: number | null;
}

export type Vocabulary = "standard" | "plain";

export function amount(metric: MetricWords, value: number): string {
  const told = metric.told_to != null && Math.abs(value) > metric.told_to;
  const size = sized(metric.unit, told ? metric.told_to! : Math.abs(value), metric.decimals);
  return told ? tr("over {size}", { size }) : size;
}

/** An uncertainty, with one more decimal where it would round to nothing. */
export function spread(metric: MetricWords, value: number): string {
  const decimals = metric.decimals + (Math.abs(value) < 0.95 * 10 ** -metric.decimals ? 1 : 0);
  return sized(metric.unit, Math.abs(value), decimals);
}

export function direction(metric: MetricWords, value: number, words: Vocabulary): string {
  if (value >= 0) return words === "plain" ? metric.plain_positive : metric.positive;
  return words === "plain" ? metric.plain_negative : metric.negative;
}

export function inWords(metric: MetricWords, value: number, words: Vocabulary): string {
  return `${amount(metric, value)} ${direction(metric, value, words)}`.trim();
}

/** *12° more extended*, *24 % less on the lead foot* where both ways have one word; the size alone where no word says which way. */
export function changeInWords(metric: MetricWords, value: number, words: Vocabulary): string {
  const way = direction(metric, value, words);
  return way ? `${amount(metric, value)} ${wayInWords(metric, value, words)}` : amount(metric, value);
}

/** *more extended*, *less on the lead foot*. */
export function wayInWords(metric: MetricWords, value: number, words: Vocabulary): string {
  const [way, other] = [direction(metric, value, words), direction(metric, -value, words)];
  return `${way === other && value < 0 ? tr("less") : tr("more")} ${way}`.trim();
}

/** *between 10° and 18° more flexed*. */
export function intervalInWords(metric: MetricWords, ends: readonly number[], words: Vocabulary): string {
  const [low, high] = [ends[0]!, ends[1]!];
  if (low * high <= 0)
    return tr("between {changeInWords} and {changeInWords2}", {
      changeInWords: changeInWords(metric, low, words),
      changeInWords2: changeInWords(metric, high, words),
    });
  const [near, far] = Math.abs(low) < Math.abs(high) ? [low, high] : [high, low];
  return tr("between {amount} and {changeInWords}", { amount: amount(metric, near), changeInWords: changeInWords(metric, far, words) });
}

export function label(metric: MetricWords, words: Vocabulary): string {
  return words === "plain" ? metric.plain_label : metric.label;
}

/** A moment in words, as the server says it: checkpoints by their own names, a change as *from to*. */
export function moment(key: string): string {
  return key.split("..").map(term).join(tr(" to "));
}

/** The name of a checkpoint in lines short enough to stand beside others: its last word below where it has three. */
export function momentLines(key: string): string[] {
  const name = moment(key).split(" ");
  return name.length < 3 ? [name.join(" ")] : [name.slice(0, -1).join(" "), name.at(-1)!];
}

export const KINDS: Record<string, string> = {
  warm_up: tr("warm-up"),
  normal: tr("normal"),
  drill: tr("drill"),
  no_ball: tr("no ball"),
  test: tr("test"),
  discard: tr("discarded"),
};
