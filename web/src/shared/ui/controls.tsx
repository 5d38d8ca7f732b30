import { useSyncExternalStore, type ComponentProps, type ReactNode } from "react";

import { settings, subscribe, type Settings } from "@/lib/settings";
import { tr } from "@/lib/language";

/** The settings of this screen, live. */
export function useSettings(): Settings {
  return useSyncExternalStore(subscribe, settings);
}

type ButtonProps = ComponentProps<"button"> & { tone?: "solid" | "line" | "quiet"; hint?: string };

/** A pill of at least 56 px, as the thumb wants it. */
export function Button({ tone = "line", hint, className = "", children, ...rest }: ButtonProps) {
  const look = {
    solid: "bg-ink text-paper border-ink",
    line: "border-ink text-ink bg-paper",
    quiet: "border-transparent text-ink bg-transparent",
  }[tone];
  return (
    <button
      type="button"
      className={`inline-flex min-h-14 min-w-14 items-center justify-center gap-2 rounded-full border-2 px-5 text-lg font-semibold disabled:cursor-not-allowed disabled:opacity-45 ${look} ${className}`}
      {...rest}
    >
      {children}
      {hint ? <kbd className="font-sans text-base font-normal opacity-70 max-[700px]:hidden">{hint}</kbd> : null}
    </button>
  );
}

/** A choice among a few, drawn as words with the chosen one underlined in ink. */
export function Choice<T extends string>(props: {
  label: string;
  value: T;
  options: { id: T; label: string }[];
  onChange: (id: T) => void;
  className?: string;
}) {
  return (
    <div role="radiogroup" aria-label={props.label} className={`flex flex-wrap items-center gap-1 ${props.className ?? ""}`}>
      {props.options.map((option) => {
        const chosen = option.id === props.value;
        return (
          <button
            key={option.id}
            type="button"
            role="radio"
            aria-checked={chosen}
            onClick={() => props.onChange(option.id)}
            className={`min-h-14 min-w-14 px-3 text-lg ${chosen ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
          >
            {option.label}
          </button>
        );
      })}
    </div>
  );
}

export function Field({ label, children, note }: { label: string; children: ReactNode; note?: string }) {
  return (
    <div>
      <label className="block">
        <span className="block text-muted">{label}</span>
        {children}
      </label>
      {note ? <p className="text-base text-muted">{note}</p> : null}
    </div>
  );
}

export const inputLook = "w-full min-h-14 rounded-lg border-2 border-[var(--control)] bg-paper px-3 text-lg text-ink placeholder:text-muted";

/** What went wrong, in the server's own words. */
export function ErrorLine({ error }: { error: unknown }) {
  if (!error) return null;
  const text = error instanceof Error ? error.message : tr("Something did not work. Try again.");
  return (
    <p role="alert" className="flex items-start gap-3 border-l-4 border-rust pl-3 text-lg">
      <span aria-hidden className="font-bold text-rust">
        !
      </span>
      <span>{text}</span>
    </p>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-8 text-xl text-muted">
      {what} …
    </p>
  );
}
