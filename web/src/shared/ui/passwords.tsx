import { useEffect, useRef } from "react";

import { Field, inputLook } from "./controls";
import { tr } from "@/lib/language";

interface Told {
  label: string;
  value: string;
  onChange: (value: string) => void;
}

/** The password that opens the account now. */
export function PresentPassword({ label, value, onChange }: Told) {
  return (
    <Field label={label}>
      <input className={inputLook} type="password" autoComplete="current-password" required value={value} onChange={(e) => onChange(e.target.value)} />
    </Field>
  );
}

/** A new one; how long it must be is said before it is refused. */
export function NewPassword({ label, note, value, onChange }: Told & { note: string }) {
  return (
    <Field label={label} note={note}>
      <input
        className={inputLook}
        type="password"
        autoComplete="new-password"
        required
        minLength={12}
        maxLength={128}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </Field>
  );
}

/** The digits that a phone shows, or a code from the paper. */
export function CodeField({ value, onChange, note }: Omit<Told, "label"> & { note?: string }) {
  const here = useRef<HTMLInputElement>(null);
  useEffect(() => here.current?.focus(), []);
  return (
    <Field label={tr("The code")} note={note}>
      <input
        className={`${inputLook} text-3xl tracking-[0.2em]`}
        autoComplete="one-time-code"
        autoCapitalize="none"
        spellCheck={false}
        ref={here}
        required
        maxLength={40}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </Field>
  );
}
