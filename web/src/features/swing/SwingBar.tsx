import type { ComponentProps } from "react";

import { ballWords, type Hand } from "@/lib/sides";
import { Button } from "@/shared/ui/controls";

import type { SheetName } from "./SwingSheets";
import type { SwingActions } from "./useSwingActions";
import type { SwingData } from "./useSwingData";

interface Props {
  found: SwingData;
  act: SwingActions;
  hand: Hand;
  flipped: boolean;
  figure: boolean;
  peek: boolean;
  onFigure: () => void;
  onPeek: () => void;
  onSheet: (sheet: SheetName) => void;
}

const Tight = (props: ComponentProps<typeof Button>) => <Button className="px-3.5 whitespace-nowrap" {...props} />;

/** What can be done with a swing, under the thumb. */
export function SwingBar({ found, act, hand, flipped, figure, peek, onFigure, onPeek, onSheet }: Props) {
  const { lesson, swing: s, swings, index } = found;
  const pinned = lesson!.pinned.includes(s!.id);
  const ball = s!.ball_start ? ballWords(s!.ball_start, s!.ball_curve, hand).split(",")[0]!.replace("starts ", "Ball ") : "Ball";
  return (
    <footer className={`flex flex-none items-center gap-2 border-t border-hairline px-7 py-2 ${flipped ? "flex-row-reverse" : ""}`}>
      <Tight tone="solid" onClick={act.train} disabled={lesson!.blocks.some((b) => b.running)}>
        Train this
      </Tight>
      <Tight onClick={() => onSheet("why")}>Why?</Tight>
      <Tight onClick={() => onSheet("numbers")}>Numbers</Tight>
      <Tight onClick={onFigure} aria-pressed={figure} tone={figure ? "solid" : "line"} disabled={!s!.figure} title="The whole figure">
        Figure
      </Tight>
      <span className="flex-1" />
      {lesson!.can_undo ? (
        <Tight tone="quiet" onClick={() => act.undo.mutate()} title={lesson!.can_undo}>
          Undo
        </Tight>
      ) : null}
      <Tight onClick={() => onSheet("ball")} title="Ball flight and strike">
        {ball}
      </Tight>
      <Tight onClick={() => onSheet("club")}>Club</Tight>
      <Tight onClick={() => onSheet("kind")}>Mark</Tight>
      <Tight onClick={act.togglePin} aria-pressed={pinned}>
        {pinned ? "Unpin" : "Pin"}
      </Tight>
      <Tight onClick={onPeek} aria-pressed={peek} disabled={!found.before}>
        Before
      </Tight>
      <Tight onClick={() => act.go(swings[index - 1])} disabled={index <= 0} aria-label="Previous swing">
        ←
      </Tight>
      <Tight onClick={() => act.go(swings[index + 1])} disabled={index < 0 || index >= swings.length - 1} aria-label="Next swing">
        →
      </Tight>
      <Tight onClick={act.show}>Show</Tight>
    </footer>
  );
}
