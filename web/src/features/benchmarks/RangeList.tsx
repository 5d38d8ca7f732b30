import type { Schemas } from "@/api/client";
import type { RangeEdit } from "@/lib/ranges";
import { tr } from "@/lib/language";
import { term } from "@/lib/terms";

interface Props {
  ranges: readonly Schemas["RangeOut"][];
  changes: readonly RangeEdit[];
  onOpen: (id: string) => void;
}

/** The ranges as a list, each with where it comes from. */
export function RangeList({ ranges, changes, onOpen }: Props) {
  return (
    <ul className="min-h-0 flex-1 overflow-y-auto px-7 py-2">
      {ranges.map((r) => {
        const edit = changes.find((c) => c.id === r.id);
        return (
          <li key={r.id} className="border-b border-hairline">
            <button
              type="button"
              onClick={() => onOpen(r.id)}
              className="grid min-h-14 w-full grid-cols-[1fr_250px_250px] items-baseline gap-x-4 py-2 text-left max-[1100px]:grid-cols-[1fr_200px_180px] max-[900px]:grid-cols-1"
            >
              <span>
                <b className="text-lg">{r.label}</b> <span className="text-lg">{r.moment === tr("whole swing") ? "" : r.moment}</span>
                <span className="block text-base text-muted">
                  {[r.id, r.club_class ? term(r.club_class) : tr("any club"), r.school, r.population === "adult" ? "" : term(r.population)]
                    .filter(Boolean)
                    .join(" · ")}
                </span>
              </span>
              <span className="text-lg">
                {edit ? (
                  <>
                    <s>{r.words}</s> <b>{edit.retire ? tr("taken out") : tr("changed")}</b>
                  </>
                ) : (
                  r.words
                )}
                {r.leans && r.leans !== r.words ? <span className="block text-base text-muted">{r.leans}</span> : null}
              </span>
              <span className="text-base text-muted">
                {r.synthetic ? <b>{tr("Synthetic.")} </b> : null}
                {r.provenance}
              </span>
            </button>
          </li>
        );
      })}
      {ranges.length === 0 ? <li className="py-6 text-xl">{tr("No range has all of these words.")}</li> : null}
    </ul>
  );
}
