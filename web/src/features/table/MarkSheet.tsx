import { KindChoice, type Kind } from "@/shared/forms/KindChoice";
import { Sheet } from "@/shared/ui/Sheet";
import { trn } from "@/lib/language";

/** What the chosen swings are: one change, undone as one. */
export function MarkSheet({
  open,
  onClose,
  count,
  onMark,
}: {
  open: boolean;
  onClose: () => void;
  count: number;
  onMark: (kind: Kind, reason: string) => void;
}) {
  return (
    <Sheet open={open} onClose={onClose} title={trn("{count} swing is", "{count} swings are", count)}>
      <KindChoice onKind={onMark} />
    </Sheet>
  );
}
