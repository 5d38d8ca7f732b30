import { useNoteSession, type Putting } from "@/api/putting";
import { PutterForm } from "@/shared/putting/PutterForm";
import { ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

interface Props {
  open: boolean;
  onClose: () => void;
  lessonId: string;
  noted: NonNullable<Putting["noted"]>;
}

/** What is known of the putter, and about what its free pendulum turns. */
export function PutterSheet({ open, onClose, lessonId, noted }: Props) {
  const session = useNoteSession(lessonId);
  return (
    <Sheet open={open} onClose={onClose} title={tr("The putter and its pendulum")} wide>
      <PutterForm
        key={`${noted.recording_id} ${open}`}
        putter={noted.putter}
        busy={session.isPending}
        onNote={(putter) => session.mutate({ id: noted.recording_id, noted: { putter } }, { onSuccess: onClose })}
      />
      <ErrorLine error={session.error} />
    </Sheet>
  );
}
