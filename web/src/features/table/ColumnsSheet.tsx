import { useState } from "react";

import type { Schemas } from "@/api/client";
import { label, moment, type MetricWords } from "@/lib/words";
import { inputLook, useSettings } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import type { Column } from "./rows";
import { tr } from "@/lib/language";

const MOST = 24;

interface Props {
  open: boolean;
  onClose: () => void;
  offered: readonly Column[];
  chosen: readonly string[];
  catalogue: Schemas["Catalogue"];
  onChange: (keys: string[]) => void;
}

/** Which measures stand in the table, and where they are read. */
export function ColumnsSheet({ open, onClose, offered, chosen, catalogue, onChange }: Props) {
  const { words } = useSettings();
  const [wanted, setWanted] = useState("");
  const metrics = catalogue.metrics.filter(
    (m) => offered.some((c) => c.metric === m.id) && `${m.label} ${m.plain_label}`.toLowerCase().includes(wanted.trim().toLowerCase()),
  );
  const toggle = (key: string) => onChange(chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
  return (
    <Sheet open={open} onClose={onClose} title={tr("Columns")} wide>
      <input
        type="search"
        aria-label={tr("Search measures")}
        placeholder={tr("Search measures")}
        className={inputLook}
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
      />
      {chosen.length >= MOST ? <p className="mt-2 text-lg font-bold">{tr("{MOST} columns at most: take one out first.", { MOST })}</p> : null}
      {metrics.map((m) => (
        <section key={m.id} className="mt-4">
          <h3 className="text-xl font-bold">{label(m as MetricWords, words)}</h3>
          <div className="flex flex-wrap gap-x-2">
            {offered
              .filter((c) => c.metric === m.id)
              .map((c) => {
                const on = chosen.includes(c.key);
                return (
                  <button
                    key={c.key}
                    type="button"
                    aria-pressed={on}
                    disabled={!on && chosen.length >= MOST}
                    onClick={() => toggle(c.key)}
                    className={`min-h-14 min-w-14 px-3 text-lg disabled:opacity-45 ${on ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
                  >
                    {moment(c.moment)}
                  </button>
                );
              })}
          </div>
        </section>
      ))}
      {metrics.length === 0 ? <p className="mt-4 text-lg text-muted">{tr("No measure of this lesson is called that.")}</p> : null}
    </Sheet>
  );
}
