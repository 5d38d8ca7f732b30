import { KindChoice, type Kind } from "@/shared/forms/KindChoice";
import { Sheet } from "@/shared/ui/Sheet";

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
    <Sheet open={open} onClose={onClose} title={`${count} swing${count === 1 ? " is" : "s are"}`}>
      <KindChoice onKind={onMark} />
    </Sheet>
  );
}
