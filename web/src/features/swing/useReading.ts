import { useSyncExternalStore } from "react";

import type { Cursor } from "@/lib/cursor";
import { toldOf } from "@/lib/rest";
import { valueAt } from "@/lib/traces";
import { differing, shownValue } from "@/lib/values";
import { amount, direction, inWords, spread, type MetricWords, type Vocabulary } from "@/lib/words";

import type { SwingData } from "./useSwingData";
import { tr } from "@/lib/language";

/** The measure at the cursor: value, band, words. Whoever asks renders with every move of the cursor. */
export function useReading(found: SwingData, cursor: Cursor, selected: string | null, words: Vocabulary, peek: boolean) {
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const s = found.swing!;
  const t = found.traces!;
  const metric = found.catalogue!.metrics.find((m) => m.id === found.measure) as MetricWords | undefined;
  const value = valueAt(t, found.measure, now);
  const entry = selected ? shownValue(s, found.measure, selected) : undefined;
  const rest = found.rest?.checkpoint === selected ? found.rest : null;
  const low = rest ? rest.low : (entry?.judged?.band?.low ?? valueAt(t, `${found.measure}_band_low`, now));
  const high = rest ? rest.high : (entry?.judged?.band?.high ?? valueAt(t, `${found.measure}_band_high`, now));
  const earlier = peek ? before(found, selected) : null;
  const note =
    earlier !== null && metric
      ? tr("swing {number}: {inWords}", { number: found.before!.number, inWords: inWords(metric, earlier, words) })
      : entry?.judged?.not_judged_reason
        ? tr("not judged: see Numbers")
        : "";
  const told = rest?.said && !peek ? saidOf(found, rest.said, words) : null;
  return {
    now,
    metric,
    value,
    low: low ?? null,
    high: high ?? null,
    out: value !== null && ((high != null && value > high) || (low != null && value < low)),
    amount: told ? told.amount : value === null ? "–" : metric ? amount(metric, value) : "",
    words: told
      ? told.words
      : `${value === null || !metric ? tr("not seen here") : direction(metric, value, words)}${entry && metric ? ` · ±${spread(metric, entry.uncertainty)}` : ""}`,
    note: told ? told.note : note,
    noteStrong: peek,
    differing: entry && metric ? differing(entry, metric, words) : "",
  };
}

/** The value the sentence speaks of: a change or a share, and of what. */
function saidOf({ catalogue }: SwingData, said: NonNullable<NonNullable<SwingData["rest"]>["said"]>, words: Vocabulary) {
  const metric = catalogue!.metrics.find((m) => m.id === said.metric) as MetricWords | undefined;
  if (!metric) return null;
  const told = toldOf(metric, said, words);
  return { amount: told.amount, words: `${told.way} · ±${spread(metric, said.uncertainty)}`, note: told.of };
}

/** The value of the swing before at the same checkpoint. */
function before({ before: b, ghost, ghostSwing, measure }: SwingData, selected: string | null): number | null {
  if (!b || !selected) return null;
  const kept = ghostSwing ? shownValue(ghostSwing, measure, selected)?.value : undefined;
  if (kept !== undefined) return kept;
  const at = b.checkpoints[selected];
  return ghost && at !== undefined ? valueAt(ghost.traces, measure, at) : null;
}
