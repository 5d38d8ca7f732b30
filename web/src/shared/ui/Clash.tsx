import { useEffect, useRef, useState } from "react";

import { isClash, type Clashing } from "@/api/client";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

/** One thing that was edited: how it is called and read, and whether two texts can be kept one after the other. */
export interface Edited<T> {
  key: keyof T & string;
  label: string;
  show?: (value: unknown) => string;
  joins?: boolean;
}

interface Props<T> {
  error: unknown;
  mine: T;
  fields: readonly Edited<T>[];
  pending?: boolean;
  /** Save what was chosen on top of what is there. */
  onSave: (chosen: T, revision: string) => void;
}

/** What went wrong with saving; where somebody else saved meanwhile both texts, field by field, and nothing is lost. */
export function Clash<T extends object>({ error, ...rest }: Props<T>) {
  return isClash(error) ? <Both key={error.revision} error={error} {...rest} /> : <ErrorLine error={error} />;
}

const plain = (value: unknown) => (value === null || value === undefined || value === "" ? tr("nothing") : String(value));

function Both<T extends object>({ error, mine, fields, pending, onSave }: Props<T> & { error: Clashing }) {
  const theirs = error.theirs as T;
  const [taken, setTaken] = useState<Partial<T>>({});
  const differing = fields.filter((f) => f.key in mine && JSON.stringify(mine[f.key] ?? "") !== JSON.stringify(theirs[f.key] ?? ""));
  const here = useRef<HTMLElement>(null);
  useEffect(() => here.current?.scrollIntoView?.({ block: "nearest" }), []); // it is what the instructor must see now
  const take = (key: keyof T & string, value: unknown) => setTaken((old) => ({ ...old, [key]: value }));
  return (
    <section ref={here} role="alert" className="space-y-3 border-l-4 border-rust pl-4">
      <p className="text-xl font-semibold">{error.message}</p>
      {differing.length ? null : <p className="text-lg">{tr("What they changed is something else: saving yours takes nothing of it away.")}</p>}
      {differing.map(({ key, label, show = plain, joins }) => {
        const [own, other] = [mine[key], theirs[key]];
        const chosen = key in taken ? taken[key] : own;
        const both = joins && own && other ? `${String(other)}\n${String(own)}` : null;
        const options: [string, unknown][] = [
          [tr("Yours"), own],
          [tr("Theirs"), other],
        ];
        if (both) options.push([tr("Both"), both]);
        return (
          <div key={key} role="radiogroup" aria-label={label}>
            <p className="text-muted">{label}</p>
            {options.map(([name, value]) => (
              <button
                key={name}
                type="button"
                role="radio"
                aria-checked={chosen === value}
                onClick={() => take(key, value)}
                className={`grid min-h-14 w-full grid-cols-[80px_1fr] items-baseline gap-3 border-b border-hairline py-2 text-left text-lg ${chosen === value ? "font-bold" : ""}`}
              >
                <span className={chosen === value ? "underline decoration-2 underline-offset-8" : "text-muted"}>{name}</span>
                <span className="whitespace-pre-wrap">{show(value)}</span>
              </button>
            ))}
          </div>
        );
      })}
      <Button tone="solid" disabled={pending} onClick={() => onSave({ ...mine, ...taken }, error.revision)}>
        {differing.length ? tr("Save what is chosen") : tr("Save mine")}
      </Button>
    </section>
  );
}
