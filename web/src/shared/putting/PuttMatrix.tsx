import type { Putt, Putting, PuttRow } from "@/api/putting";
import { distanceWords, OUTCOMES, pastWords, type Unit } from "@/lib/putts";
import { term } from "@/lib/terms";

import { OutcomeGlyph } from "./OutcomeGlyph";
import { tr } from "@/lib/language";

interface Props {
  putting: Putting;
  /** The putt whose outcome is asked, or that is looked at. */
  chosen: string | null;
  onChoose: (putt: Putt) => void;
  /** A distance was tapped: its row is noted, or chosen for the next putts. */
  onRow: (row: PuttRow) => void;
}

/** Distances down, putts across; what is still owed is seen. Practice strokes stand small between. */
export function PuttMatrix({ putting, chosen, onChoose, onRow }: Props) {
  const { plan, putts, rows } = putting;
  const known = new Map(putts.map((p) => [p.id, p]));
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">{tr("Putts by distance")}</caption>
      <tbody>
        {rows.map((row) => (
          <tr key={row.distance_m ?? "none"} className="border-b border-hairline">
            <th scope="row" className="w-[176px] py-1.5 pr-3 text-left align-middle font-normal max-[1100px]:w-[130px] max-[700px]:w-[70px] max-[700px]:pr-1">
              <button type="button" className="block min-h-14 w-full text-left" onClick={() => onRow(row)}>
                <b className="block text-[40px] leading-none max-[700px]:text-[24px]">
                  {row.distance_m === null ? tr("How far?") : distanceWords(row.distance_m, plan.unit as Unit)}
                </b>
                <span className="text-lg leading-tight text-muted max-[700px]:text-base">{rowTold(row, putting)}</span>
              </button>
            </th>
            <td className="py-1">
              <ul className="flex flex-wrap items-center gap-1 max-[700px]:gap-0">
                {row.putts.map((id) => {
                  const putt = known.get(id);
                  return putt ? <Cell key={id} putt={putt} unit={plan.unit as Unit} chosen={id === chosen} onChoose={onChoose} /> : null;
                })}
                {Array.from({ length: row.owed }, (_, k) => (
                  <li key={`owed-${k}`} className="grid size-[72px] place-items-center max-[1100px]:size-14">
                    <OutcomeGlyph outcome="" owed size={60} />
                    <span className="sr-only">{tr("owed")}</span>
                  </li>
                ))}
              </ul>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** How many count, how many are owed, and what was noted of the whole row. */
function rowTold(row: PuttRow, { plan, putts }: Putting): string {
  const own = putts.filter((p) => row.putts.includes(p.id) && p.counts);
  const slopes = [...new Set(own.map((p) => p.putt.slope).filter((s) => s && s !== "flat"))].map(term);
  const breaks = [...new Set(own.map((p) => p.putt.breaks).filter((b) => b && b !== "none"))].map(term);
  const next = plan.next_m != null && row.distance_m !== null && Math.abs(plan.next_m - row.distance_m) < 0.051;
  return [next ? tr("next") : "", row.owed ? tr("{owed} owed", { owed: row.owed }) : tr("{counting} putts", { counting: row.counting }), ...slopes, ...breaks]
    .filter(Boolean)
    .join(" · ");
}

function Cell({ putt, unit, chosen, onChoose }: { putt: Putt; unit: Unit; chosen: boolean; onChoose: (putt: Putt) => void }) {
  const outcome = OUTCOMES.find((o) => o.id === putt.putt.outcome)?.id ?? "";
  const past = putt.putt.rolled_past_m;
  const what = putt.what === "practice" ? tr("practice stroke") : putt.what === "tap_in" ? "tap-in" : putt.counts ? "" : tr("does not count");
  const said = [
    tr("Putt {number}", { number: putt.number }),
    what,
    outcome || (what ? "" : tr("where it went is not noted")),
    past ? pastWords(past, unit) : "",
  ];
  return (
    <li>
      <button
        type="button"
        aria-label={said.filter(Boolean).join(", ")}
        aria-pressed={chosen}
        onClick={() => onChoose(putt)}
        className={`grid size-[72px] place-items-center rounded-full max-[1100px]:size-14 ${chosen ? "border-[3px] border-ink" : "border border-transparent"} ${putt.counts ? "" : "opacity-55"}`}
      >
        {putt.what === "putt" ? (
          <OutcomeGlyph outcome={outcome} size={60} />
        ) : (
          <span className="text-base leading-tight text-muted">{putt.what === "practice" ? tr("no ball") : tr("tap-in")}</span>
        )}
      </button>
    </li>
  );
}
