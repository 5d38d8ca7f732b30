import { useRef, useState } from "react";
import { HowItSpeaks } from "./HowItSpeaks";

import type { Schemas } from "@/api/client";
import { useCatalogue, useMe } from "@/api/hooks";
import { Button, Choice, ErrorLine, Field, inputLook, Loading } from "@/shared/ui/controls";
import { DrillPicture } from "@/shared/drill/DrillPicture";

import { DrillSheet } from "./DrillSheet";
import { FindingSheet } from "./FindingSheet";
import { OwnDrillSheet } from "./OwnDrillSheet";
import { useAcademy, useAcademyRules, useAcademyRulesChanges, useSetClock } from "./api";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";

/** The academy's default schools, its wording of drills, its own drills and findings. */
export function AcademyRules() {
  const me = useMe();
  const rules = useAcademyRules();
  const catalogue = useCatalogue();
  const [text, setText] = useState("");
  const [open, setOpen] = useState<Schemas["DrillInfo"] | null>(null);
  const [finding, setFinding] = useState<Schemas["OwnFindingOut"] | "new" | null>(null);
  const [ownDrill, setOwnDrill] = useState<Schemas["OwnDrillOut"] | "new" | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const { bring, schools } = useAcademyRulesChanges();
  if (rules.isPending || catalogue.isPending) return <Loading what={tr("Reading the academy's choices")} />;
  if (!rules.data || !catalogue.data)
    return (
      <div className="p-7">
        <ErrorLine error={rules.error ?? catalogue.error} />
      </div>
    );
  const h = rules.data;
  const drills = catalogue.data.drills.filter((d) => `${d.label} ${d.aim} ${d.how}`.toLowerCase().includes(text.toLowerCase()));
  const openDrill = (d: Schemas["DrillInfo"]) => {
    const own = h.drills.find((o) => o.id === d.id);
    if (own) setOwnDrill(own);
    else setOpen(d);
  };
  return (
    <div className="panes h-full grid-cols-[520px_1fr] max-[1100px]:grid-cols-[420px_1fr]">
      <section className="min-h-0 space-y-5 overflow-y-auto border-r border-hairline px-7 py-4">
        <div>
          <h2 className="text-2xl font-bold">{tr("Schools of this academy")}</h2>
          <p className="text-lg text-muted">{tr("A player without a choice of their own follows these.")}</p>
          {catalogue.data.schools.map((s) => (
            <div key={s.axis} className="border-b border-hairline py-1">
              <p className="text-base text-muted">{s.label}</p>
              <Choice
                label={s.label}
                value={h.schools[s.axis] ?? ""}
                options={s.options.map((o) => ({ id: o.id, label: o.label }))}
                onChange={(id) => schools.mutate({ schools: { ...h.schools, [s.axis]: id }, revision: h.schools_revision })}
              />
            </div>
          ))}
        </div>
        <div>
          <h2 className="text-2xl font-bold">{tr("Own findings")}</h2>
          {h.findings.map((f) => (
            <button key={f.id} type="button" className="block min-h-14 w-full border-b border-hairline py-2 text-left text-lg" onClick={() => setFinding(f)}>
              <b>{f.label}</b>
              <span className="block text-base text-muted">{f.player_says}</span>
            </button>
          ))}
          {h.findings.length ? null : <p className="text-lg text-muted">{tr("None yet.")}</p>}
          <div className="mt-2 flex flex-wrap items-center gap-3">
            <Button tone="solid" onClick={() => setFinding("new")}>
              {tr("New finding")}
            </Button>
            <Button onClick={() => file.current?.click()}>{tr("Import TOML …")}</Button>
            <a className="inline-flex min-h-14 items-center text-lg underline" href="/api/academy-rules/export.toml" download>
              {tr("Export ours")}
            </a>
            <input
              ref={file}
              type="file"
              accept=".toml"
              aria-label={tr("File of findings and drills")}
              className="sr-only"
              onChange={(e) => {
                const f = e.target.files?.[0];
                if (f) bring.mutate(f);
                e.target.value = "";
              }}
            />
          </div>
        </div>
        {may(me, "own") ? (
          <>
            <Clock />
            <HowItSpeaks />
          </>
        ) : null}
        <ErrorLine error={bring.error ?? schools.error} />
      </section>
      <section className="flex min-h-0 flex-col">
        <div className="flex flex-none items-center gap-3 px-7 pt-3">
          <input
            aria-label={tr("Search drills")}
            placeholder={tr("Search drills")}
            className={`${inputLook} max-w-[360px]`}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <Button tone="solid" onClick={() => setOwnDrill("new")}>
            {tr("New drill")}
          </Button>
        </div>
        <ul className="min-h-0 flex-1 overflow-y-auto px-7 py-2">
          {drills.map((d) => (
            <li key={d.id} className="border-b border-hairline">
              <button type="button" className="flex min-h-14 w-full items-center gap-4 py-2 text-left text-lg" onClick={() => openDrill(d)}>
                <span className="h-[84px] w-[84px] flex-none" aria-hidden="true">
                  <DrillPicture name={d.picture} mirror={false} className="h-full w-full" />
                </span>
                <span>
                  <b>{d.label}</b>
                  {h.worded_drills.includes(d.id) ? tr(" · our wording") : h.drills.some((o) => o.id === d.id) ? tr(" · ours") : ""}
                  <span className="block text-base text-muted">{d.aim || d.how}</span>
                </span>
              </button>
            </li>
          ))}
          {drills.length ? null : <li className="py-6 text-xl">{tr("No drill has these words.")}</li>}
        </ul>
      </section>
      {open ? <DrillSheet key={open.id} drill={open} rules={h} onClose={() => setOpen(null)} /> : null}
      {finding ? <FindingSheet finding={finding === "new" ? null : finding} rules={h} drills={catalogue.data.drills} onClose={() => setFinding(null)} /> : null}
      {ownDrill ? <OwnDrillSheet drill={ownDrill === "new" ? null : ownDrill} rules={h} catalogue={catalogue.data} onClose={() => setOwnDrill(null)} /> : null}
    </div>
  );
}

/** By whose clock the diary's days begin and lessons are booked. */
function Clock() {
  const academy = useAcademy();
  const set = useSetClock();
  if (!academy.data) return <ErrorLine error={academy.error} />;
  return (
    <div>
      <h2 className="text-2xl font-bold">{tr("Clock of this academy")}</h2>
      <Field
        label={tr("Time zone")}
        note={tr(
          "Times in the diary are by this clock, across the change to summer time too. Lessons that are booked stay at the instant they were booked for.",
        )}
      >
        <select
          className={inputLook}
          value={academy.data.time_zone}
          onChange={(e) => set.mutate({ time_zone: e.target.value, revision: academy.data.revision })}
        >
          {academy.data.time_zones.map((z) => (
            <option key={z} value={z}>
              {z.replaceAll("_", " ")}
            </option>
          ))}
        </select>
      </Field>
      <ErrorLine error={set.error} />
    </div>
  );
}
