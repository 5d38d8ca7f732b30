/** The instant being looked at, shared by arc, value and trace without a render of the whole page. */
export interface Cursor {
  get: () => number;
  set: (t: number) => void;
  subscribe: (listener: () => void) => () => void;
}

export function makeCursor(initial: number): Cursor {
  let now = initial;
  const listeners = new Set<() => void>();
  return {
    get: () => now,
    set: (t) => {
      if (t === now) return;
      now = t;
      listeners.forEach((listener) => listener());
    },
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  };
}
