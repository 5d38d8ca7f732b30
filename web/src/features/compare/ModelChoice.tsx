import { useState } from "react";

import type { Schemas } from "@/api/client";
import { Button, Choice } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  /** One of each kind, in the player's ways. */
  models: readonly Schemas["ChoiceOut"][];
  catalogue: Schemas["Catalogue"];
  chosen: string;
  onChoose: (key: string) => void;
}

/** Schools in the order in which a model swing's key names their options. */
const SCHOOLS = ["lead_wrist", "pelvis", "pressure"];

/** A skilled swing of the golfer model: club or shot, and each way of swinging that is taught. */
export function ModelChoice({ models, catalogue, chosen, onChoose }: Props) {
  const [key, setKey] = useState(chosen.startsWith("model:") ? chosen : (models[0]?.key ?? ""));
  if (!key) return null;
  const [kind, ...ways] = key.slice("model:".length).split(".") as [string, ...string[]];
  const made = (k: string, w: readonly string[]) => `model:${[k, ...w].join(".")}`;
  return (
    <section aria-label={tr("A synthetic skilled swing")} className="pt-3">
      <h3 className="text-xl font-semibold">{tr("A skilled swing, synthetic")}</h3>
      <p className="text-lg text-muted">{tr("By the golfer model, no player’s. A pitch, chip or bunker shot has no ranges.")}</p>
      <Choice
        label={tr("Club or shot")}
        value={kind}
        options={models.map((m) => ({ id: m.key.slice("model:".length).split(".")[0]!, label: m.name }))}
        onChange={(k) => setKey(made(k, ways))}
      />
      {SCHOOLS.map((id, place) => {
        const school = catalogue.schools.find((s) => s.axis === id);
        return school ? (
          <div key={id} className="flex flex-wrap items-center gap-x-4">
            <span className="w-[260px] text-lg max-[700px]:w-full">{school.label}</span>
            <Choice
              label={school.label}
              value={ways[place]!}
              options={school.options.map((o) => ({ id: o.id, label: o.label }))}
              onChange={(way) => setKey(made(kind, ways.with(place, way)))}
            />
          </div>
        ) : null;
      })}
      <Button tone="solid" onClick={() => onChoose(key)}>
        {tr("Compare with it")}
      </Button>
    </section>
  );
}
