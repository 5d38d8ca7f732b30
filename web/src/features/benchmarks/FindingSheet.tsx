import { useState } from "react";
import { term } from "@/lib/terms";

import type { Schemas } from "@/api/client";
import { BLANKS, firstSentence, keyOf, measureChoices, wayWords, type ShownAt, type Way } from "@/lib/ownRules";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { useAcademyRulesChanges, useRanges } from "./api";
import { Picked } from "./Picked";
import { tr } from "@/lib/language";

type Finding = Schemas["OwnFindingOut"];

const PHASES = ["setup", "takeaway", "top", "transition", "downswing", "impact"] as const;
const LEVELS = ["body", "hands", "shaft", "face"] as const;
const EMPTY: Omit<Finding, "id" | "examples"> = {
  label: "",
  plain_label: "",
  phase: "top",
  level: "hands",
  shown: [],
  together: "all",
  says: "",
  player_says: "",
  tends: tr("That tends to "),
  drills: [],
  caution: "",
};

interface Props {
  /** Nothing for a new one. */
  finding: Finding | null;
  rules: Schemas["AcademyRulesOut"];
  drills: readonly Schemas["DrillInfo"][];
  onClose: () => void;
}

/** One of the academy's own findings: when it speaks, what it says to whom, what is done about it. */
export function FindingSheet({ finding, rules, drills, onClose }: Props) {
  const ranges = useRanges("");
  const { saveFinding, remove } = useAcademyRulesChanges();
  const [form, setForm] = useState(finding ?? EMPTY);
  const choices = measureChoices(ranges.data?.ranges ?? []);
  const set = (part: Partial<typeof form>) => setForm((old) => ({ ...old, ...part }));
  const fromFile = finding !== null && finding.shown.length === 0;
  const change = (k: number, part: Partial<ShownAt>) =>
    set({ shown: form.shown.map((s, i) => (i === k ? ({ ...s, ...part } as Finding["shown"][number]) : s)) });
  const add = (key: string) => {
    const choice = choices.find((c) => c.key === key);
    if (!choice) return;
    const shown = [...form.shown, { metric: choice.metric, moment: choice.moment, way: choice.sides[0]! } as Finding["shown"][number]];
    set({ shown, ...(form.says ? {} : { says: firstSentence(choice) }) });
  };
  return (
    <Sheet open onClose={onClose} title={finding ? finding.label : tr("New finding")}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          const { label, plain_label, phase, level, shown, together, says, player_says, tends, drills: chosen, caution } = form;
          saveFinding.mutate(
            {
              id: finding?.id ?? "",
              revision: rules.revision,
              label,
              plain_label: plain_label || label,
              phase,
              level,
              shown,
              together,
              says,
              player_says,
              tends,
              drills: chosen ?? [],
              caution: caution ?? "",
            },
            { onSuccess: onClose },
          );
        }}
      >
        <Field label={tr("Name")}>
          <input className={inputLook} required maxLength={120} value={form.label} onChange={(e) => set({ label: e.target.value })} />
        </Field>
        <Field label={tr("Name in plain words")}>
          <input
            className={inputLook}
            maxLength={120}
            placeholder={form.label}
            value={form.plain_label}
            onChange={(e) => set({ plain_label: e.target.value })}
          />
        </Field>
        <fieldset className="space-y-2">
          <legend className="text-muted">{tr("When it speaks")}</legend>
          {fromFile ? <p className="text-lg">{tr("As the file says; it asks more than can be chosen here. Choosing a measure replaces it.")}</p> : null}
          {form.shown.map((s, k) => {
            const choice = choices.find((c) => c.key === keyOf(s));
            return (
              <div key={`${keyOf(s)}${k}`} className="flex flex-wrap items-center gap-2 border-b border-hairline pb-2">
                <p className="w-full text-lg font-bold">{choice?.label ?? keyOf(s)}</p>
                <select
                  aria-label={tr("Side of {what}", { what: choice?.label ?? s.metric })}
                  className={`${inputLook} min-w-0 flex-1`}
                  value={s.way}
                  onChange={(e) => change(k, { way: e.target.value as Way })}
                >
                  {(choice?.sides ?? [s.way]).map((way) => (
                    <option key={way} value={way}>
                      {wayWords(way, choice?.ways ?? "")}
                    </option>
                  ))}
                </select>
                <button type="button" className="min-h-14 px-2 text-lg underline" onClick={() => set({ shown: form.shown.filter((_, i) => i !== k) })}>
                  {tr("Leave out")}
                </button>
              </div>
            );
          })}
          {form.shown.length > 1 ? (
            <Choice
              label={tr("How many of them")}
              value={form.together}
              options={[
                { id: "all", label: tr("all of these") },
                { id: "any", label: tr("any of these") },
              ]}
              onChange={(together) => set({ together })}
            />
          ) : null}
          <select
            aria-label={tr("Add a measure")}
            className={inputLook}
            value=""
            required={!fromFile && form.shown.length === 0}
            onChange={(e) => add(e.target.value)}
          >
            <option value="">{form.shown.length ? tr("Another measure …") : tr("Choose a measure …")}</option>
            {choices.map((c) => (
              <option key={c.key} value={c.key}>
                {c.label}
              </option>
            ))}
          </select>
          <ErrorLine error={ranges.error} />
        </fieldset>
        <div className="grid grid-cols-2 gap-4">
          <Field label={tr("Part of the swing")}>
            <select className={inputLook} value={form.phase} onChange={(e) => set({ phase: e.target.value as Finding["phase"] })}>
              {PHASES.map((p) => (
                <option key={p} value={p}>
                  {term(p)}
                </option>
              ))}
            </select>
          </Field>
          <Field label={tr("What of the player")}>
            <select className={inputLook} value={form.level} onChange={(e) => set({ level: e.target.value as Finding["level"] })}>
              {LEVELS.map((l) => (
                <option key={l} value={l}>
                  {term(l)}
                </option>
              ))}
            </select>
          </Field>
        </div>
        <Field label={tr("What you read")}>
          <textarea className={inputLook} rows={2} required maxLength={1000} value={form.says} onChange={(e) => set({ says: e.target.value })} />
        </Field>
        <div className="flex flex-wrap gap-2">
          {BLANKS.map(({ blank, says }) => (
            <button
              key={blank}
              type="button"
              className="min-h-14 rounded-full border border-ink px-4 text-base"
              onClick={() => set({ says: `${form.says.trimEnd()} ${blank}`.trimStart() })}
            >
              {says}
            </button>
          ))}
        </div>
        <Field label={tr("What the player hears")} note={tr("A fault is a difference: what was measured, without blame.")}>
          <textarea className={inputLook} rows={2} required maxLength={1000} value={form.player_says} onChange={(e) => set({ player_says: e.target.value })} />
        </Field>
        <Field label={tr("What it tends to do")}>
          <textarea className={inputLook} rows={2} required maxLength={1000} value={form.tends} onChange={(e) => set({ tends: e.target.value })} />
        </Field>
        <Picked
          label={tr("Drills")}
          chosen={form.drills ?? []}
          options={drills.map((d) => ({ id: d.id, label: d.label }))}
          onChange={(chosen) => set({ drills: chosen })}
        />
        <Field label={tr("Care")}>
          <input className={inputLook} maxLength={1000} value={form.caution ?? ""} onChange={(e) => set({ caution: e.target.value })} />
        </Field>
        {finding?.examples.length ? <p className="text-lg text-muted">{tr("It {examples}.", { examples: finding.examples.join(tr("; it ")) })}</p> : null}
        <ErrorLine error={saveFinding.error ?? remove.error} />
        <div className="flex flex-wrap gap-3">
          <Button tone="solid" type="submit" disabled={saveFinding.isPending}>
            {tr("Save")}
          </Button>
          {finding ? (
            <Button disabled={remove.isPending} onClick={() => remove.mutate(finding.id, { onSuccess: onClose })}>
              {tr("Take out")}
            </Button>
          ) : null}
        </div>
      </form>
    </Sheet>
  );
}
