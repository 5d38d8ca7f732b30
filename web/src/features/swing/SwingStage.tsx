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
import type { Clips } from "@/shared/clip/useClips";
import { VideoPane } from "./video/VideoPane";
import { tr } from "@/lib/language";

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
  /** The videos, where they are shown; beside the figure where that is too. */
  clips: Clips | null;
  /** The group has something to show. */
  seen: boolean;
  chooser: ReactNode;
  over: string;
  onBack: () => void;
}

/** Side by side, the wider part for what is shown large; one over the other where the screen stands upright. */
const GRID = {
  arc: ["grid-cols-[500px_1fr] max-[1180px]:grid-cols-[410px_1fr]", "grid-cols-[1fr_500px] max-[1180px]:grid-cols-[1fr_410px]"],
  figure: ["grid-cols-[1fr_620px] max-[1180px]:grid-cols-[1fr_520px]", "grid-cols-[620px_1fr] max-[1180px]:grid-cols-[520px_1fr]"],
} as const;
const UPRIGHT =
  "grid-rows-[minmax(0,1fr)] portrait:grid-cols-[minmax(0,1fr)] portrait:grid-rows-[minmax(0,46fr)_minmax(0,54fr)] max-[700px]:grid-rows-[minmax(0,38fr)_minmax(0,62fr)]!";
/** A phone has room for the figure or the video, the value and the trace. */
const LARGE = "max-[700px]:grid-rows-[minmax(0,54fr)_minmax(0,46fr)]!";

/** Arc, value, sentence, trace; or the figure with all of that beside it. */
export function SwingStage(props: Props) {
  const { found, at, mirror, words, peek, flipped, clips } = props;
  const figure = props.figure || clips !== null;
  const s = found.swing!;
  const headline = words === "plain" ? s.headline.plain_text : s.headline.text;
  const hasChart = found.traces!.columns[found.measure] !== undefined;
  const aside = flipped ? "landscape:order-2" : "";
  return (
    <main
      className={`grid min-h-0 flex-1 gap-x-6 px-7 max-[1180px]:gap-x-4 max-[1180px]:px-4 ${GRID[figure ? "figure" : "arc"][flipped ? 1 : 0]} ${UPRIGHT} ${figure ? LARGE : ""}`}
    >
      {figure ? (
        <div className={`min-h-0 py-1 ${aside}`}>
          <Large {...props} />
        </div>
      ) : null}
      <div className={figure ? "flex min-h-0 flex-col" : "contents"}>
        <div
          className={
            figure
              ? "grid h-[248px] flex-none grid-cols-[330px_1fr] gap-2 pt-1 max-[1180px]:h-[200px] max-[1180px]:grid-cols-[220px_1fr] max-[700px]:h-auto max-[700px]:grid-cols-1"
              : `min-h-0 py-1 ${aside}`
          }
        >
          <div className={figure ? "min-h-0 max-[700px]:hidden" : "contents"}>
            <SwingArc found={found} at={at} mirror={mirror} words={words} peek={peek} compact={figure} />
          </div>
          {figure && hasChart ? <BesideFigure found={found} at={at} words={words} peek={peek} headline={headline} /> : null}
        </div>
        <Said {...props} figure={figure} headline={headline} hasChart={hasChart} />
      </div>
    </main>
  );
}

/** The figure, the videos, or both. */
function Large({ found, at, mirror, words, figure, clips }: Props) {
  const drawn = figure ? <SwingFigure found={found} at={at} mirror={mirror} words={words} narrow={clips !== null} /> : null;
  if (!clips) return drawn;
  const time = (name: string) => found.checkpoints.find((b) => b.name === name)?.time;
  const t = found.traces!;
  return (
    <VideoPane
      key={found.swing!.id}
      clips={clips}
      cursor={at.cursor}
      fromS={(time("takeaway") ?? t.time[0]!) - 0.3}
      toS={Math.min((time("impact") ?? t.time[t.n - 1]!) + 0.8, t.time[t.n - 1]!)}
      figure={drawn}
    />
  );
}

/** The sentence, the measures to choose from, and the trace or what stands in its place. */
function Said(props: Props & { headline: string; hasChart: boolean }) {
  const { found, act, at, words, figure, seen } = props;
  const s = found.swing!;
  const inSequence = found.group.id === "sequence";
  return (
    <div className="[container-type:size] flex min-h-0 flex-1 flex-col pt-3">
      {figure || (inSequence && seen) ? null : <Headline swing={s} text={props.headline} />}
      {props.chooser}
      {!seen ? (
        <Unseen group={found.group} swing={s} metrics={found.catalogue!.metrics} onBack={props.onBack} />
      ) : inSequence ? (
        <Sequence swing={s} traces={found.traces!} checkpoints={found.checkpoints} cursor={at.cursor} />
      ) : props.hasChart ? (
        <SwingTrace found={found} at={at} words={words} compact={figure} over={props.over} onMove={act.move} />
      ) : null}
      <ErrorLine error={act.error} />
    </div>
  );
}

function Headline({ swing: s, text }: { swing: NonNullable<SwingData["swing"]>; text: string }) {
  const kind = s.kind === "normal" ? "" : s.kind === "discard" ? tr("discarded: {discard_reason}", { discard_reason: s.discard_reason }) : KINDS[s.kind]!;
  const warnings = s.warnings.filter((w) => w !== s.headline.text && !w.startsWith(tr("The sensor may")) && w !== s.grip?.plain_question);
  return (
    <>
      {!s.sensor_moved && kind ? (
        <p className="text-lg text-muted">
          {tr("Swing {number} · {kind}{what}", { number: s.number, kind, what: s.kind === "warm_up" || s.kind === "drill" ? tr(", does not count") : "" })}
        </p>
      ) : null}
      <h2 className={`leading-[1.12] font-bold ${text.length > 84 ? "text-[34px] max-[700px]:text-[22px]" : "text-[40px] max-[700px]:text-[28px]"}`}>{text}</h2>
      <p className="mt-2 text-xl leading-snug [@container(height<430px)]:text-lg [@container(height<340px)]:hidden">
        {s.headline.tends}
        {warnings.map((w) => ` ${w}`)}
      </p>
    </>
  );
}
