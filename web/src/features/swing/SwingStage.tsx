import type { ReactNode } from "react";

import { KINDS, type Vocabulary } from "@/lib/words";
import { ErrorLine } from "@/shared/ui/controls";

import { Sequence } from "./Sequence";
import { BesideFigure, SwingArc } from "./SwingArc";
import { SwingFigure } from "./SwingFigure";
import { SwingTrace } from "./SwingTrace";
import { Unseen } from "./Unseen";
import type { SwingActions } from "./useSwingActions";
import type { At } from "./useCheckpoint";
import type { SwingData } from "./useSwingData";

interface Props {
  found: SwingData;
  act: SwingActions;
  at: At;
  mirror: boolean;
  words: Vocabulary;
  peek: boolean;
  flipped: boolean;
  /** The figure is shown. */
  figure: boolean;
  /** The group has something to show. */
  seen: boolean;
  chooser: ReactNode;
  over: string;
  onOver: (reference: string) => void;
  onBack: () => void;
}

/** Arc, value, sentence, trace; or the figure with all of that beside it. */
export function SwingStage(props: Props) {
  const { found, at, mirror, words, peek, flipped, figure } = props;
  const s = found.swing!;
  const headline = words === "plain" ? s.headline.plain_text : s.headline.text;
  const hasChart = found.traces!.columns[found.measure] !== undefined;
  const grid = figure ? (flipped ? "grid-cols-[620px_1fr]" : "grid-cols-[1fr_620px]") : flipped ? "grid-cols-[1fr_500px]" : "grid-cols-[500px_1fr]";
  return (
    <main className={`grid min-h-0 flex-1 gap-6 px-7 ${grid}`}>
      {figure ? (
        <div className={`min-h-0 py-1 ${flipped ? "order-2" : ""}`}>
          <SwingFigure found={found} at={at} mirror={mirror} words={words} />
        </div>
      ) : null}
      <div className={figure ? "flex min-h-0 flex-col" : "contents"}>
        <div className={figure ? "grid h-[248px] flex-none grid-cols-[330px_1fr] gap-2 pt-1" : `min-h-0 py-1 ${flipped ? "order-2" : ""}`}>
          <SwingArc found={found} at={at} mirror={mirror} words={words} peek={peek} compact={figure} />
          {figure && hasChart ? <BesideFigure found={found} at={at} words={words} peek={peek} headline={headline} /> : null}
        </div>
        <Said {...props} headline={headline} hasChart={hasChart} />
      </div>
    </main>
  );
}

/** The sentence, the measures to choose from, and the trace or what stands in its place. */
function Said(props: Props & { headline: string; hasChart: boolean }) {
  const { found, act, at, words, figure, seen } = props;
  const s = found.swing!;
  const inSequence = found.group.id === "sequence";
  return (
    <div className="flex min-h-0 flex-col overflow-y-auto pt-3">
      {figure || (inSequence && seen) ? null : <Headline swing={s} text={props.headline} />}
      {props.chooser}
      {!seen ? (
        <Unseen group={found.group} swing={s} metrics={found.catalogue!.metrics} onBack={props.onBack} />
      ) : inSequence ? (
        <Sequence swing={s} traces={found.traces!} checkpoints={found.checkpoints} cursor={at.cursor} />
      ) : props.hasChart ? (
        <SwingTrace found={found} at={at} words={words} compact={figure} over={props.over} onOver={props.onOver} onMove={act.move} />
      ) : null}
      <ErrorLine error={act.error} />
    </div>
  );
}

function Headline({ swing: s, text }: { swing: NonNullable<SwingData["swing"]>; text: string }) {
  const kind = s.kind === "normal" ? "" : s.kind === "discard" ? `discarded: ${s.discard_reason}` : KINDS[s.kind]!;
  const warnings = s.warnings.filter((w) => w !== s.headline.text && !w.startsWith("The sensor may"));
  return (
    <>
      {!s.sensor_moved && kind ? (
        <p className="text-lg text-muted">
          Swing {s.number} · {kind}
          {s.kind === "warm_up" || s.kind === "drill" ? ", does not count" : ""}
        </p>
      ) : null}
      <h2 className="text-[40px] leading-[1.12] font-bold">{text}</h2>
      <p className="mt-2 text-xl leading-snug">
        {s.headline.tends}
        {warnings.map((w) => ` ${w}`)}
      </p>
    </>
  );
}
