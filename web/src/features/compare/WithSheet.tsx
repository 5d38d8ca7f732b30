import type { Schemas } from "@/api/client";
import { Sheet } from "@/shared/ui/Sheet";

import { ModelChoice } from "./ModelChoice";
import { choiceWords } from "./words";
import { tr } from "@/lib/language";

interface Props {
  open: boolean;
  onClose: () => void;
  choices: readonly Schemas["ChoiceOut"][];
  catalogue: Schemas["Catalogue"];
  chosen: string;
  onChoose: (key: string) => void;
}

/** What there is to compare with, the likeliest first. */
export function WithSheet({ open, onClose, choices, catalogue, chosen, onChoose }: Props) {
  const label = (id: string) => catalogue.metrics.find((m) => m.id === id)?.label ?? id;
  const swings = choices.filter((c) => c.kind === "swing");
  const models = choices.filter((c) => c.kind === "model");
  return (
    <Sheet open={open} onClose={onClose} title={tr("Compare with")} wide>
      <ul>
        {choices
          .filter((c) => c.kind !== "model" && c.kind !== "swing")
          .map((c) => {
            const [name, says] = choiceWords(c, label);
            return (
              <li key={`${c.kind} ${c.key}`} className="border-b border-hairline">
                <button
                  type="button"
                  aria-pressed={c.key === chosen}
                  onClick={() => onChoose(c.key)}
                  className="grid min-h-14 w-full grid-cols-[minmax(0,300px)_1fr] items-center gap-4 py-1 text-left max-[700px]:grid-cols-1"
                >
                  <span className={`text-xl leading-tight font-semibold ${c.key === chosen ? "underline decoration-2 underline-offset-8" : ""}`}>{name}</span>
                  <span className="text-lg leading-tight text-muted">{says}</span>
                </button>
              </li>
            );
          })}
      </ul>
      {swings.length ? (
        <div className="flex flex-wrap items-center gap-x-2 border-b border-hairline py-1" role="group" aria-label={tr("Another swing of this lesson")}>
          <span className="pr-3 text-xl font-semibold">{tr("Another swing")}</span>
          {swings.map((c) => (
            <button
              key={c.key}
              type="button"
              aria-label={tr("Swing {number}", { number: c.number })}
              aria-pressed={c.key === chosen}
              onClick={() => onChoose(c.key)}
              className={`min-h-14 min-w-14 text-xl ${c.key === chosen ? "font-bold underline decoration-2 underline-offset-8" : ""}`}
            >
              {c.number}
            </button>
          ))}
        </div>
      ) : null}
      {models.length ? <ModelChoice key={chosen} models={models} catalogue={catalogue} chosen={chosen} onChoose={onChoose} /> : null}
    </Sheet>
  );
}
