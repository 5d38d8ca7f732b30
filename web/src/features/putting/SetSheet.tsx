import { useState } from "react";

import type { PuttRow } from "@/api/putting";
import { distanceWords, type Unit } from "@/lib/putts";
import type { Vocabulary } from "@/lib/words";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

interface Props {
  open: boolean;
  onClose: () => void;
  row: PuttRow;
  unit: Unit;
  words: Vocabulary;
  /** What is about to be changed, where that is known. */
  first: string;
}

/** Before a piece is changed: which others hang together with it, how each stands, and what each tends to do if it is left. */
export function SetSheet({ open, onClose, row, unit, words, first }: Props) {
  const [piece, setPiece] = useState(first);
  const plain = words === "plain";
  const changed = row.pieces.find((p) => p.id === piece);
  const at = row.distance_m === null ? "" : tr(" at {distanceWords}", { distanceWords: distanceWords(row.distance_m, unit) });
  return (
    <Sheet open={open} onClose={onClose} title={tr("Before changing anything")} wide>
      <p className="text-xl">{tr("These five hang together: change one, and the others are asked for. What do you want to change?")}</p>
      <ul className="mt-3">
        {row.pieces.map((p) => {
          const here = p.id === piece;
          return (
            <li key={p.id} className="border-b border-hairline">
              <button
                type="button"
                aria-pressed={here}
                onClick={() => setPiece(here ? "" : p.id)}
                className="grid min-h-16 w-full grid-cols-[1fr_auto] items-center gap-4 py-1 text-left"
              >
                <span className={`text-2xl ${here ? "font-bold underline decoration-2 underline-offset-8" : ""}`}>{plain ? p.plain_label : p.label}</span>
                <span className="max-w-[420px] text-right text-xl text-muted">{plain ? p.now.plain : p.now.text}</span>
              </button>
              {here ? <p className="pb-3 text-xl font-semibold">{p.asks}</p> : null}
              {changed && !here ? <p className="pb-3 text-lg">{tr("If it stays: {left}", { left: p.left })}</p> : null}
            </li>
          );
        })}
      </ul>
      <p className="mt-4 text-lg text-muted">
        {tr("As the counting putts{at} show them. {what}", {
          at,
          what: changed
            ? tr("Two ways out: change the others with it, one a week and each tested; or leave all five, where they hole putts.")
            : tr("A set that works is worth keeping."),
        })}
      </p>
    </Sheet>
  );
}
