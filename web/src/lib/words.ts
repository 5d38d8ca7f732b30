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

const SYMBOL: Record<string, string> = { deg: "°", cm: " cm", "%": " %", s: " s", "deg/s": "°/s", ratio: "", "cm/s": " cm/s", "cm²": " cm²" };

export function amount(metric: MetricWords, value: number): string {
  const told = metric.told_to != null && Math.abs(value) > metric.told_to;
  return (told ? "over " : "") + (told ? metric.told_to! : Math.abs(value)).toFixed(metric.decimals) + (SYMBOL[metric.unit] ?? "");
}

/** An uncertainty, with one more decimal where it would round to nothing. */
export function spread(metric: MetricWords, value: number): string {
  const decimals = metric.decimals + (Math.abs(value) < 0.95 * 10 ** -metric.decimals ? 1 : 0);
  return Math.abs(value).toFixed(decimals) + (SYMBOL[metric.unit] ?? "");
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
  return `${way === other && value < 0 ? "less" : "more"} ${way}`.trim();
}

/** *between 10° and 18° more flexed*. */
export function intervalInWords(metric: MetricWords, ends: readonly number[], words: Vocabulary): string {
  const [low, high] = [ends[0]!, ends[1]!];
  if (low * high <= 0) return `between ${changeInWords(metric, low, words)} and ${changeInWords(metric, high, words)}`;
  const [near, far] = Math.abs(low) < Math.abs(high) ? [low, high] : [high, low];
  return `between ${amount(metric, near)} and ${changeInWords(metric, far, words)}`;
}

export function label(metric: MetricWords, words: Vocabulary): string {
  return words === "plain" ? metric.plain_label : metric.label;
}

/** *1 swing*, *2 swings*, *1,204 swings*. */
export function count(n: number, noun: string): string {
  return `${n.toLocaleString("en-GB")} ${noun}${n === 1 ? "" : "s"}`;
}

/** A moment in words, as the server says it: checkpoints by their own names, a change as *from to*. */
export function moment(key: string): string {
  return key
    .split("..")
    .map((part) => (part === "swing" ? "whole swing" : part === "impact+0.1s" ? "0.1 s after impact" : part.replaceAll("_", " ")))
    .join(" to ");
}

/** The name of a checkpoint in lines short enough to stand beside others: its last word below where it has three. */
export function momentLines(key: string): string[] {
  const name = moment(key).split(" ");
  return name.length < 3 ? [name.join(" ")] : [name.slice(0, -1).join(" "), name.at(-1)!];
}

export const KINDS: Record<string, string> = {
  warm_up: "warm-up",
  normal: "normal",
  drill: "drill",
  no_ball: "no ball",
  test: "test",
  discard: "discarded",
};
