import { Popover } from "radix-ui";
import { useState, type ReactNode } from "react";

import { GROUPS, type Group, type Measure } from "@/lib/measures";

interface Props {
  group: Group;
  measure: string;
  seen: (measure: Measure) => boolean;
  groupSeen: (group: Group) => boolean;
  onGroup: (group: Group) => void;
  onMeasure: (id: string) => void;
}

interface Entry {
  id: string;
  name: string;
  note: string;
}

const chosenLook = "font-bold underline decoration-2 underline-offset-8";

/** Which group of measures, and which of them; where there is no room for a row of names they open from one. */
export function MeasureChooser({ group, measure, seen, groupSeen, onGroup, onMeasure }: Props) {
  const measures = group.measures.filter(seen);
  const shown = measures.find((m) => m.id === measure);
  return (
    <div className="mt-2 flex flex-none flex-wrap items-center gap-x-1 gap-y-1">
      <Opening
        label={`Group: ${group.name}`}
        title="Groups of measures"
        chosen={group.id}
        entries={GROUPS.map((g) => ({ id: g.id, name: g.name, note: groupSeen(g) ? "" : "not seen" }))}
        onChoose={(id) => onGroup(GROUPS.find((g) => g.id === id)!)}
      >
        {group.name}
      </Opening>
      {measures.length > 1 ? (
        <span className="hidden [@container(width<600px)]:inline">
          <Opening
            label={`Measure: ${shown?.name ?? "none"}`}
            title={`Measures: ${group.name}`}
            chosen={measure}
            entries={measures.map((m) => ({ id: m.id, name: m.name, note: "" }))}
            onChoose={onMeasure}
          >
            {shown?.name ?? "Measure"}
          </Opening>
        </span>
      ) : null}
      {measures.map((m) => (
        <button
          key={m.id}
          type="button"
          aria-pressed={m.id === measure}
          onClick={() => onMeasure(m.id)}
          className={`min-h-14 min-w-14 px-2.5 text-lg [@container(width<600px)]:hidden ${m.id === measure ? chosenLook : "text-muted"}`}
        >
          {m.name}
        </button>
      ))}
    </div>
  );
}

interface OpeningProps {
  label: string;
  title: string;
  chosen: string;
  entries: Entry[];
  onChoose: (id: string) => void;
  children: ReactNode;
}

/** A pill from which a list of names opens. */
function Opening({ label, title, chosen, entries, onChoose, children }: OpeningProps) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="mr-1 inline-flex min-h-14 items-center gap-2 rounded-full border-2 border-ink px-5 text-lg font-semibold" aria-label={label}>
        {children}
        <span aria-hidden>▾</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="z-40 grid w-[460px] max-w-[calc(100vw-16px)] grid-cols-2 border-2 border-ink bg-paper py-1"
          aria-label={title}
        >
          {entries.map((e) => (
            <button
              key={e.id}
              type="button"
              aria-pressed={e.id === chosen}
              onClick={() => {
                onChoose(e.id);
                setOpen(false);
              }}
              className={`flex min-h-14 w-full flex-wrap items-center justify-between gap-x-2 px-5 text-left text-xl max-[700px]:px-3 max-[700px]:text-lg ${e.id === chosen ? chosenLook : ""}`}
            >
              {e.name}
              {e.note ? <span className="text-base text-muted no-underline">{e.note}</span> : null}
            </button>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
