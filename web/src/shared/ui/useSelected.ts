import { useSyncExternalStore } from "react";

import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";

/** The checkpoint the cursor stands on, or null between two: whoever asks renders when that changes, not with every move. */
export function useSelected(cursor: Cursor, checkpoints: Checkpoint[]): string | null {
  return useSyncExternalStore(cursor.subscribe, () => checkpoints.find((b) => Math.abs(b.time - cursor.get()) < 1e-6)?.name ?? null);
}
