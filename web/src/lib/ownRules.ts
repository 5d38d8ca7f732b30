import { tr } from "@/lib/language";

/** An academy's own findings and drills as they are filled in on a screen; without React. */
export type Way = "above" | "below" | "outside";

export interface ShownAt {
  metric: string;
  moment: string;
  way: Way;
}

export interface RangeChoice {
  metric: string;
  moment_id: string;
  label: string;
  moment: string;
  ways: string;
  low: number | null;
  high: number | null;
  leans: string;
}

export interface MeasureChoice {
  key: string;
  metric: string;
  moment: string;
  label: string;
  /** What plus and minus stand for. */
  ways: string;
  sides: Way[];
}

export const keyOf = (at: { metric: string; moment: string }): string => `${at.metric}@${at.moment}`;

/** Every measure at a moment that has a range, once, with the sides it can be beyond. */
export function measureChoices(ranges: readonly RangeChoice[]): MeasureChoice[] {
  const out = new Map<string, MeasureChoice>();
  for (const r of ranges) {
    const at = { metric: r.metric, moment: r.moment_id };
    const known = out.get(keyOf(at));
    const label = r.moment_id === "swing" ? r.label : tr("{label}, {moment}", { label: r.label, moment: r.moment });
    const choice = known ?? { ...at, key: keyOf(at), label, ways: r.ways, sides: [] };
    const has = (side: Way) => choice.sides.includes(side);
    if (r.high !== null && !has("above")) choice.sides.push("above");
    if (r.low !== null && !has("below")) choice.sides.push("below");
    out.set(choice.key, choice);
  }
  return [...out.values()]
    .map((c) => ({ ...c, sides: c.sides.length === 2 ? (["above", "below", "outside"] as Way[]) : c.sides }))
    .filter((c) => c.sides.length > 0)
    .sort((a, b) => a.label.localeCompare(b.label));
}

/** "above the band (more closed)": the side with the measure's own word for it. */
export function wayWords(way: Way, ways: string): string {
  const [plus, minus] = [/\+ ([^,]+)/.exec(ways)?.[1], /− (.+)$/.exec(ways)?.[1]];
  if (way === "outside") return tr("outside the band");
  const word = (way === "above" ? plus : minus)?.replace(/^more /, "");
  return (way === "above" ? tr("above the band") : tr("below the band")) + (word ? tr(" (more {word})", { word }) : "");
}

/** The instructor's sentence to begin with. */
export const firstSentence = (choice: MeasureChoice): string =>
  tr("{label}: {value}, {over} {past} than the band.", { label: choice.label, value: "{value}", over: "{over}", past: "{past}" });

/** What a sentence may be filled with. */
export const BLANKS: readonly { blank: string; says: string }[] = [
  { blank: "{value}", says: tr("the value in words") },
  { blank: "{amount}", says: tr("its size alone") },
  { blank: "{over}", says: tr("how far beyond the band") },
  { blank: "{past}", says: tr("the way it is beyond") },
  { blank: "{more}", says: tr("toward more of the measure") },
  { blank: "{less}", says: tr("toward less of it") },
];

export interface BandText {
  metric: string;
  start: string;
  end: string;
  low: string;
  high: string;
  relative: boolean;
}

export const NO_BAND: BandText = { metric: "", start: "takeaway", end: "top", low: "", high: "", relative: false };

const number = (text: string): number | null | undefined => {
  const clean = text.trim().replace(",", ".").replace("−", "-");
  if (clean === "") return null;
  return Number.isFinite(Number(clean)) ? Number(clean) : undefined;
};

export interface Band {
  metric: string;
  start: string;
  end: string;
  low?: number | null;
  high?: number | null;
  /** Its limits are told from the value at address. */
  relative?: boolean;
}

/** The trainer band as typed: none without a measure, or what is wrong with it in words. */
export function bandOf(text: BandText): { band: Band | null; wrong: string } {
  if (!text.metric) return { band: null, wrong: "" };
  const [low, high] = [number(text.low), number(text.high)];
  if (low === undefined || high === undefined) return { band: null, wrong: tr("Give numbers, or leave a side empty.") };
  if (low === null && high === null) return { band: null, wrong: tr("A trainer band needs a limit on one side at least.") };
  if (low !== null && high !== null && low >= high) return { band: null, wrong: tr("The low limit {low} is not below the high limit {high}.", { low, high }) };
  return { band: { metric: text.metric, start: text.start, end: text.end, low, high, relative: text.relative }, wrong: "" };
}

const shown = (value: number | null | undefined): string => (value === null || value === undefined ? "" : String(value));

export const bandText = (band: Band | null): BandText =>
  band ? { metric: band.metric, start: band.start, end: band.end, low: shown(band.low), high: shown(band.high), relative: band.relative ?? false } : NO_BAND;
