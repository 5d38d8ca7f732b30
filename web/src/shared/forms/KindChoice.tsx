import type { Schemas } from "@/api/client";
import { KINDS } from "@/lib/words";
import { Button } from "@/shared/ui/controls";
import { mark, tr } from "@/lib/language";

export type Kind = Schemas["SwingBrief"]["kind"];

const OFFERED: { id: Kind; note: string }[] = [
  { id: "normal", note: tr("counts") },
  { id: "test", note: tr("counts") },
  { id: "warm_up", note: tr("does not count") },
  { id: "drill", note: tr("does not count") },
  { id: "no_ball", note: tr("does not count") },
];
const REASONS = [mark("topped"), mark("sensor loose"), mark("interrupted"), mark("not a swing")];

interface Props {
  /** What it is now, where it is one. */
  kind?: Kind;
  reason?: string;
  onKind: (kind: Kind, reason: string) => void;
}

/** What a swing, or several, may be: findings rest on normal and test swings only; a discard has a reason. */
export function KindChoice({ kind, reason, onKind }: Props) {
  return (
    <>
      <div className="grid gap-3">
        {OFFERED.map((k) => (
          <Button key={k.id} tone={kind === k.id ? "solid" : "line"} onClick={() => onKind(k.id, "")} hint={k.note}>
            {KINDS[k.id]}
          </Button>
        ))}
      </div>
      <p className="mt-6 text-xl font-bold">{tr("Discard, because")}</p>
      <div className="mt-2 flex flex-wrap gap-3">
        {REASONS.map((r) => (
          <Button key={r} tone={reason === r ? "solid" : "line"} onClick={() => onKind("discard", r)}>
            {tr(r)}
          </Button>
        ))}
      </div>
    </>
  );
}
