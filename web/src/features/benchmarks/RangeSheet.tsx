import type { Schemas } from "@/api/client";
import { typed, wrongLimits, type RangeEdit } from "@/lib/ranges";
import { Button, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { useStateFrom } from "@/shared/ui/useStateFrom";
import { tr } from "@/lib/language";
import { term } from "@/lib/terms";

interface Props {
  range: Schemas["RangeOut"] | undefined;
  edit: RangeEdit | undefined;
  onClose: () => void;
  onEdit: (edit: RangeEdit) => void;
  onUndo: () => void;
}

const text = (value: number | null | undefined) => (value === null || value === undefined ? "" : String(value));

/** One range: what it says, where it comes from; other limits become part of the next version. */
export function RangeSheet({ range, edit, onClose, onEdit, onUndo }: Props) {
  const [fields, setFields] = useStateFrom(
    () => {
      const from = edit ?? range;
      return {
        low: text(from?.low),
        high: text(from?.high),
        softLow: text(from?.soft_low),
        softHigh: text(from?.soft_high),
        note: from?.note ?? range?.note ?? "",
        lean: edit?.lean ?? true,
      };
    },
    JSON.stringify([range?.id, edit]),
  );
  if (!range) return null;
  const set = (part: Partial<typeof fields>) => setFields((old) => ({ ...old, ...part }));
  const [low, high, softLow, softHigh] = [typed(fields.low), typed(fields.high), typed(fields.softLow), typed(fields.softHigh)];
  const leans = range.leans !== "" && fields.lean;
  const wrong =
    wrongLimits(low, high, leans) ||
    (softLow === undefined || softHigh === undefined || (softLow ?? 0) < 0 || (softHigh ?? 0) < 0 ? tr("A margin is a number from 0.") : "");
  const oneSided = (low === null || high === null) && range.scale === null && !leans;
  const submit = () =>
    onEdit({
      id: range.id,
      low: low ?? null,
      high: high ?? null,
      soft_low: softLow ?? 0,
      soft_high: softHigh ?? 0,
      note: fields.note,
      lean: fields.lean,
      retire: false,
    });
  return (
    <Sheet open onClose={onClose} title={tr("{label}{what}", { label: range.label, what: range.moment === "whole swing" ? "" : `, ${range.moment}` })}>
      <p className="text-2xl font-bold">{range.words}</p>
      {range.leans && range.leans !== range.words ? <p className="text-lg">{range.leans}</p> : null}
      <p className="mt-1 text-lg">
        {range.synthetic ? <b>{tr("Synthetic.")} </b> : null}
        {tr("By {provenance}.", { provenance: range.provenance })}
      </p>
      <p className="text-lg text-muted">{range.note}</p>
      <p className="text-lg text-muted">
        {[
          range.id,
          range.club_class ? term(range.club_class) : tr("any club"),
          range.school && tr("school: {school}", { school: range.school }),
          term(range.population),
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      <form
        className="mt-4 space-y-3 border-t border-hairline pt-4"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <div className="grid grid-cols-2 gap-4">
          <Field label={tr("Low limit ({unit})", { unit: range.unit })}>
            <input className={inputLook} inputMode="decimal" value={fields.low} onChange={(e) => set({ low: e.target.value })} />
          </Field>
          <Field label={tr("High limit ({unit})", { unit: range.unit })}>
            <input className={inputLook} inputMode="decimal" value={fields.high} onChange={(e) => set({ high: e.target.value })} />
          </Field>
          <Field label={tr("Margin below, still the edge")}>
            <input className={inputLook} inputMode="decimal" value={fields.softLow} onChange={(e) => set({ softLow: e.target.value })} />
          </Field>
          <Field label={tr("Margin above, still the edge")}>
            <input className={inputLook} inputMode="decimal" value={fields.softHigh} onChange={(e) => set({ softHigh: e.target.value })} />
          </Field>
        </div>
        {range.leans ? (
          <label className="flex min-h-14 items-center gap-3 text-lg">
            <input type="checkbox" className="size-6 accent-[var(--ink)]" checked={fields.lean} onChange={(e) => set({ lean: e.target.checked })} />
            {tr("and {leans}", { leans: range.leans })}
          </label>
        ) : null}
        <Field label={tr("Note")}>
          <textarea className={inputLook} rows={2} value={fields.note} onChange={(e) => set({ note: e.target.value })} />
        </Field>
        {wrong || oneSided ? (
          <p role="alert" className="text-lg">
            {wrong || tr("This range has two limits; give both.")}
          </p>
        ) : null}
        <div className="flex flex-wrap gap-3">
          <Button tone="solid" type="submit" disabled={wrong !== "" || oneSided}>
            {tr("Change it")}
          </Button>
          {edit ? (
            <Button onClick={onUndo}>{tr("Undo my change")}</Button>
          ) : (
            <Button
              onClick={() =>
                onEdit({
                  id: range.id,
                  low: range.low,
                  high: range.high,
                  soft_low: range.soft_low,
                  soft_high: range.soft_high,
                  note: null,
                  lean: true,
                  retire: true,
                })
              }
            >
              {tr("Take out")}
            </Button>
          )}
        </div>
        <p className="text-base text-muted">
          {tr("{what}Changes become the academy's own, and are saved together as the next version.", { what: range.ways ? `${range.ways}. ` : "" })}
        </p>
      </form>
    </Sheet>
  );
}
