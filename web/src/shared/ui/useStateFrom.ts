import { useState } from "react";

/** State that starts anew, from `start`, whenever `key` becomes another. */
export function useStateFrom<T>(start: () => T, key: string): [T, (next: T | ((old: T) => T)) => void] {
  const [kept, setKept] = useState(() => ({ key, value: start() }));
  let { value } = kept;
  if (kept.key !== key) {
    value = start();
    setKept({ key, value });
  }
  const set = (next: T | ((old: T) => T)) =>
    setKept((old) => ({ key, value: typeof next === "function" ? (next as (old: T) => T)(old.key === key ? old.value : value) : next }));
  return [value, set];
}
