import type { ReactNode } from "react";

export interface Action {
  name: string;
  /** What it does, or why it cannot be done now. */
  says: ReactNode;
  hint?: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick?: () => void;
  /** Something that opens or is saved by the browser itself. */
  href?: string;
  download?: boolean;
}

/** Things to do, one under the other, each with what it does and its key. */
export function ActionList({ actions }: { actions: readonly Action[] }) {
  return (
    <ul>
      {actions.map((action) => (
        <li key={action.name} className="border-b border-hairline">
          <Row {...action} />
        </li>
      ))}
    </ul>
  );
}

const look = "grid min-h-14 w-full grid-cols-[170px_1fr_auto] items-center gap-3 py-1 text-left disabled:opacity-45 max-[700px]:grid-cols-[116px_1fr]";

function Row({ name, says, hint, pressed, disabled, onClick, href, download }: Action) {
  const inside = (
    <>
      <span className={`text-xl leading-tight font-semibold ${pressed ? "underline decoration-2 underline-offset-8" : ""}`}>{name} </span>
      <span className="text-lg leading-tight text-muted">{says} </span>
      {hint ? <kbd className="font-sans text-lg text-muted max-[700px]:hidden">{hint}</kbd> : null}
    </>
  );
  if (href)
    return (
      <a className={look} href={href} {...(download ? { download: true } : { target: "_blank", rel: "noreferrer" })}>
        {inside}
      </a>
    );
  return (
    <button type="button" className={look} aria-pressed={pressed} disabled={disabled} onClick={onClick}>
      {inside}
    </button>
  );
}
