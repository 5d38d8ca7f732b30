import type { ComponentProps } from "react";

import { useMe } from "@/api/hooks";
import { Button } from "@/shared/ui/controls";

import { MoreSheet } from "./MoreSheet";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";

interface Props extends Omit<ComponentProps<typeof MoreSheet>, "open" | "onClose"> {
  flipped: boolean;
  /** The rest is open. */
  more: boolean;
  /** What *Train* trains, in the player's or the trade's words; empty where nothing stands out. */
  trains: string;
}

const Tight = (props: ComponentProps<typeof Button>) => (
  <Button {...props} className={`px-4 whitespace-nowrap max-[700px]:shrink-0 max-[700px]:px-0.5 max-[700px]:text-base ${props.className ?? ""}`} />
);

/** What an instructor is likely to do next with a swing: note the ball while it is fresh, then look at the one before, then at the figure. */
export function likelyNext({
  swing,
  before,
  undoable,
}: {
  swing: { kind: string; ball_start: string };
  before: boolean;
  undoable: boolean;
}): "undo" | "ball" | "before" | "figure" {
  if (undoable) return "undo";
  if (!swing.ball_start && swing.kind !== "no_ball" && swing.kind !== "discard") return "ball";
  return before ? "before" : "figure";
}

/** At most five things under the thumb, and the rest behind *More*. */
export function SwingBar({ flipped, more, trains, ...rest }: Props) {
  const me = useMe();
  const { found, act, figure, peek, onFigure, onPeek, onSheet } = rest;
  const { lesson, swing: s, swings, index } = found;
  const next = likelyNext({ swing: s!, before: Boolean(found.before), undoable: act.justChanged && Boolean(lesson!.can_undo) });
  return (
    <footer
      className={`flex flex-none items-center gap-2 border-t border-hairline px-7 py-2 max-[1180px]:px-4 max-[700px]:gap-1 max-[700px]:px-1.5 ${flipped ? "flex-row-reverse" : ""}`}
    >
      {may(me, "teach") ? (
        <Tight
          tone="solid"
          onClick={act.train}
          disabled={lesson!.blocks.some((b) => b.running)}
          title={trains ? tr("Train this: {trains}", { trains }) : tr("Train this")}
        >
          <span>
            {tr("Train")}{" "}
            {trains && trains.length < 34 ? (
              <span className="block max-w-[260px] text-base leading-[1.05] font-normal whitespace-normal max-[1000px]:hidden">{trains}</span>
            ) : null}
          </span>
        </Tight>
      ) : null}
      {may(me, "teach") ? <Tight onClick={() => onSheet("why")}>{tr("Why?")}</Tight> : null}
      <Likely next={next} found={found} act={act} figure={figure} peek={peek} onFigure={onFigure} onPeek={onPeek} onSheet={onSheet} />
      <span className="flex-1" />
      <Tight onClick={() => act.go(swings[index - 1])} disabled={index <= 0} aria-label={tr("Previous swing")}>
        ←
      </Tight>
      <Tight onClick={() => act.go(swings[index + 1])} disabled={index < 0 || index >= swings.length - 1} aria-label={tr("Next swing")}>
        →
      </Tight>
      <Tight onClick={() => onSheet("more")} aria-haspopup="dialog">
        {tr("More")}
      </Tight>
      <MoreSheet open={more} onClose={() => onSheet("")} {...rest} />
    </footer>
  );
}

type LikelyProps = Pick<Props, "found" | "act" | "figure" | "peek" | "onFigure" | "onPeek" | "onSheet"> & { next: ReturnType<typeof likelyNext> };

function Likely({ next, found, act, figure, peek, onFigure, onPeek, onSheet }: LikelyProps) {
  switch (next) {
    case "undo":
      return (
        <Tight onClick={() => act.undo()} title={found.lesson!.can_undo ?? undefined} aria-label={tr("Undo")}>
          <span className="max-[700px]:hidden">{tr("Undo")}</span>
          <span className="hidden text-2xl max-[700px]:inline" aria-hidden>
            ↶
          </span>
        </Tight>
      );
    case "ball":
      return (
        <Tight onClick={() => onSheet("ball")} title={tr("Ball flight and strike")}>
          {tr("Ball")}
        </Tight>
      );
    case "before":
      return (
        <Tight onClick={onPeek} aria-pressed={peek}>
          {tr("Before")}
        </Tight>
      );
    case "figure":
      return (
        <Tight onClick={onFigure} aria-pressed={figure} disabled={!found.swing!.figure}>
          {tr("Figure")}
        </Tight>
      );
  }
}
