import { useMemo } from "react";

import { measureById, sides } from "@/lib/measures";
import { outOfBand } from "@/lib/traces";
import { differing, shownValue } from "@/lib/values";
import { moment, type MetricWords, type Vocabulary } from "@/lib/words";
import { TraceChart } from "@/shared/charts/TraceChart";

import type { At } from "./useCheckpoint";
import type { SwingData } from "./useSwingData";
import { tr } from "@/lib/language";

interface Props {
  found: SwingData;
  at: At;
  words: Vocabulary;
  /** Small, beside the figure. */
  compact: boolean;
  over: string;
  onMove: (name: string, time: number | null) => void;
}

/** The measure over the swing, and what its lines mean. */
export function SwingTrace({ found, at, words, compact, over, onMove }: Props) {
  const t = found.traces!;
  const metric = found.catalogue!.metrics.find((m) => m.id === found.measure) as MetricWords;
  const out = useMemo(() => outOfBand(t, found.measure), [t, found.measure]);
  const carries = Boolean(found.overlay.data?.columns[found.measure]);
  return (
    <>
      <TraceChart
        traces={t}
        metric={found.measure}
        checkpoints={found.checkpoints}
        ghost={found.ghost}
        over={found.overlay.data ?? null}
        cursor={at.cursor}
        out={out}
        rest={found.rest}
        selected={at.selected}
        onSelect={at.select}
        {...sides(measureById(found.measure)!, metric, words)}
        onMove={onMove}
      />
      <p className="flex flex-none flex-wrap items-center gap-x-5 py-1 text-base leading-tight text-muted [@container(height<380px)]:hidden">
        <span>{tr("— this swing")}</span>
        {found.ghost ? <span>··· {found.ghost.label}</span> : null}
        <BandNote found={found} selected={at.selected} isOut={out.length > 0} />
        {over ? (
          <span className={carries ? "text-sea" : ""}>
            – – {found.references.find((r) => r.id === over)?.name}
            {found.overlay.isSuccess && !carries ? tr(" does not carry this measure") : ""}
          </span>
        ) : null}
        {compact ? null : <Differing found={found} selected={at.selected} metric={metric} words={words} />}
        <Moved found={found} onBack={(name) => onMove(name, null)} />
      </p>
    </>
  );
}

/** Where the band comes from. */
function BandNote({ found, selected, isOut }: { found: SwingData; selected: string | null; isOut: boolean }) {
  const band = selected ? shownValue(found.swing!, found.measure, selected)?.judged?.band : undefined;
  if (!isOut && !found.traces!.columns[`${found.measure}_band_low`]) return <span>{tr("no band for this measure here")}</span>;
  return (
    <span>
      <span className="inline-block h-3 w-6 border border-sea bg-band align-middle" /> {band ? band.by : tr("common among skilled adult players")}
    </span>
  );
}

/** Where sources differ at the checkpoint. */
function Differing({ found, selected, metric, words }: { found: SwingData; selected: string | null; metric: MetricWords; words: Vocabulary }) {
  const entry = selected ? shownValue(found.swing!, found.measure, selected) : undefined;
  const text = entry ? differing(entry, metric, words) : "";
  return text ? <span>{text}</span> : null;
}

/** The way back from a checkpoint that was moved. */
function Moved({ found, onBack }: { found: SwingData; onBack: (name: string) => void }) {
  const moved = found.swing!.events.find((e) => e.corrected);
  if (!moved) return null;
  return (
    <button type="button" className="min-h-14 underline" onClick={() => onBack(moved.name)}>
      {tr("{moment} moved by you; back to the detected one", { moment: moment(moved.name) })}
    </button>
  );
}
