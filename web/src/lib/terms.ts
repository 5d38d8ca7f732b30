/** Words for what is known by an id: checkpoints, parts of the body, outcomes, grounds. An id without one is said as it stands. */
import { tr } from "@/lib/language";

const TERMS: Record<string, string> = {
  address: tr("address"),
  takeaway: tr("takeaway"),
  shaft_level_back: tr("shaft level back"),
  arm_level_back: tr("arm level back"),
  top: tr("top"),
  transition: tr("transition"),
  arm_level_down: tr("arm level down"),
  shaft_level_down: tr("shaft level down"),
  impact: tr("impact"),
  "impact+0.1s": tr("0.1 s after impact"),
  shaft_level_through: tr("shaft level through"),
  arm_level_through: tr("arm level through"),
  finish: tr("finish"),
  swing: tr("whole swing"),
  setup: tr("setup"),
  downswing: tr("downswing"),
  body: tr("body"),
  hands: tr("hands"),
  shaft: tr("shaft"),
  face: tr("face"),
  back: tr("back"),
  neck: tr("neck"),
  shoulder: tr("shoulder"),
  elbow: tr("elbow"),
  forearm: tr("forearm"),
  wrist: tr("wrist"),
  hip: tr("hip"),
  knee: tr("knee"),
  ankle: tr("ankle"),
  lead: tr("lead"),
  trail: tr("trail"),
  left: tr("left"),
  right: tr("right"),
  straight: tr("straight"),
  both: tr("both"),
  turn: tr("turn"),
  bend: tr("bend"),
  rotation: tr("rotation"),
  extension: tr("extension"),
  flexion: tr("flexion"),
  raise: tr("raise"),
  "side bend": tr("side bend"),
  deviation: tr("deviation"),
  adult: tr("adult"),
  junior: tr("junior"),
  senior: tr("senior"),
  holed: tr("holed"),
  short: tr("short"),
  long: tr("long"),
  flat: tr("flat"),
  uphill: tr("uphill"),
  downhill: tr("downhill"),
  left_to_right: tr("left to right"),
  right_to_left: tr("right to left"),
  pelvis: tr("pelvis"),
  upper_body: tr("upper body"),
  head: tr("head"),
  club: tr("club"),
  lead_upper_arm: tr("lead upper arm"),
  trail_upper_arm: tr("trail upper arm"),
  lead_forearm: tr("lead forearm"),
  trail_forearm: tr("trail forearm"),
  lead_hand: tr("lead hand"),
  trail_hand: tr("trail hand"),
  lead_thigh: tr("lead thigh"),
  trail_thigh: tr("trail thigh"),
  lead_shank: tr("lead shank"),
  trail_shank: tr("trail shank"),
  lead_foot: tr("lead foot"),
  trail_foot: tr("trail foot"),
};

export const term = (id: string): string => TERMS[id] ?? id.replaceAll("_", " ");

/** How a player plays: *plays left-handed, junior*. */
export const playsWords = (p: { handedness: string; population: string }): string =>
  (p.handedness === "left" ? tr("plays left-handed") : tr("plays right-handed")) + (p.population === "adult" ? "" : `, ${term(p.population)}`);

/** *lead wrist extension*: what of a limit is known. */
export function limitWords({ side, area, movement }: { side: string; area: string; movement: string }): string {
  const what = { area: term(area), movement: term(movement) };
  if (!movement) return what.area;
  return side === "lead" || side === "trail" ? tr("{side} {area} {movement}", { side: term(side), ...what }) : tr("{area} {movement}", what);
}
