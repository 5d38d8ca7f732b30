import { useEffect, useRef } from "react";

export interface SwingKeys {
  step: (way: 1 | -1) => void;
  sample: (way: 1 | -1) => void;
  nudge: (way: 1 | -1) => void;
  next: () => void;
  previous: () => void;
  peek: () => void;
  mark: () => void;
  ball: (key: number) => void;
  strike: () => void;
  club: () => void;
  measure: () => void;
  group: () => void;
  figure: () => void;
  numbers: () => void;
  why: () => void;
  pin: () => void;
  train: () => void;
  follow: () => void;
  undo: () => void;
  redo: () => void;
  show: () => void;
}

/** Keys of the Swing view; a presenter remote or a pedal sends Page Down, Page Up, Enter and Escape. */
export function useSwingKeys(keys: SwingKeys): void {
  const now = useRef(keys);
  now.current = keys;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const at = event.target as HTMLElement;
      if (/^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (at.closest("[role=dialog]")) return;
      const k = now.current;
      const table: Record<string, () => void> = {
        ArrowLeft: () => (event.shiftKey ? k.sample(-1) : k.step(-1)),
        ArrowRight: () => (event.shiftKey ? k.sample(1) : k.step(1)),
        PageDown: k.next, PageUp: k.previous, Escape: k.peek, k: k.mark, s: k.strike, c: k.club, m: k.measure, g: k.group, x: k.figure,
        n: k.numbers, w: k.why, b: k.pin, t: k.train, f: k.follow, z: k.undo, Z: k.redo, v: k.show,
        "[": () => k.nudge(-1), "]": () => k.nudge(1),
        ...(at.tagName === "BUTTON" || at.tagName === "A" ? {} : { Enter: k.mark }),
      };
      const action = /^[1-9]$/.test(event.key) ? () => k.ball(Number(event.key)) : table[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
