import { useCallback, useEffect, useMemo } from "react";

import { makeCursor } from "@/lib/cursor";
import { useSelected } from "@/shared/ui/useSelected";

import type { SwingData } from "./useSwingData";
import type { View } from "./useView";

/** The cursor of the view with the ways to move it: to a checkpoint, along them, along the samples. */
export function useCheckpoint(found: SwingData, view: View) {
  const cursor = useMemo(() => makeCursor(0), []);
  const { checkpoints, opened, swing, traces } = found;
  const { setCheckpoint } = view;
  const selected = useSelected(cursor, checkpoints);
  const id = swing?.id;
  useEffect(() => {
    // on a new swing: stay at the same checkpoint
    const at = checkpoints.find((b) => b.name === opened) ?? checkpoints.find((b) => b.name === "top") ?? checkpoints[0];
    if (at) cursor.set(at.time);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- opening another checkpoint moves the cursor itself
  }, [id, checkpoints, cursor]);
  const select = useCallback(
    (name: string) => {
      const to = checkpoints.find((b) => b.name === name);
      if (!to) return;
      setCheckpoint(name);
      cursor.set(to.time);
    },
    [checkpoints, cursor, setCheckpoint],
  );
  const dt = traces ? traces.time[1]! - traces.time[0]! : 0.005;
  const step = (way: 1 | -1) => {
    const now = cursor.get();
    const on = checkpoints.filter((b) => (way > 0 ? b.time > now + 1e-6 : b.time < now - 1e-6));
    const to = way > 0 ? on[0] : on.at(-1);
    if (to) select(to.name);
  };
  const sample = (way: 1 | -1) => cursor.set(cursor.get() + way * dt);
  return { cursor, selected, select, step, sample, dt };
}

export type At = ReturnType<typeof useCheckpoint>;
