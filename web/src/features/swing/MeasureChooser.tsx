import { Popover } from "radix-ui";
import { useState } from "react";

import { GROUPS, type Group, type Measure } from "@/lib/measures";

interface Props {
  group: Group;
  measure: string;
  seen: (measure: Measure) => boolean;
  groupSeen: (group: Group) => boolean;
  onGroup: (group: Group) => void;
  onMeasure: (id: string) => void;
}

/** Which group of measures, and which of them. */
export function MeasureChooser({ group, measure, seen, groupSeen, onGroup, onMeasure }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <div className="flex flex-none flex-wrap items-center gap-x-1">
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger
          className="mr-1 inline-flex min-h-14 items-center gap-2 rounded-full border-2 border-ink px-5 text-lg font-semibold"
          aria-label={`Group: ${group.name}`}
        >
          {group.name}
          <span aria-hidden>▾</span>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={6}
            collisionPadding={8}
            className="z-40 grid w-[460px] grid-cols-2 border-2 border-ink bg-paper py-1"
            aria-label="Groups of measures"
          >
            {GROUPS.map((g) => (
              <button
                key={g.id}
                type="button"
                aria-pressed={g.id === group.id}
                onClick={() => {
                  onGroup(g);
                  setOpen(false);
                }}
                className={`flex min-h-14 w-full items-center justify-between px-5 text-left text-xl ${g.id === group.id ? "font-bold underline decoration-2 underline-offset-8" : ""}`}
              >
                {g.name}
                {groupSeen(g) ? null : <span className="text-base text-muted no-underline">not seen</span>}
              </button>
            ))}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      {group.measures.filter(seen).map((m) => (
        <button
          key={m.id}
          type="button"
          aria-pressed={m.id === measure}
          onClick={() => onMeasure(m.id)}
          className={`min-h-14 px-2.5 text-lg ${m.id === measure ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
        >
          {m.name}
        </button>
      ))}
    </div>
  );
}
