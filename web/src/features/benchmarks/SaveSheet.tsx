import { useState } from "react";

import { Problem, type Schemas } from "@/api/client";
import { useVersions } from "@/api/hooks";
import type { Draft } from "@/lib/ranges";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { useBenchmarkChanges, useDifferences } from "./api";
import { tr } from "@/lib/language";

/** Name and note of the next version. Whoever saves second is told, sees both, and loses nothing. */
export function SaveSheet({
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
  const [name, setName] = useState(version && !version.built_in ? version.name : tr("Our ranges"));
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
    <Sheet open onClose={onClose} title={tr("Save as next version")}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          submit(draft.base);
        }}
      >
        <Field label={tr("Name")}>
          <input className={inputLook} required maxLength={60} value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Field label={tr("What was changed, and why")}>
          <textarea className={inputLook} rows={3} maxLength={2000} value={note} onChange={(e) => setNote(e.target.value)} />
        </Field>
        <p className="text-lg text-muted">
          {tr("It becomes {what} {what2}. Nothing is judged by it until it is put to use; results keep the version they were judged by.", {
            what: name.trim() || "…",
            what2: (newest(name.trim())?.number ?? 0) + 1,
          })}
        </p>
        <ErrorLine error={save.error} />
        {theirs ? (
          <div className="border-l-4 border-ink pl-3 text-lg">
            <p>
              <b>{theirs.label}</b>
              {tr(", by {made_by}, differs from {base} in:", { made_by: theirs.made_by, base: draft.base })}
            </p>
            <ul>
              {(differences.data ?? []).map((d) => (
                <li key={d.id}>
                  {d.label}: {d.before} → {d.after}
                </li>
              ))}
            </ul>
            <Button className="mt-2" onClick={() => submit(theirs.label)}>
              {tr("Save mine on top of it")}
            </Button>
          </div>
        ) : null}
        <Button tone="solid" type="submit" disabled={save.isPending || overtaken}>
          {tr("Save")}
        </Button>
      </form>
    </Sheet>
  );
}
