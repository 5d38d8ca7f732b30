import type { Schemas } from "@/api/client";
import { useVersions } from "@/api/hooks";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import type { Vocabulary } from "@/lib/words";

import { useSchools, useWhatIf } from "./usePlan";
import { useStateFrom } from "@/shared/ui/useStateFrom";
import { tr } from "@/lib/language";

interface Props {
  open: boolean;
  onClose: () => void;
  lesson: Schemas["LessonOut"];
  catalogue: Schemas["Catalogue"];
  words: Vocabulary;
}

/** Another school, or other ranges: what would change and why, before it is kept. */
export function WhatIf({ open, onClose, lesson, catalogue, words }: Props) {
  const [schools, setSchools] = useStateFrom<Record<string, string>>(() => ({}), `${open} ${lesson.id}`);
  const [benchmarks, setBenchmarks] = useStateFrom(() => "", `${open} ${lesson.id}`);
  const closest = useSchools(lesson.id);
  const versions = useVersions();
  const asked = Object.keys(schools).length > 0 || benchmarks !== "";
  const { what, keep } = useWhatIf(lesson.id, { schools, benchmarks }, open && asked);
  const choose = (axis: string, option: string) =>
    setSchools((old) => {
      const next = { ...old, [axis]: option };
      if (option === lesson.schools[axis]) delete next[axis];
      return next;
    });
  return (
    <Sheet open={open} onClose={onClose} title={tr("Judge it otherwise")} wide>
      <div className="grid grid-cols-[380px_1fr] gap-7 max-[900px]:grid-cols-1">
        <div>
          <p className="text-base text-muted">{tr("A school is a way of swinging that is taught. It decides which bands hold; it changes no measurement.")}</p>
          {catalogue.schools.map((s) => {
            const near = closest.data?.find((c) => c.axis === s.axis);
            const evidence = (near?.options ?? []).flatMap((o) => o.evidence.map((e) => `${o.label}: ${e}`));
            return (
              <section key={s.axis} className="border-b border-hairline py-1">
                <h3 className="text-base text-muted">{s.label}</h3>
                <Choice
                  className="-ml-3"
                  label={s.label}
                  value={schools[s.axis] ?? lesson.schools[s.axis] ?? ""}
                  options={s.options.map((o) => ({ id: o.id, label: o.label }))}
                  onChange={(id) => choose(s.axis, id)}
                />
                {near && evidence.length ? (
                  <details className="text-base">
                    <summary className="min-h-9 cursor-pointer">{near.sentence}</summary>
                    <ul className="pb-2 text-base text-muted">
                      {evidence.map((e) => (
                        <li key={e}>{e}</li>
                      ))}
                    </ul>
                  </details>
                ) : near ? (
                  <p className="pb-1 text-base text-muted">{near.sentence}</p>
                ) : null}
              </section>
            );
          })}
          <Field label={tr("Ranges")}>
            <select
              className={inputLook}
              value={benchmarks || lesson.benchmarks}
              onChange={(e) => setBenchmarks(e.target.value === lesson.benchmarks ? "" : e.target.value)}
            >
              {(versions.data ?? [])
                .filter((v) => !v.retired || v.label === lesson.benchmarks)
                .map((v) => (
                  <option key={v.label} value={v.label}>
                    {v.built_in ? tr("Built in ({label})", { label: v.label }) : v.label}
                    {v.in_use ? tr(", in use") : ""}
                  </option>
                ))}
            </select>
          </Field>
        </div>
        <div aria-live="polite">
          {!asked ? <p className="text-2xl font-bold">{tr("Choose another school or other ranges, and see here what would change.")}</p> : null}
          {asked && what.isPending ? <p className="text-xl text-muted">{tr("Judging again …")}</p> : null}
          <ErrorLine error={what.error ?? keep.error} />
          {asked && what.data ? (
            <>
              <Differences what={what.data} words={words} />
              <div className="mt-4 flex flex-wrap gap-3">
                <Button tone="solid" disabled={keep.isPending} onClick={() => keep.mutate(undefined, { onSuccess: onClose })}>
                  {tr("Keep it")}
                </Button>
                <Button
                  onClick={() => {
                    setSchools({});
                    setBenchmarks("");
                  }}
                >
                  {tr("Leave it as it is")}
                </Button>
              </div>
            </>
          ) : null}
        </div>
      </div>
    </Sheet>
  );
}

function Differences({ what, words }: { what: Schemas["WhatIfOut"]; words: Vocabulary }) {
  const name = (f: { label: string; plain_label: string }) => (words === "plain" ? f.plain_label : f.label);
  if (what.nothing)
    return (
      <p className="text-2xl font-bold">
        {tr("Nothing would change over {what}.", { what: what.counting === 1 ? tr("this swing") : tr("these {counting} swings", { counting: what.counting }) })}
      </p>
    );
  const first = (ps: Schemas["ProposalOut"][]) => ps.map(name).join("; ") || tr("nothing to change");
  return (
    <div className="space-y-3">
      <div>
        {first(what.before) === first(what.after) ? (
          <p className="text-2xl font-bold">{tr("The priorities stay: {first}", { first: first(what.after) })}</p>
        ) : (
          <>
            <p className="text-lg text-muted">{tr("Priorities now: {first}", { first: first(what.before) })}</p>
            <p className="text-2xl font-bold">{tr("Then: {first}", { first: first(what.after) })}</p>
          </>
        )}
        {what.after[0] && what.after[0].finding !== what.before[0]?.finding ? (
          <p className="text-lg">{words === "plain" ? what.after[0].plain_why : what.after[0].why}</p>
        ) : null}
      </div>
      {what.gone.length ? (
        <p className="text-xl">
          {tr("No longer a finding:")} <b>{what.gone.map(name).join("; ")}</b>
        </p>
      ) : null}
      {what.new.length ? (
        <p className="text-xl">
          {tr("A finding then:")} <b>{what.new.map(name).join("; ")}</b>
        </p>
      ) : null}
      {what.verdicts.length ? (
        <ul className="text-lg">
          {what.verdicts.map((v) => (
            <li key={`${v.label}${v.moment}`} className="border-b border-hairline py-1.5">
              <b>
                {words === "plain" ? v.plain_label : v.label}, {v.moment}:
              </b>{" "}
              {tr("{before} → {after} in {swings} of {of}", { before: v.before, after: v.after, swings: v.swings, of: v.of })}
              <span className="block text-base text-muted">{v.because}</span>
            </li>
          ))}
        </ul>
      ) : null}
    </div>
  );
}
