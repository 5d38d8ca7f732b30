import { checkpointOf, measureOf } from "@/lib/measures";
import type { Hand } from "@/lib/sides";
import type { Vocabulary } from "@/lib/words";

import { BallSheet, ClubSheet, KindSheet } from "./MarkSheets";
import { Numbers } from "./Numbers";
import type { SwingActions } from "./useSwingActions";
import type { SwingData } from "./useSwingData";
import { Why } from "./Why";

export type SheetName = "" | "kind" | "ball" | "club" | "numbers" | "why" | "more";

interface Props {
  found: SwingData;
  act: SwingActions;
  hand: Hand;
  words: Vocabulary;
  open: SheetName;
  onClose: () => void;
  onGo: (measure: string, checkpoint: string) => void;
}

/** What opens over a swing: marking it, its numbers, why something is said. */
export function SwingSheets({ found, act, hand, words, open, onClose, onGo }: Props) {
  const s = found.swing!;
  const l = found.lesson!;
  const summary = l.summaries.find((x) => x.club === s.club);
  const kept = act.reference;
  return (
    <>
      <KindSheet
        open={open === "kind"}
        onClose={onClose}
        swing={s}
        onKind={(kind, reason) => {
          act.patch({ kind, reason });
          onClose();
        }}
        onTags={(tags) => act.patch({ reason: "", tags })}
        onReference={(form) => kept.mutate({ name: "", form, swing_ids: form === "best" && l.pinned.length ? l.pinned : [s.id] })}
        kept={kept.data?.form ?? ""}
        pinned={l.pinned.length}
        error={kept.error}
      />
      <BallSheet open={open === "ball"} onClose={onClose} swings={l.swings} swing={s} hand={hand} onBall={(id, p) => act.patch(p, id)} />
      <ClubSheet
        open={open === "club"}
        onClose={onClose}
        swing={s}
        clubs={found.catalogue!.clubs}
        onClub={(club, next) => {
          act.patch({ reason: "", club });
          if (next) act.lesson.mutate({ club });
          onClose();
        }}
      />
      <Numbers
        open={open === "numbers"}
        onClose={onClose}
        swing={s}
        catalogue={found.catalogue!}
        words={words}
        summary={summary}
        measure={found.measure}
        group={found.group.id}
      />
      <Why
        open={open === "why"}
        onClose={onClose}
        swing={s}
        summary={summary}
        catalogue={found.catalogue!}
        words={words}
        onGo={(m, e) => {
          onGo(measureOf(m), checkpointOf(e));
          onClose();
        }}
      />
    </>
  );
}
