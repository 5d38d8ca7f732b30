/** The measures of the Swing view, by group, and what the present sensors cannot see. */
export interface Measure {
  id: string;
  name: string;
  up: { plain: string; standard: string };
  down: { plain: string; standard: string };
  zero: { plain: string; standard: string };
}

export const MEASURES: Measure[] = [
  {
    id: "lead_wrist_extension", name: "Cup", up: { plain: "cupped", standard: "extended" },
    down: { plain: "bowed", standard: "flexed" }, zero: { plain: "flat", standard: "flat" },
  },
  {
    id: "lead_wrist_radial_deviation", name: "Hinge", up: { plain: "hinged", standard: "radial" },
    down: { plain: "unhinged", standard: "ulnar" }, zero: { plain: "straight", standard: "straight" },
  },
  {
    id: "hand_roll", name: "Roll", up: { plain: "closed", standard: "closing" },
    down: { plain: "open", standard: "opening" }, zero: { plain: "as at address", standard: "as at address" },
  },
  {
    id: "shaft_elevation", name: "Shaft", up: { plain: "above level", standard: "above level" },
    down: { plain: "below level", standard: "below level" }, zero: { plain: "level", standard: "level" },
  },
];

export const UNSEEN = [
  { id: "body", name: "Body", families: ["turn", "posture", "travel", "arms_legs"] },
  { id: "ground", name: "Ground", families: ["ground"] },
];

/** Which measure a swing's finding speaks of in this view. */
export function measureOf(metric: string): string {
  if (MEASURES.some((m) => m.id === metric)) return metric;
  if (metric === "hinge_held") return "lead_wrist_radial_deviation";
  return "lead_wrist_extension";
}

/** The checkpoint to open for a finding's moment. */
export function beadOf(event: string): string {
  const last = event.split("..").at(-1) ?? event;
  return last === "swing" || last.startsWith("impact") ? (last === "swing" ? "arm_level_down" : "impact") : last;
}
