import { useState } from "react";
import { term } from "@/lib/terms";

import type { Schemas } from "@/api/client";
import { bandOf, bandText } from "@/lib/ownRules";
import { moment } from "@/lib/words";
import { DrillPicture, pictures } from "@/shared/drill/DrillPicture";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { useAcademyRulesChanges } from "./api";
import { Picked } from "./Picked";
import { tr } from "@/lib/language";

type Drill = Schemas["OwnDrillOut"];
type Ask = NonNullable<Drill["asks"]>[number];

const AREAS = ["back", "neck", "shoulder", "elbow", "forearm", "wrist", "hip", "knee", "ankle"];
const MOMENTS = ["address", "takeaway", "shaft_level_back", "arm_level_back", "top", "arm_level_down", "shaft_level_down", "impact", "finish"];
const EMPTY: Omit<Drill, "id"> = {
  label: "",
  aim: "",
  how: "",
  feel: "",
  equipment: "",
  dose: "",
  caution: "",
  loads: [],
  asks: [],
  band: null,
  picture: "",
};

interface Props {
  /** Nothing for a new one. */
  drill: Drill | null;
  rules: Schemas["AcademyRulesOut"];
  catalogue: Schemas["Catalogue"];
  onClose: () => void;
}

/** One of the academy's own drills: what is done, what it asks of the body, the band that goes with it, its picture. */
export function OwnDrillSheet({ drill, rules, catalogue, onClose }: Props) {
  const { saveDrill, removeDrill } = useAcademyRulesChanges();
  const [form, setForm] = useState<Omit<Drill, "id">>(drill ?? EMPTY);
  const [typed, setTyped] = useState(bandText(form.band ?? null));
  const { band, wrong } = bandOf(typed);
  const set = (part: Partial<typeof form>) => setForm((old) => ({ ...old, ...part }));
  const asks = form.asks ?? [];
  const text = (label: string, key: "aim" | "equipment" | "dose" | "caution", max: number) => (
    <Field label={label}>
      <input className={inputLook} maxLength={max} value={form[key] ?? ""} onChange={(e) => set({ [key]: e.target.value })} />
    </Field>
  );
  return (
    <Sheet open onClose={onClose} title={drill ? drill.label : tr("New drill")}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          const { label, aim, how, feel, equipment, dose, caution, loads, picture } = form;
          const body = { id: drill?.id ?? "", revision: rules.revision, label, aim, how, feel, equipment, dose, caution, loads, picture };
          if (!wrong) saveDrill.mutate({ ...body, asks, band: band as Schemas["OwnDrillIn"]["band"] }, { onSuccess: onClose });
        }}
      >
        <Field label={tr("Name")}>
          <input className={inputLook} required maxLength={120} value={form.label} onChange={(e) => set({ label: e.target.value })} />
        </Field>
        <Field label={tr("How")}>
          <textarea className={inputLook} rows={3} required maxLength={2000} value={form.how} onChange={(e) => set({ how: e.target.value })} />
        </Field>
        <Field label={tr("Feel")}>
          <textarea className={inputLook} rows={2} required maxLength={1000} value={form.feel} onChange={(e) => set({ feel: e.target.value })} />
        </Field>
        <div className="flex items-end gap-4">
          <div className="flex-1">
            <Field label={tr("Picture")}>
              <select className={inputLook} value={form.picture ?? ""} onChange={(e) => set({ picture: e.target.value })}>
                <option value="">{tr("none")}</option>
                {Object.entries(pictures).map(([id, p]) => (
                  <option key={id} value={id}>
                    {p.label}
                  </option>
                ))}
              </select>
            </Field>
          </div>
          <DrillPicture name={form.picture ?? ""} mirror={false} className="h-[130px] w-[130px] flex-none" />
        </div>
        {text(tr("Aim"), "aim", 1000)}
        <div className="grid grid-cols-2 gap-4">
          {text(tr("Equipment"), "equipment", 200)}
          {text(tr("Dose"), "dose", 400)}
        </div>
        <Picked label={tr("Loads")} chosen={form.loads ?? []} options={AREAS.map((a) => ({ id: a, label: term(a) }))} onChange={(loads) => set({ loads })} />
        <Asks asks={asks} areas={catalogue.limit_areas} onChange={(next) => set({ asks: next })} />
        {text(tr("Care"), "caution", 1000)}
        <fieldset className="space-y-2">
          <legend className="text-muted">{tr("Trainer band")}</legend>
          <select
            aria-label={tr("Measure of the band")}
            className={inputLook}
            value={typed.metric}
            onChange={(e) => setTyped({ ...typed, metric: e.target.value })}
          >
            <option value="">{tr("none")}</option>
            {catalogue.metrics
              .filter((x) => x.trained)
              .map((x) => (
                <option key={x.id} value={x.id}>
                  {x.label}
                </option>
              ))}
          </select>
          {typed.metric ? (
            <div className="grid grid-cols-4 gap-2 max-[700px]:grid-cols-2">
              {(["start", "end"] as const).map((end) => (
                <Field key={end} label={end === "start" ? tr("From") : tr("To")}>
                  <select className={inputLook} value={typed[end]} onChange={(e) => setTyped({ ...typed, [end]: e.target.value })}>
                    {MOMENTS.map((x) => (
                      <option key={x} value={x}>
                        {moment(x)}
                      </option>
                    ))}
                  </select>
                </Field>
              ))}
              {(["low", "high"] as const).map((side) => (
                <Field key={side} label={side === "low" ? tr("Low") : tr("High")}>
                  <input className={inputLook} inputMode="decimal" value={typed[side]} onChange={(e) => setTyped({ ...typed, [side]: e.target.value })} />
                </Field>
              ))}
              <label className="col-span-full flex min-h-14 items-center gap-3 text-lg">
                <input
                  type="checkbox"
                  className="size-7 accent-[var(--ink)]"
                  checked={typed.relative}
                  onChange={(e) => setTyped({ ...typed, relative: e.target.checked })}
                />
                {tr("counted from the value at address")}
              </label>
            </div>
          ) : null}
          {wrong ? (
            <p role="alert" className="text-lg">
              {wrong}
            </p>
          ) : null}
        </fieldset>
        <ErrorLine error={saveDrill.error ?? removeDrill.error} />
        <div className="flex flex-wrap gap-3">
          <Button tone="solid" type="submit" disabled={saveDrill.isPending || wrong !== ""}>
            {tr("Save")}
          </Button>
          {drill ? (
            <Button disabled={removeDrill.isPending} onClick={() => removeDrill.mutate(drill.id, { onSuccess: onClose })}>
              {tr("Take out")}
            </Button>
          ) : null}
        </div>
      </form>
    </Sheet>
  );
}

