import { Popover } from "radix-ui";
import { useState, type ReactNode } from "react";

export interface Entry {
  id: string;
  name: string;
  note: string;
}

export const chosenLook = "font-bold underline decoration-2 underline-offset-8";

interface OpeningProps {
  label: string;
  title: string;
  chosen: string;
  entries: Entry[];
  onChoose: (id: string) => void;
  children: ReactNode;
}

/** A pill from which a list of names opens. */
export function Opening({ label, title, chosen, entries, onChoose, children }: OpeningProps) {
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
