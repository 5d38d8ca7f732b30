import type { Schemas } from "@/api/client";
import { Button } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  saved: readonly Schemas["SavedSearchOut"][];
  asked: string;
  onAsk: (query: string) => void;
  onForget: (id: string) => void;
}

/** Questions that are asked again. */
export function Saved({ saved, asked, onAsk, onForget }: Props) {
  if (!saved.length) return null;
  return (
    <section className="mt-6" aria-label={tr("Saved searches")}>
      <h2 className="text-xl font-bold">{tr("Saved")}</h2>
      <ul>
        {saved.map((s) => (
          <li key={s.id} className="flex items-center gap-3 border-b border-hairline">
            <button
              type="button"
              aria-pressed={s.query === asked}
              className={`min-h-14 flex-1 text-left text-xl ${s.query === asked ? "font-bold" : ""}`}
              onClick={() => onAsk(s.query)}
            >
              {s.name}
              {s.name === s.query ? null : <span className="ml-3 text-lg text-muted">{s.query}</span>}
            </button>
            <Button tone="quiet" aria-label={tr("Remove “{name}”", { name: s.name })} onClick={() => onForget(s.id)}>
              {tr("Remove")}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
