import { useMemo } from "react";

import { measureById } from "@/lib/measures";
import { outOfBand } from "@/lib/traces";
import { label, moment, type Vocabulary } from "@/lib/words";
import { ArcNavigator } from "@/shared/arc/ArcNavigator";
import { MeasureGauge } from "@/shared/figure/BodyGauge";

import type { At } from "./useCheckpoint";
import { useReading } from "./useReading";
import type { SwingData } from "./useSwingData";
import { tr } from "@/lib/language";

interface Props {
  found: SwingData;
  at: At;
  mirror: boolean;
  words: Vocabulary;
  peek: boolean;
  /** Small, beside the figure. */
  compact: boolean;
}

/** The arc with the measure drawn and said inside it, at the instant being looked at. */
export function SwingArc({ found, at, mirror, words, peek, compact }: Props) {
  const t = found.traces!;
  const out = useMemo(() => outOfBand(t, found.measure), [t, found.measure]);
  const verdicts = useMemo(
    () => ({
      ...Object.fromEntries(found.swing!.judged.filter((m) => m.metric === found.measure).map((m) => [m.moment, m.verdict])),
      ...(found.rest?.out ? { [found.rest.checkpoint]: "low" } : {}),
    }),
    [found.swing, found.measure, found.rest],
  );
  const view = t.columns[found.measure] ? measureById(found.measure) : undefined;
  return (
    <ArcNavigator
      checkpoints={found.checkpoints}
      start={t.time[0]!}
      end={t.time[t.n - 1]!}
      cursor={at.cursor}
      out={view ? out : []}
      mirror={mirror}
      selected={at.selected}
      verdicts={verdicts}
      onSelect={at.select}
      compact={compact}
    >
      {(unit) =>
        view ? (
          <Inside found={found} at={at} mirror={mirror} words={words} peek={peek} compact={compact} unit={unit} />
        ) : compact ? null : (
          <text x={260} y={276} fontSize={Math.max(30, LETTERS * unit)} textAnchor="middle" fill="var(--muted)" pointerEvents="none">
            {found.group.name.toLowerCase()}
          </text>
        )
      }
    </ArcNavigator>
  );
}

/** CSS pixels that letters have at least. */
const LETTERS = 16.5;
/** Units of the drawing to a CSS pixel beyond which how sure a value is stands in Numbers only. */
const CROWDED = 2.4;

/** What moves with the cursor inside the arc. */
function Inside({ found, at, mirror, words, peek, compact, unit }: Props & { unit: number }) {
  const letters = Math.max(24, LETTERS * unit);
  const r = useReading(found, at.cursor, at.selected, words, peek);
  return (
    <>
      <g transform={compact ? "translate(260,262) scale(1.2)" : "translate(262,176) scale(0.98)"} pointerEvents="none">
        <MeasureGauge
          metric={found.measure}
          drawing={measureById(found.measure)!.drawing}
          value={r.value}
          low={r.low}
          high={r.high}
          out={r.out}
          mirror={mirror}
        />
      </g>
      {compact ? null : (
        <g pointerEvents="none" textAnchor="middle" fill="var(--ink)">
          <text x={268} y={360} fontSize={r.amount.length > 5 ? 92 : 124} fontWeight={700} className="figure">
            {r.amount}
          </text>
          <text x={260} y={360 + 0.7 * letters + 20} fontSize={letters}>
            {unit > CROWDED ? r.words.replace(/ · ±.*/, "") : r.words}
          </text>
          {r.note ? (
            <text x={260} y={360 + 2 * letters + 20} fontSize={Math.max(r.noteStrong ? 22 : 20, LETTERS * unit)} fontWeight={r.noteStrong ? 700 : 400}>
              {r.note}
            </text>
          ) : null}
        </g>
      )}
    </>
  );
}

/** The measure in words beside the figure. */
export function BesideFigure({ found, at, words, peek, headline }: { found: SwingData; at: At; words: Vocabulary; peek: boolean; headline: string }) {
  const r = useReading(found, at.cursor, at.selected, words, peek);
  const place = at.selected ? tr(" at {what}", { what: at.selected === "top" ? tr("the top") : moment(at.selected) }) : "";
  return (
    <div className="self-center max-[700px]:flex max-[700px]:flex-wrap max-[700px]:items-baseline max-[700px]:gap-x-3">
      <p className="text-lg text-muted max-[700px]:w-full">
        {r.metric ? label(r.metric, words) : found.group.name}
        {place}
      </p>
      <p className="figure text-[96px] leading-none font-bold max-[700px]:text-[44px]">{r.amount}</p>
      <p className="text-[26px] leading-tight max-[700px]:text-xl">{r.words}</p>
      {r.note ? <p className="text-lg max-[700px]:hidden">{r.note}</p> : null}
      {r.differing ? <p className="text-base leading-tight max-[700px]:hidden">{r.differing}</p> : null}
      <p className="mt-2 text-lg leading-tight text-muted max-[700px]:hidden">{headline}</p>
    </div>
  );
}
