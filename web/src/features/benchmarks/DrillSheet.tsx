import { useState } from "react";

import type { Schemas } from "@/api/client";
import { DrillPicture } from "@/shared/drill/DrillPicture";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { useAcademyRulesChanges } from "./api";
import { tr } from "@/lib/language";

/** A drill with all that goes with it, and the academy's own wording. */
export function DrillSheet({ drill, rules, onClose }: { drill: Schemas["DrillInfo"]; rules: Schemas["AcademyRulesOut"]; onClose: () => void }) {
  const [words, setWords] = useState({ label: drill.label, how: drill.how, feel: drill.feel });
  const { drill: save } = useAcademyRulesChanges();
  const keep = (body: { label: string; how: string; feel: string }) =>
    save.mutate({ id: drill.id, body: { ...body, revision: rules.revision } }, { onSuccess: onClose });
  const set = (part: Partial<typeof words>) => setWords((old) => ({ ...old, ...part }));
  return (
    <Sheet open onClose={onClose} title={drill.label}>
      <DrillPicture name={drill.picture} mirror={false} className="mb-3 h-[190px] w-full" />
      <dl className="grid grid-cols-[110px_1fr] gap-y-1 text-lg">
        {[
          [tr("Aim"), drill.aim],
          [tr("Equipment"), drill.equipment],
          [tr("Dose"), drill.dose],
          [tr("Trainer"), drill.band],
          [tr("Care"), drill.caution],
        ]
          .filter(([, v]) => v)
          .map(([k, v]) => (
            <div key={k} className="contents">
              <dt className="text-muted">{k}</dt>
              <dd>{v}</dd>
            </div>
          ))}
      </dl>
      <form
        className="mt-4 space-y-3 border-t border-hairline pt-4"
        onSubmit={(e) => {
          e.preventDefault();
          keep(words);
        }}
      >
        <Field label={tr("Name")}>
          <input className={inputLook} required value={words.label} onChange={(e) => set({ label: e.target.value })} />
        </Field>
        <Field label={tr("How")}>
          <textarea className={inputLook} rows={4} required value={words.how} onChange={(e) => set({ how: e.target.value })} />
        </Field>
        <Field label={tr("Feel")}>
          <textarea className={inputLook} rows={2} required value={words.feel} onChange={(e) => set({ feel: e.target.value })} />
        </Field>
        <p className="text-base text-muted">{tr("Our wording stands on the plan and on the page. Care and limits stay as they are.")}</p>
        <ErrorLine error={save.error} />
        <div className="flex flex-wrap gap-3">
          <Button tone="solid" type="submit" disabled={save.isPending}>
            {tr("Save our wording")}
          </Button>
          {rules.worded_drills.includes(drill.id) ? <Button onClick={() => keep({ label: "", how: "", feel: "" })}>{tr("Back to the built-in")}</Button> : null}
        </div>
      </form>
    </Sheet>
  );
}
