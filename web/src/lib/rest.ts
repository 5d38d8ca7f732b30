/** What a finding rests on, as it is drawn: a change from one instant to another, a share that is left, or a limit to one side. */
import { checkpointOf, measureOf } from "./measures";
import { indexAt, valueAt, type Traces } from "./traces";
import { shownValue } from "./values";
import { amount, direction, label, moment as placeOf, type MetricWords, type Vocabulary } from "./words";
import { tr } from "@/lib/language";

interface Band {
  low: number | null;
  high: number | null;
}

interface Swing {
  headline: { finding: string | null };
  findings: readonly { finding: string; metric: string; moment: string }[];
  events: readonly { name: string; time_s: number }[];
  values: Parameters<typeof shownValue>[0]["values"];
  judged: readonly { metric: string; moment: string; verdict: string; band?: Band | null }[];
}

/** Levels are of the column, in its own unit. `from`: what it is told from; null where a value stands for itself. */
export interface Rest {
  column: string;
  checkpoint: string;
  from: { time: number; value: number } | null;
  to: { time: number; value: number };
  low: number | null;
  high: number | null;
  out: boolean;
  /** The finding's own value, where that is not the column's. */
  said: { metric: string; moment: string; value: number; uncertainty: number } | null;
}

const HELD = "hinge_held";
const HINGE = ["lag", "lead_wrist_radial_deviation"];

/** What the swing's headline rests on; null where the trace with its band already says it. */
export function restOf(swing: Swing, traces: Traces): Rest | null {
  const finding = swing.findings.find((f) => f.finding === swing.headline.finding);
  if (!finding) return null;
  const { metric, moment } = finding;
  const judged = swing.judged.find((j) => j.metric === metric && j.moment === moment);
  if (!judged?.band) return null;
  const found = shownValue(swing as never, metric, moment);
  if (!found) return null;
  const time = (name: string) => swing.events.find((e) => e.name === name)?.time_s;
  const said = { metric, moment, value: found.value, uncertainty: found.uncertainty };
  const out = /low|high/.test(judged.verdict);
  const { low, high } = judged.band;
  if (metric === HELD) return held(traces, time, { low, high, out, said });
  const column = measureOf(metric);
  const [start, end] = moment.split("..");
  const checkpoint = checkpointOf(moment);
  const to = time(checkpoint);
  const value = to === undefined ? null : valueAt(traces, column, to);
  if (to === undefined || value === null) return null;
  if (end === undefined) {
    if (column !== metric || (low !== null && high !== null)) return null; // its band is drawn along the trace
    return { column, checkpoint, from: null, to: { time: to, value }, low, high, out, said: null };
  }
  const begun = time(start!);
  const base = begun === undefined ? null : valueAt(traces, column, begun);
  if (column !== metric || begun === undefined || base === null) return null;
  const level = (limit: number | null) => (limit === null ? null : base + limit);
  return { column, checkpoint, from: { time: begun, value: base }, to: { time: to, value }, low: level(low), high: level(high), out, said };
}

/** How much of what was gained since address is left: told from where most was gained. */
function held(traces: Traces, time: (name: string) => number | undefined, told: Pick<Rest, "low" | "high" | "out" | "said">): Rest | null {
  const column = HINGE.find((c) => traces.columns[c]);
  const [address, to] = [time("address"), time("arm_level_down")];
  if (!column || address === undefined || to === undefined) return null;
  const [first, value] = [valueAt(traces, column, address), valueAt(traces, column, to)];
  if (first === null || value === null) return null;
  let from = { time: address, value: first };
  for (let k = indexAt(traces.time, address); k <= indexAt(traces.time, to); k++) {
    const v = traces.columns[column]![k]!;
    if (Number.isFinite(v) && v > from.value) from = { time: traces.time[k]!, value: v };
  }
  const level = (share: number | null) => (share === null ? null : first + (share / 100) * (from.value - first));
  return { ...told, column, checkpoint: "arm_level_down", from, to: { time: to, value }, low: level(told.low), high: level(told.high) ?? from.value };
}

export interface Told {
  amount: string;
  /** Which way it points. */
  way: string;
  /** Of what, or since when. */
  of: string;
}

/** The value a sentence speaks of, in words: a change with where it begins, a share with what it is of. */
export function toldOf(metric: MetricWords, said: { moment: string; value: number }, words: Vocabulary): Told {
  const [start, end] = said.moment.split("..");
  const way = direction(metric, said.value, words);
  return {
    amount: amount(metric, said.value),
    way: end === undefined ? way : tr("more {way}", { way }),
    of: end === undefined ? label(metric, words).toLowerCase() : tr("since {placeOf}", { placeOf: placeOf(start!) }),
  };
}
