import { useRef } from "react";

import { useVersions } from "@/api/hooks";
import { Button, ErrorLine } from "@/shared/ui/controls";

import { useBenchmarkChanges } from "./api";
import { tr } from "@/lib/language";

interface Props {
  /** Label of the version being looked at. */
  label: string;
  /** Changes that are not saved hold one to their version. */
  fixed: boolean;
  onChoose: (label: string) => void;
}

/** The versions of the ranges, and what can be done with the one that is looked at. */
export function Versions({ label, fixed, onChoose }: Props) {
  const versions = useVersions();
  const file = useRef<HTMLInputElement>(null);
  const { use, retire, bring } = useBenchmarkChanges();
  const version = versions.data?.find((v) => v.label === label);
  const link = "inline-flex min-h-14 items-center text-lg underline";
  return (
    <aside className="min-h-0 overflow-y-auto border-r border-hairline px-7 py-4">
      <h2 className="text-lg text-muted">{tr("Versions")}</h2>
      <ul>
        {(versions.data ?? []).map((v) => (
          <li key={v.label}>
            <button
              type="button"
              aria-pressed={v.label === label}
              disabled={fixed && v.label !== label}
              onClick={() => onChoose(v.label)}
              className={`min-h-14 w-full text-left text-lg disabled:opacity-45 ${v.label === label ? "font-bold underline decoration-2 underline-offset-8" : ""} ${v.retired ? "text-muted" : ""}`}
            >
              {v.built_in ? tr("Built in") : v.label}
              {v.in_use ? tr(" · in use") : v.retired ? tr(" · retired") : ""}
            </button>
          </li>
        ))}
      </ul>
      {version ? (
        <div className="mt-3 border-t border-hairline pt-3 text-base text-muted">
          <p>{version.note}</p>
          <p>
            {tr("{what} {ranges} ranges.", {
              what: version.built_in
                ? version.label
                : tr("Based on {what}, by {made_by}.", { what: version.based_on || tr("a file"), made_by: version.made_by }),
              ranges: version.ranges,
            })}
          </p>
        </div>
      ) : null}
      {version ? (
        <div className="mt-3 flex flex-col items-start gap-1">
          {version.in_use ? null : (
            <Button disabled={use.isPending || version.retired} onClick={() => use.mutate(version.label)}>
              {tr("Use this from now on")}
            </Button>
          )}
          {version.built_in || version.in_use ? null : (
            <button type="button" className={link} onClick={() => retire.mutate({ label: version.label, back: version.retired })}>
              {version.retired ? tr("Take out of retirement") : tr("Retire")}
            </button>
          )}
          <a className={link} href={`/api/benchmarks/export.toml?label=${encodeURIComponent(version.label)}`} download>
            {tr("Export as TOML")}
          </a>
          <a className={link} href={`/api/benchmarks/export.csv?label=${encodeURIComponent(version.label)}`} download>
            {tr("Export as CSV")}
          </a>
          <button type="button" className={link} onClick={() => file.current?.click()}>
            {tr("Import TOML or CSV …")}
          </button>
          <input
            ref={file}
            type="file"
            accept=".toml,.csv"
            aria-label={tr("File of ranges")}
            className="sr-only"
            onChange={(e) => {
              const f = e.target.files?.[0];
              if (f) bring.mutate(f, { onSuccess: (made) => onChoose(made.label) });
              e.target.value = "";
            }}
          />
        </div>
      ) : null}
      <ErrorLine error={versions.error ?? use.error ?? retire.error ?? bring.error} />
    </aside>
  );
}
