import { useEffect, useState } from "react";

import { useVersions } from "@/api/hooks";
import { search, withEdit, withoutEdit, type Draft } from "@/lib/ranges";
import { Button, Choice, ErrorLine, inputLook, Loading } from "@/shared/ui/controls";

import { useRanges } from "./api";
import { Drawn } from "./Drawn";
import { RangeList } from "./RangeList";
import { RangeSheet } from "./RangeSheet";
import { SaveSheet } from "./SaveSheet";
import { Versions } from "./Versions";
import { tr, trn } from "@/lib/language";

const FAMILIES: Record<string, string> = {
  "": tr("All"),
  wrist: tr("Wrist"),
  turn: tr("Turn"),
  posture: tr("Posture"),
  travel: tr("Travel"),
  arms_legs: tr("Arms, legs"),
  club: tr("Club"),
  timing: tr("Timing"),
  sequence: tr("Sequence"),
  ground: tr("Ground"),
};
const KEY = "benchmark-draft";
const kept = (): Draft | null => JSON.parse(sessionStorage.getItem(KEY) ?? "null") as Draft | null;

type Look = "drawn" | "list";

/** The ranges of a version, drawn along the swing or listed; changes become the academy's next version. */
export function Ranges() {
  const versions = useVersions();
  const [look, setLook] = useState<Look>("drawn");
  const [chosen, setChosen] = useState("");
  const [family, setFamily] = useState("");
  const [text, setText] = useState("");
  const [open, setOpen] = useState("");
  const [saving, setSaving] = useState(false);
  const [draft, setDraft] = useState<Draft | null>(kept);
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

  return (
    <div className={`panes h-full ${look === "list" ? "grid-cols-[330px_1fr] max-[1100px]:grid-cols-[260px_1fr]" : "grid-cols-1"}`}>
      {look === "list" ? <Versions label={label} fixed={draft !== null} onChoose={setChosen} /> : null}
      <section className="flex min-h-0 flex-col">
        <div className="flex flex-none flex-wrap items-center gap-x-3 px-7 pt-1">
          <Choice
            label={tr("How the ranges are shown")}
            value={look}
            options={[
              { id: "drawn", label: tr("Drawn") },
              { id: "list", label: tr("List") },
            ]}
            onChange={setLook}
          />
          {look === "list" ? (
            <>
              <input
                aria-label={tr("Search ranges")}
                placeholder={tr("Search: thorax, top, house value …")}
                className={`${inputLook} max-w-[320px]`}
                value={text}
                onChange={(e) => setText(e.target.value)}
              />
              <select aria-label={tr("Group")} className={`${inputLook} max-w-[160px]`} value={family} onChange={(e) => setFamily(e.target.value)}>
                {Object.entries(FAMILIES).map(([id, name]) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </select>
              <p className="text-lg text-muted">{tr("{length} of {what}", { length: shown.length, what: ranges.data?.ranges.length ?? 0 })}</p>
            </>
          ) : (
            <label className="flex items-center gap-2 text-lg text-muted">
              {tr("Version")}
              <select
                aria-label={tr("Version")}
                className={`${inputLook} max-w-[260px]`}
                value={label}
                disabled={draft !== null}
                onChange={(e) => setChosen(e.target.value)}
              >
                {(versions.data ?? []).map((v) => (
                  <option key={v.label} value={v.label}>
                    {v.built_in ? tr("Built in") : v.label}
                    {v.in_use ? tr(" · in use") : v.retired ? tr(" · retired") : ""}
                  </option>
                ))}
              </select>
            </label>
          )}
        </div>
        {ranges.isPending && label ? <Loading what={tr("Reading the ranges")} /> : null}
        <ErrorLine error={ranges.error ?? versions.error} />
        {!ranges.data ? null : look === "drawn" ? (
          <Drawn label={label} ranges={ranges.data.ranges} changes={changes} onOpen={setOpen} />
        ) : (
          <RangeList ranges={shown} changes={changes} onOpen={setOpen} />
        )}
        {changes.length ? (
          <div className="flex flex-none items-center gap-3 border-t-2 border-ink px-7 py-2">
            <p className="flex-1 text-lg">
              <b>{trn("{count} change", "{count} changes", changes.length)}</b> {tr("to {label}, not saved yet.", { label })}
            </p>
            <Button onClick={() => setDraft(null)}>{tr("Forget")}</Button>
            <Button tone="solid" onClick={() => setSaving(true)}>
              {tr("Save as next version")}
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
