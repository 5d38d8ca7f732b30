import { Loading, ErrorLine } from "@/shared/ui/controls";

import { useRanges } from "./api";
import { tr } from "@/lib/language";

/** Facts of the trade that are no range of a measured value. */
export function Facts() {
  const ranges = useRanges("");
  if (ranges.isPending) return <Loading what={tr("Reading")} />;
  if (!ranges.data)
    return (
      <div className="p-7">
        <ErrorLine error={ranges.error} />
      </div>
    );
  const groups = [...new Set(ranges.data.facts.map((f) => f.about))];
  return (
    <div className="h-full overflow-y-auto px-7 py-4" tabIndex={0} role="region" aria-label={tr("Rules of thumb")}>
      {groups.map((g) => (
        <section key={g} className="mb-5">
          <h2 className="text-2xl font-bold">{g}</h2>
          <ul>
            {ranges.data.facts
              .filter((f) => f.about === g)
              .map((f) => (
                <li key={f.id} className="grid grid-cols-[1fr_380px] gap-x-6 max-[900px]:grid-cols-1 border-b border-hairline py-2 text-lg">
                  <span>{f.says}</span>
                  <span className="text-base text-muted">
                    {f.id} · {f.provenance}
                  </span>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
