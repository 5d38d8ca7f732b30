import { useReferences } from "@/api/hooks";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";

import { useCohortChanges } from "./api";
import { tr, trn } from "@/lib/language";

const FORMS: Record<string, string> = { swing: tr("one swing"), mean: tr("mean of many"), best: tr("a player's own best") };

/** Courses that can be laid over a swing. */
export function References({ onBuild }: { onBuild: () => void }) {
  const references = useReferences();
  const { remove } = useCohortChanges();
  if (references.isPending) return <Loading what={tr("Reading the references")} />;
  return (
    <div className="h-full overflow-y-auto px-7 py-4" tabIndex={0} role="region" aria-label={tr("References")}>
      <p className="max-w-[900px] text-lg text-muted">
        {tr(
          "A reference is drawn under a swing's trace, lined up at takeaway, shaft level, top and impact. Keep one swing from its own page (Mark), or the mean of many.",
        )}
      </p>
      <Button className="mt-2" onClick={onBuild}>
        {tr("Build from swings")}
      </Button>
      <ErrorLine error={references.error ?? remove.error} />
      <ul className="mt-3">
        {(references.data ?? []).map((r) => (
          <li key={r.id} className="flex items-center gap-6 border-b border-hairline py-2">
            <p className="flex-1 text-xl">
              <b>{r.name}</b>
              <span className="block text-lg text-muted">
                {FORMS[r.form]} · {r.club} ·{" "}
                {tr("{swings} of {players}", {
                  swings: trn("{count} swing", "{count} swings", r.swings),
                  players: trn("{count} player", "{count} players", r.players),
                })}
                {r.made_by ? tr(" · by {made_by}", { made_by: r.made_by }) : ""}
                {r.warning ? ` · ${r.warning}` : ""}
              </span>
            </p>
            {r.synthetic ? (
              <span className="text-lg font-bold">{tr("Synthetic")}</span>
            ) : (
              <Button onClick={() => remove.mutate(r.id)} disabled={remove.isPending}>
                {tr("Remove")}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
