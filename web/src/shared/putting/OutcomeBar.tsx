import type { Given, Putt } from "@/api/putting";
import { OUTCOMES, PAST_M, distanceWords, pastOf, sameDistance, type Unit } from "@/lib/putts";

import { OutcomeGlyph } from "./OutcomeGlyph";
import { tr } from "@/lib/language";

interface Props {
  putt: Putt;
  unit: Unit;
  /** The keys 1 to 5 do the same. */
  keyed?: boolean;
  onNote: (noted: Given<"PuttPatch">) => void;
}

/** Where the ball went, in one tap; then how far past or short, which may be left out. */
export function OutcomeBar({ putt, unit, keyed = false, onNote }: Props) {
  const { outcome, rolled_past_m: past } = putt.putt;
  const missed = outcome !== "" && outcome !== "holed";
  return (
    <div>
      <div role="radiogroup" aria-label={tr("Where putt {number} went", { number: putt.number })} className="flex flex-wrap gap-2">
        {OUTCOMES.map((o, k) => (
          <button
            key={o.id}
            type="button"
            role="radio"
            aria-checked={outcome === o.id}
            onClick={() =>
              onNote(outcome === o.id ? { outcome: "", rolled_past_m: null } : { outcome: o.id, ...(o.id === "holed" ? { rolled_past_m: null } : {}) })
            }
            className={`flex min-h-16 items-center gap-2 rounded-full border-2 py-1 pr-5 pl-2 text-2xl font-semibold max-[700px]:min-h-14 max-[700px]:pr-3 max-[700px]:text-lg ${
              outcome === o.id ? "border-ink bg-band" : "border-[var(--control)]"
            }`}
          >
            <OutcomeGlyph outcome={o.id} size={40} />
            {o.name}
            {keyed ? <kbd className="font-sans text-base font-normal text-muted max-[700px]:hidden">{k + 1}</kbd> : null}
          </button>
        ))}
      </div>
      {missed ? (
        <div role="radiogroup" aria-label={tr("How far")} className="mt-1 flex flex-wrap items-center gap-1">
          <span className="text-lg text-muted">{outcome === "short" ? tr("short by") : tr("past by")}</span>
          {PAST_M[unit].map((m) => {
            const chosen = past !== null && sameDistance(Math.abs(past), m);
            return (
              <button
                key={m}
                type="button"
                role="radio"
                aria-checked={chosen}
                onClick={() => onNote({ rolled_past_m: chosen ? null : pastOf(outcome, m) })}
                className={`min-h-14 min-w-14 px-3 text-lg ${chosen ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
              >
                {distanceWords(m, unit)}
              </button>
            );
          })}
        </div>
      ) : null}
    </div>
  );
}
