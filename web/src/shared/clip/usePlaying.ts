import { useCallback, useEffect, useRef, useState } from "react";

import type { Cursor } from "@/lib/cursor";
import { tr } from "@/lib/language";

export const SPEEDS = [
  { id: "1", label: tr("full speed") },
  { id: "0.5", label: tr("half") },
  { id: "0.25", label: tr("quarter") },
] as const;
export type Speed = (typeof SPEEDS)[number]["id"];

/** Lets time run along the swing, from the cursor to the end and over again from the beginning. */
export function usePlaying(cursor: Cursor, fromS: number, toS: number) {
  const [playing, setPlaying] = useState(false);
  const [speed, setSpeed] = useState<Speed>("0.5");
  const rate = useRef(Number(speed));
  useEffect(() => {
    rate.current = Number(speed);
  }, [speed]);
  useEffect(() => {
    if (!playing) return;
    let last = performance.now();
    let own = cursor.get() >= toS - 0.01 || cursor.get() < fromS ? fromS : cursor.get();
    cursor.set(own);
    let frame = 0;
    const step = (now: number) => {
      if (Math.abs(cursor.get() - own) > 1e-6) return setPlaying(false); // somebody scrubs
      own = Math.min(toS, own + ((now - last) / 1000) * rate.current);
      last = now;
      cursor.set(own);
      if (own >= toS) return setPlaying(false);
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [playing, cursor, fromS, toS]);
  const toggle = useCallback(() => setPlaying((p) => !p), []);
  return { playing, toggle, speed, setSpeed };
}

export type Playing = ReturnType<typeof usePlaying>;
