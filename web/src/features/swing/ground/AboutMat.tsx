import { useState } from "react";

import type { Schemas } from "@/api/client";
import { change as changeSettings } from "@/lib/settings";
import { Button, useSettings } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { MatClock } from "./MatClock";
import { tr } from "@/lib/language";

interface Props {
  ground: Schemas["GroundOut"];
  /** The line between the feet can be dragged. */
  editing: boolean;
  onEditing: (on: boolean) => void;
  onSplit: (splitM: number | null) => void;
  onShift: (shift: number | null) => void;
  busy: boolean;
}

/** What is rarely done to a mat's recording: its feet, its clock, and whether the player guesses first. */
export function AboutMat({ ground, editing, onEditing, onSplit, onShift, busy }: Props) {
  const { askFirst } = useSettings();
  const [open, setOpen] = useState(false);
  const [clock, setClock] = useState(false);
  const mat = ground.source === tr("pressure mat");
  const then = (work: () => void) => () => {
    setOpen(false);
    work();
  };
  return (
    <div className="flex flex-none items-center gap-x-2">
      {editing ? (
        <Button tone="solid" onClick={() => onEditing(false)}>
          {tr("Feet are right")}
        </Button>
      ) : (
        <Button tone="quiet" aria-haspopup="dialog" onClick={() => setOpen(true)}>
          {tr("About the mat")}
        </Button>
      )}
      <Sheet open={open} onClose={() => setOpen(false)} title={tr("The mat")}>
        <div className="flex flex-col items-start gap-3">
          {ground.feet.length > 0 && mat ? <Button onClick={then(() => onEditing(true))}>{tr("Correct the feet")}</Button> : null}
          {ground.split_by_hand ? <Button onClick={then(() => onSplit(null))}>{tr("Line moved by you; find it again")}</Button> : null}
          {mat && !ground.alone ? (
            <Button onClick={then(() => setClock(true))}>
              {ground.offset ? tr("Mat's clock ±{sd_s} ms", { sd_s: Math.round(1000 * ground.offset.sd_s) }) : tr("Mat's clock")}
            </Button>
          ) : null}
          <Button aria-pressed={askFirst} onClick={() => changeSettings({ askFirst: !askFirst })}>
            {askFirst ? tr("Guess first: on") : tr("Guess first: off")}
          </Button>
        </div>
      </Sheet>
      <MatClock open={clock} onClose={() => setClock(false)} ground={ground} onShift={onShift} busy={busy} />
    </div>
  );
}
