import type { Now, Repetition } from "@/lib/feed";
import { drawingFor } from "@/lib/measures";
import { amount, direction, type MetricWords, type Vocabulary } from "@/lib/words";
import { MeasureGauge } from "@/shared/figure/BodyGauge";

import { LiveArc } from "./LiveArc";
import { tr } from "@/lib/language";

export const PHASES: Record<string, string> = {
  way_back: tr("the whole way back"),
  to_shaft_level: tr("to shaft level"),
  at_top: tr("at the top"),
  transition: tr("in the transition"),
  impact: tr("at impact"),
  always: tr("all the time"),
};
const EVERY: Record<number, string> = {
  0: tr("no feedback now"),
  1: tr("feedback every time"),
  2: tr("feedback every second time"),
  4: tr("feedback every fourth time"),
};

/** How often there is feedback, in words. */
export const saysEvery = (every: number, test: boolean): string => (test ? "test: no feedback" : (EVERY[every] ?? ""));

/** One word for how the newest value stands; empty where nothing is told. */
export function wordOf(now: Now, metric: MetricWords, words: Vocabulary): string {
  const d = now.decision;
  if (!now.trainer) return "";
  if (!now.trainer.speaks) return now.trainer.test ? tr("Test") : tr("Your turn");
  if (!d || d.inside === null) return now.still ? tr("Ready") : "";
  if (d.inside) return tr("Inside");
  const way = direction(metric, d.error, words);
  return way ? tr("Too {way}", { way }) : d.error > 0 ? tr("Too much") : tr("Too little");
}

interface Props {
  now: Now;
  metric: MetricWords;
  words: Vocabulary;
  mirror: boolean;
  /** Repetitions whose outcome is not shown yet: what was felt is asked first. */
  hidden?: number | null;
  children?: React.ReactNode;
}

/** The band, the player's own movement in it, and how the repetitions went: shape and words, for the eye alone. */
export function TrainerStage({ now, metric, words, mirror, hidden = null, children }: Props) {
  const trainer = now.trainer!;
  const d = now.decision;
  const told = trainer.speaks && hidden === null;
  const last = trainer.repetitions.at(-1);
  const live = now.values[metric.id]?.[0] ?? null;
  const resting = now.along === 0 || now.along >= 2.9;
  const value = !told ? null : resting && last?.spoken ? last.value : live;
  const out = told && d?.inside === false && !resting;
  const low = d?.low ?? trainer.low;
  const high = d?.high ?? trainer.high;
  const word =
    hidden !== null
      ? tr("What did you feel?")
      : resting && told && last?.spoken && trainer.made > 0
        ? last.good
          ? tr("Good")
          : saysMiss(last, metric, words)
        : wordOf(now, metric, words);
  const drawing = drawingFor(metric.id);
  return (
    <div
      className={`grid h-full min-h-0 grid-cols-[minmax(0,46fr)_minmax(0,34fr)_minmax(0,20fr)] items-center gap-x-6 px-7 portrait:grid-cols-1 portrait:grid-rows-[minmax(0,40fr)_auto_auto] max-[700px]:px-4 ${out ? "outline-[14px] -outline-offset-[14px] outline-dashed outline-[var(--rust)]" : ""}`}
    >
      <LiveArc along={told ? now.along : 0} mirror={mirror} phase={trainer.phase} out={out}>
        {drawing ? <MeasureGauge metric={metric.id} drawing={drawing} value={value} low={low} high={high} out={out} mirror={mirror} /> : null}
      </LiveArc>
      <div aria-live="off" className="min-w-0">
        <p
          className="figure text-[190px] leading-none font-bold whitespace-nowrap max-[1300px]:text-[150px] max-[1100px]:text-[110px] max-[700px]:text-[72px]"
          data-testid="value"
        >
          {value === null ? "–" : amount(metric, value)}
        </p>
        <p className="text-[40px] leading-tight text-muted max-[1100px]:text-[30px] max-[700px]:text-xl">
          {value === null ? "" : direction(metric, value, words)} {PHASES[trainer.phase]}
          {trainer.relative ? tr(", relative to address") : ""}
        </p>
        <p
          className={`mt-4 text-[88px] leading-[1.02] font-bold max-[1300px]:text-[72px] max-[1100px]:text-[56px] max-[700px]:text-[38px] ${out ? "text-rust" : ""}`}
          data-testid="word"
        >
          {word}
        </p>
        {children}
      </div>
      <Counts now={now} hidden={hidden} />
    </div>
  );
}

function saysMiss(r: Repetition, metric: MetricWords, words: Vocabulary): string {
  if (r.error === 0) return tr("Not all the time");
  const way = direction(metric, r.error, words);
  return way ? tr("Too {way}", { way }) : r.error > 0 ? tr("Too much") : tr("Too little");
}

/** Runs, the block's repetitions as marks, and what held at each speed. */
function Counts({ now, hidden }: { now: Now; hidden: number | null }) {
  const t = now.trainer!;
  return (
    <div className="grid gap-4 self-center portrait:grid-cols-3 portrait:items-start">
      <div>
        <p className="text-2xl text-muted max-[700px]:text-base">{t.test ? tr("Made") : tr("In a row")}</p>
        <p className="figure text-[120px] leading-none font-bold max-[1100px]:text-[84px] max-[700px]:text-[56px]" data-testid="run">
          {t.test ? t.made : hidden === null ? t.run : "?"}
        </p>
        <p className="text-2xl text-muted max-[700px]:text-base">{t.test ? "" : tr("best {best}", { best: t.best })}</p>
      </div>
      <div>
        <p className="text-2xl text-muted max-[700px]:text-base">{tr("This block")}</p>
        <ol className="mt-1 flex flex-wrap gap-1.5" aria-label={tr("Repetitions")}>
          {t.repetitions.slice(-15).map((r) => (
            <Mark key={r.number} r={r} shown={!t.test && r.spoken && r.number !== hidden} />
          ))}
        </ol>
        <p className="mt-1 text-xl text-muted max-[700px]:text-base">{saysEvery(t.every, t.test)}</p>
      </div>
      {t.ladder.length && !t.test ? (
        <ul className="text-xl max-[700px]:text-base" aria-label={tr("Speeds")}>
          {t.ladder.map((r) => (
            <li key={r.rung}>
              <span className="text-muted">{r.rung}</span> {tr("{good} of {made}", { good: r.good, made: r.made })}
            </li>
          ))}
        </ul>
      ) : null}
    </div>
  );
}

/** A full circle is good, a hollow triangle is not, a dash was made without being told. */
function Mark({ r, shown }: { r: Repetition; shown: boolean }) {
  const label = tr("Repetition {number}: {what}", { number: r.number, what: shown ? (r.good ? tr("good") : tr("not good")) : tr("not told") });
  return (
    <li>
      <svg viewBox="0 0 28 28" className="h-7 w-7" role="img" aria-label={label}>
        {!shown ? (
          <path d="M6,14 H22" stroke="var(--muted)" strokeWidth={4} strokeLinecap="round" />
        ) : r.good ? (
          <circle cx={14} cy={14} r={11} fill="var(--ink)" />
        ) : (
          <path d="M14,4 L25,24 H3 Z" fill="none" stroke="var(--rust)" strokeWidth={4} strokeLinejoin="round" />
        )}
      </svg>
    </li>
  );
}
