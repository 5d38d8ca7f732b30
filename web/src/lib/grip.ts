/** The grip of a lesson's swings: what is asked about it, and what stands between two swings. */

import { tr } from "@/lib/language";

interface Swing {
  id: string;
  number: number;
  recording_id: string;
  sensor_moved: boolean;
  grip: { question: string; plain_question: string; answer: string } | null;
}

/** The last swing up to `number` (from any swing on, when it is left out) whose address is asked about and not answered yet. A new calibration settles it. */
export function askedOf<S extends Swing>(swings: readonly S[], number = Infinity): S | undefined {
  const seen = swings.filter((s) => s.number <= number);
  const last = seen.at(-1);
  return seen.findLast((s) => s.grip !== null && s.grip.answer === "" && s.recording_id === last?.recording_id);
}

/** What makes two swings of a lesson differ beside the player: said wherever they are compared. Empty when nothing does. */
export function betweenSwings(swings: readonly Swing[], before: Swing, after: Swing): string {
  if (before.recording_id !== after.recording_id) return tr("other calibration");
  const changed = swings.some((s) => s.grip !== null && s.grip.answer !== "sensor" && before.number < s.number && s.number <= after.number);
  return changed ? tr("other grip") : "";
}