/** Movements that the drill asks of the body: a player who is limited there is not offered it. */
function Asks({ asks, areas, onChange }: { asks: readonly Ask[]; areas: readonly Schemas["LimitArea"][]; onChange: (asks: Ask[]) => void }) {
  const change = (k: number, part: Partial<Ask>) => onChange(asks.map((a, i) => (i === k ? { ...a, ...part } : a)));
  return (
    <fieldset className="space-y-2">
      <legend className="text-muted">{tr("Asks of the body")}</legend>
      {asks.map((a, k) => (
        <div key={k} className="flex flex-wrap items-center gap-2">
          <select
            aria-label={tr("Movement of the {area}", { area: a.area })}
            className={`${inputLook} max-w-[220px]`}
            value={a.movement}
            onChange={(e) => change(k, { movement: e.target.value })}
          >
            {(areas.find((x) => x.area === a.area)?.movements ?? [a.movement]).map((x) => (
              <option key={x} value={x}>
                {a.area}: {x}
              </option>
            ))}
          </select>
          {areas.find((x) => x.area === a.area)?.sided ? (
            <select
              aria-label={tr("Side of the {area}", { area: a.area })}
              className={`${inputLook} max-w-[120px]`}
              value={a.side ?? ""}
              onChange={(e) => change(k, { side: e.target.value as "lead" })}
            >
              <option value="">{tr("both")}</option>
              <option value="lead">{tr("lead")}</option>
              <option value="trail">{tr("trail")}</option>
            </select>
          ) : null}
          <button type="button" className="min-h-14 px-2 text-lg underline" onClick={() => onChange(asks.filter((_, i) => i !== k))}>
            {tr("Leave out")}
          </button>
        </div>
      ))}
      <select
        aria-label={tr("Add what it asks")}
        className={inputLook}
        value=""
        onChange={(e) => {
          const area = areas.find((x) => x.area === e.target.value);
          if (area) onChange([...asks, { area: area.area, movement: area.movements[0]!, side: "", amount: null }]);
        }}
      >
        <option value="">{tr("Add …")}</option>
        {areas.map((a) => (
          <option key={a.area}>{a.area}</option>
        ))}
      </select>
    </fieldset>
  );
}
