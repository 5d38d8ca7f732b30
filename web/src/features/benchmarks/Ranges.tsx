import { useEffect, useRef, useState } from "react";

import { Problem, type Schemas } from "@/api/client";
import { useVersions } from "@/api/hooks";
import { search, withEdit, withoutEdit, type Draft } from "@/lib/ranges";
import { Button, ErrorLine, Field, inputLook, Loading } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { useBenchmarkChanges, useDifferences, useRanges } from "./api";
import { RangeSheet } from "./RangeSheet";

const FAMILIES: Record<string, string> = {
  "": "All",
  wrist: "Wrist",
  turn: "Turn",
  posture: "Posture",
  travel: "Travel",
  arms_legs: "Arms, legs",
  club: "Club",
  timing: "Timing",
  sequence: "Sequence",
  ground: "Ground",
};
const KEY = "benchmark-draft";
const kept = (): Draft | null => JSON.parse(sessionStorage.getItem(KEY) ?? "null") as Draft | null;

/** The ranges of a version, each with its source; changes become the academy's next version. */
export function Ranges() {
  const versions = useVersions();
  const [chosen, setChosen] = useState("");
  const [family, setFamily] = useState("");
  const [text, setText] = useState("");
  const [open, setOpen] = useState("");
  const [saving, setSaving] = useState(false);
  const [draft, setDraft] = useState<Draft | null>(kept);
  const file = useRef<HTMLInputElement>(null);
  const { use, retire, bring } = useBenchmarkChanges();
  const label = draft?.base ?? (chosen || (versions.data?.find((v) => v.in_use)?.label ?? ""));
  const ranges = useRanges(label);
  useEffect(() => {
    if (draft) sessionStorage.setItem(KEY, JSON.stringify(draft));
    else sessionStorage.removeItem(KEY);
  }, [draft]);
  const version = versions.data?.find((v) => v.label === label);
  const shown = ranges.data ? search(ranges.data.ranges, text, family) : [];
  const changes = draft?.changes ?? [];
  const range = ranges.data?.ranges.find((r) => r.id === open);
  const link = "inline-flex min-h-14 items-center text-lg underline";

  return (
    <div className="panes h-full grid-cols-[330px_1fr] max-[1100px]:grid-cols-[260px_1fr]">
      <aside className="min-h-0 overflow-y-auto border-r border-hairline px-7 py-4">
        <h2 className="text-lg text-muted">Versions</h2>
        <ul>
          {(versions.data ?? []).map((v) => (
            <li key={v.label}>
              <button
                type="button"
                aria-pressed={v.label === label}
                disabled={draft !== null && v.label !== label}
                onClick={() => setChosen(v.label)}
                className={`min-h-14 w-full text-left text-lg disabled:opacity-45 ${v.label === label ? "font-bold underline decoration-2 underline-offset-8" : ""} ${v.retired ? "text-muted" : ""}`}
              >
                {v.built_in ? "Built in" : v.label}
                {v.in_use ? " · in use" : v.retired ? " · retired" : ""}
              </button>
            </li>
          ))}
        </ul>
        {version ? (
          <div className="mt-3 border-t border-hairline pt-3 text-base text-muted">
            <p>{version.note}</p>
            <p>
              {version.built_in ? version.label : `Based on ${version.based_on || "a file"}, by ${version.made_by}.`} {version.ranges} ranges.
            </p>
          </div>
        ) : null}
        {version ? (
          <div className="mt-3 flex flex-col items-start gap-1">
            {version.in_use ? null : (
              <Button disabled={use.isPending || version.retired} onClick={() => use.mutate(version.label)}>
                Use this from now on
              </Button>
            )}
            {version.built_in || version.in_use ? null : (
              <button type="button" className={link} onClick={() => retire.mutate({ label: version.label, back: version.retired })}>
                {version.retired ? "Take out of retirement" : "Retire"}
              </button>
            )}
            <a className={link} href={`/api/benchmarks/export.toml?label=${encodeURIComponent(version.label)}`} download>
              Export as TOML
            </a>
            <a className={link} href={`/api/benchmarks/export.csv?label=${encodeURIComponent(version.label)}`} download>
              Export as CSV
            </a>
            <button type="button" className={link} onClick={() => file.current?.click()}>
              Import TOML or CSV …
            </button>
            <input
              ref={file}
              type="file"
              accept=".toml,.csv"
              aria-label="File of ranges"
              className="sr-only"
              onChange={(e) => {
                const f = e.target.files?.[0];
                if (f) bring.mutate(f, { onSuccess: (made) => setChosen(made.label) });
                e.target.value = "";
              }}
            />
          </div>
        ) : null}
        <ErrorLine error={versions.error ?? use.error ?? retire.error ?? bring.error} />
      </aside>
      <section className="flex min-h-0 flex-col">
        <div className="flex flex-none items-center gap-3 px-7 pt-3">
          <input
            aria-label="Search ranges"
            placeholder="Search: thorax, top, house value …"
            className={`${inputLook} max-w-[360px]`}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <select aria-label="Group" className={`${inputLook} max-w-[180px]`} value={family} onChange={(e) => setFamily(e.target.value)}>
            {Object.entries(FAMILIES).map(([id, name]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
          <p className="text-lg text-muted">
            {shown.length} of {ranges.data?.ranges.length ?? 0}
          </p>
        </div>
        {ranges.isPending && label ? <Loading what="Reading the ranges" /> : null}
        <ErrorLine error={ranges.error} />
        <ul className="min-h-0 flex-1 overflow-y-auto px-7 py-2">
          {shown.map((r) => {
            const edit = changes.find((c) => c.id === r.id);
            return (
              <li key={r.id} className="border-b border-hairline">
                <button
                  type="button"
                  onClick={() => setOpen(r.id)}
                  className="grid min-h-14 w-full grid-cols-[1fr_250px_250px] items-baseline gap-x-4 py-2 text-left max-[1100px]:grid-cols-[1fr_200px_180px] max-[900px]:grid-cols-1"
                >
                  <span>
                    <b className="text-lg">{r.label}</b> <span className="text-lg">{r.moment === "whole swing" ? "" : r.moment}</span>
                    <span className="block text-base text-muted">
                      {[r.id, r.club_class || "any club", r.school, r.population === "adult" ? "" : r.population].filter(Boolean).join(" · ")}
                    </span>
                  </span>
                  <span className="text-lg">
                    {edit ? (
                      <>
                        <s>{r.words}</s> <b>{edit.retire ? "taken out" : "changed"}</b>
                      </>
                    ) : (
                      r.words
                    )}
                    {r.leans && r.leans !== r.words ? <span className="block text-base text-muted">{r.leans}</span> : null}
                  </span>
                  <span className="text-base text-muted">
                    {r.synthetic ? <b>Synthetic. </b> : null}
                    {r.provenance}
                  </span>
                </button>
              </li>
            );
          })}
          {ranges.data && shown.length === 0 ? <li className="py-6 text-xl">No range has all of these words.</li> : null}
        </ul>
        {changes.length ? (
          <div className="flex flex-none items-center gap-3 border-t-2 border-ink px-7 py-2">
            <p className="flex-1 text-lg">
              <b>
                {changes.length} change{changes.length === 1 ? "" : "s"}
              </b>{" "}
              to {label}, not saved yet.
            </p>
            <Button onClick={() => setDraft(null)}>Forget</Button>
            <Button tone="solid" onClick={() => setSaving(true)}>
              Save as next version
            </Button>
          </div>
        ) : null}
      </section>
      <RangeSheet
        range={range}
        edit={changes.find((c) => c.id === open)}
        onClose={() => setOpen("")}
        onEdit={(e) => {
          setDraft((d) => withEdit(d ?? { base: label, changes: [] }, e));
          setOpen("");
        }}
        onUndo={() => {
          setDraft((d) => {
            const next = d ? withoutEdit(d, open) : d;
            return next && next.changes.length ? next : null;
          });
          setOpen("");
        }}
      />
      {saving && draft ? (
        <SaveSheet
          draft={draft}
          version={version}
          onClose={() => setSaving(false)}
          onSaved={(made) => {
            setDraft(null);
            setSaving(false);
            setChosen(made);
          }}
        />
      ) : null}
    </div>
  );
}

/** Name and note of the next version. Whoever saves second is told, sees both, and loses nothing. */
function SaveSheet({
  draft,
  version,
  onClose,
  onSaved,
}: {
  draft: Draft;
  version: Schemas["VersionOut"] | undefined;
  onClose: () => void;
  onSaved: (label: string) => void;
}) {
  const versions = useVersions();
  const newest = (name: string) => (versions.data ?? []).filter((v) => v.name === name).sort((a, b) => b.number - a.number)[0];
  const [name, setName] = useState(version && !version.built_in ? version.name : "Our ranges");
  const [note, setNote] = useState("");
  const { save } = useBenchmarkChanges();
  const overtaken = save.error instanceof Problem && save.error.code === "overtaken";
  const latest = overtaken && !versions.isFetching ? newest(name) : undefined;
  // until the list is read again, the newest one known is the one this was built on: it is not what overtook us
  const theirs = latest?.label === save.variables?.base ? undefined : latest;
  const differences = useDifferences(theirs ? draft.base : "", theirs?.label ?? "");
  const submit = (base: string) =>
    save.mutate(
      { name: name.trim(), base, changes: draft.changes, note },
      { onSuccess: (made) => onSaved(made.label), onError: () => void versions.refetch() },
    );
  return (
    <Sheet open onClose={onClose} title="Save as next version">
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          submit(draft.base);
        }}
      >
        <Field label="Name">
          <input className={inputLook} required maxLength={60} value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Field label="What was changed, and why">
          <textarea className={inputLook} rows={3} maxLength={2000} value={note} onChange={(e) => setNote(e.target.value)} />
        </Field>
        <p className="text-lg text-muted">
          It becomes {name.trim() || "…"} {(newest(name.trim())?.number ?? 0) + 1}. Nothing is judged by it until it is put to use; results keep the version
          they were judged by.
        </p>
        <ErrorLine error={save.error} />
        {theirs ? (
          <div className="border-l-4 border-ink pl-3 text-lg">
            <p>
              <b>{theirs.label}</b>, by {theirs.made_by}, differs from {draft.base} in:
            </p>
            <ul>
              {(differences.data ?? []).map((d) => (
                <li key={d.id}>
                  {d.label}: {d.before} → {d.after}
                </li>
              ))}
            </ul>
            <Button className="mt-2" onClick={() => submit(theirs.label)}>
              Save mine on top of it
            </Button>
          </div>
        ) : null}
        <Button tone="solid" type="submit" disabled={save.isPending || overtaken}>
          Save
        </Button>
      </form>
    </Sheet>
  );
}
