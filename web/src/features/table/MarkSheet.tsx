import type { Schemas } from "@/api/client";
import { KINDS } from "@/lib/words";
import { Button } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

type Kind = Schemas["SwingBrief"]["kind"];

const OFFERED: { id: Kind; note: string }[] = [
  { id: "normal", note: "counts" },
  { id: "test", note: "counts" },
  { id: "warm_up", note: "does not count" },
  { id: "drill", note: "does not count" },
  { id: "no_ball", note: "does not count" },
];
const REASONS = ["topped", "sensor loose", "interrupted", "not a swing"];

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
      <div className="grid gap-3">
        {OFFERED.map((k) => (
          <Button key={k.id} onClick={() => onMark(k.id, "")} hint={k.note}>
            {KINDS[k.id]}
          </Button>
        ))}
      </div>
      <p className="mt-6 text-xl font-bold">Discard, because</p>
      <div className="mt-2 flex flex-wrap gap-3">
        {REASONS.map((r) => (
          <Button key={r} onClick={() => onMark("discard", r)}>
            {r}
          </Button>
        ))}
      </div>
    </Sheet>
  );
}
