import { useNotePutt, useNoteRow, useNoteSession, usePuttPlan, type Putt, type Putting, type PuttRow } from "@/api/putting";
import { distanceWords, type Unit } from "@/lib/putts";
import { OutcomeBar } from "@/shared/putting/OutcomeBar";
import { PlanForm } from "@/shared/putting/PlanForm";
import { RowNotes } from "@/shared/putting/RowNotes";
import { SessionNotes } from "@/shared/putting/SessionNotes";
import { ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

interface Props {
  open: boolean;
  onClose: () => void;
  lessonId: string;
  read: Putting;
  row: PuttRow;
  putts: readonly Putt[];
  chosen: Putt | undefined;
}

/** What is noted of the putt, of its row, and of the session. */
export function NotesSheet({ open, onClose, lessonId, read, row, putts, chosen }: Props) {
  const unit = read.plan.unit as Unit;
  const putt = useNotePutt(lessonId);
  const session = useNoteSession(lessonId);
  const rowNotes = useNoteRow(lessonId);
  const plan = usePuttPlan(lessonId);
  return (
    <Sheet open={open} onClose={onClose} title={tr("Notes")} wide>
      {chosen ? (
        <section className="mb-5">
          <h3 className="text-xl font-bold">{tr("Putt {number}", { number: chosen.number })}</h3>
          <OutcomeBar putt={chosen} unit={unit} onNote={(noted) => putt.note(chosen.id, noted)} />
        </section>
      ) : null}
      <section className="mb-5 border-t border-hairline pt-3">
        <h3 className="text-xl font-bold">
          {row.distance_m === null
            ? tr("Putts whose distance is not noted")
            : tr("All from {distanceWords}", { distanceWords: distanceWords(row.distance_m, unit) })}
        </h3>
        <RowNotes
          putts={putts}
          distances={row.distance_m === null ? read.plan.distances_m : []}
          unit={unit}
          onNote={(noted) => rowNotes.mutate({ swings: putts.map((p) => p.id), ...noted })}
        />
      </section>
      {read.noted ? (
        <SessionNotes
          key={`${read.noted.recording_id} ${open}`}
          noted={read.noted}
          busy={session.isPending}
          onNote={(noted) => session.mutate({ id: read.noted!.recording_id, noted })}
        />
      ) : null}
      <PlanForm plan={read.plan} busy={plan.isPending} onPlan={(p) => plan.mutate(p)} />
      <ErrorLine error={putt.error ?? session.error ?? rowNotes.error ?? plan.error} />
    </Sheet>
  );
}
