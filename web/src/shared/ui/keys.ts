import { useEffect, useRef } from "react";

export type KeyMap = Record<string, (event: KeyboardEvent) => unknown>;

/** Whether a key is meant for what has the focus: a field, a dialog, or the browser itself. */
export function isTaken(event: KeyboardEvent): boolean {
  if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return true;
  const at = event.target;
  if (!(at instanceof HTMLElement)) return false;
  if (/^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName) || at.isContentEditable) return true;
  if ((event.key === "Enter" || event.key === " ") && /^(BUTTON|A)$/.test(at.tagName)) return true;
  return at.closest("[role=dialog]") !== null;
}

/** Keys of a view, by the name the browser gives them (`?`, `ArrowLeft`, `Shift+ArrowLeft`). All views listen here. */
export function useKeys(map: KeyMap): void {
  const now = useRef(map);
  useEffect(() => {
    now.current = map;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTaken(event)) return;
      const action = (event.shiftKey ? now.current[`Shift+${event.key}`] : undefined) ?? now.current[event.key];
      if (!action) return;
      event.preventDefault();
      action(event);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
