import { useState } from "react";
import { FOOT_M } from "@/lib/units";

import type { Schemas } from "@/api/client";
import { distanceWords, sameDistance, type Unit } from "@/lib/putts";
import { Button, Choice, Field, inputLook } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  plan: Schemas["PuttPlanOut"];
  busy: boolean;
  onPlan: (plan: Schemas["PuttPlanIn"]) => void;
}

/** From which distances putts are made, how many of each, told in metres or feet. */
export function PlanForm({ plan, busy, onPlan }: Props) {
  const [text, setText] = useState("");
  const unit = plan.unit as Unit;
  const metres = Number(text.replace(",", ".")) * (unit === "ft" ? FOOT_M : 1);
  const usable = metres >= 0.3 && metres <= 60 && plan.distances_m.length < 8 && !plan.distances_m.some((d) => sameDistance(d, metres));
  return (
    <section className="mt-5 border-t border-hairline pt-3">
      <h3 className="text-xl font-bold">{tr("Distances")}</h3>
      <ul className="flex flex-wrap gap-2">
        {plan.distances_m.map((d) => (
          <li key={d}>
            <Button
              disabled={busy || plan.distances_m.length === 1}
              aria-label={tr("Leave {distanceWords} out", { distanceWords: distanceWords(d, unit) })}
              onClick={() => onPlan({ distances_m: plan.distances_m.filter((x) => x !== d) })}
            >
              {distanceWords(d, unit)} <span aria-hidden>×</span>
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="mt-2 flex items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (!usable) return;
          onPlan({ distances_m: [...plan.distances_m, Math.round(metres * 1000) / 1000] });
          setText("");
        }}
      >
        <div className="w-44">
          <Field label={tr("Another, in {what}", { what: unit === "ft" ? tr("feet") : tr("metres") })}>
            <input className={inputLook} inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
          </Field>
        </div>
        <Button type="submit" disabled={busy || !usable}>
          {tr("Add")}
        </Button>
      </form>
      <div className="mt-2 flex flex-wrap items-center gap-x-6">
        <Choice
          label={tr("Told in")}
          value={unit}
          onChange={(u) => onPlan({ unit: u })}
          options={[
            { id: "m", label: tr("Metres") },
            { id: "ft", label: tr("Feet") },
          ]}
        />
        <span className="text-lg text-muted">{tr("putts each")}</span>
        <Choice
          label={tr("Putts each")}
          value={String(plan.each)}
          onChange={(each) => onPlan({ each: Number(each) })}
          options={[...new Set([3, 5, 8, 10, plan.each])].sort((a, b) => a - b).map((n) => ({ id: String(n), label: String(n) }))}
        />
      </div>
      <p className="text-lg text-muted">{tr("Choosing metres or feet brings the usual three distances. At least five putts each say more.")}</p>
    </section>
  );
}
