/** The measures of the Swing view, by group, and how each is drawn. Words for up and down come from the catalogue. */
import type { MetricWords, Vocabulary } from "./words";

export type Drawing = "cup" | "hinge" | "roll" | "shaft" | "turn" | "tilt" | "distance" | "joint" | "feet";

export interface Measure {
  id: string;
  name: string;
  drawing: Drawing;
  zero?: { plain: string; standard: string };
  /** Words beside the trace where more and less of the value have words of their own. */
  beside?: [string, string];
}

export interface Group {
  id: string;
  name: string;
  families: string[];
  measures: Measure[];
  add: string;
}

const BODY = "Add body sensors for turn and bend, markers for positions.";
const square = { plain: "square", standard: "square" };
const asAtAddress = { plain: "as at address", standard: "as at address" };
const upright = { plain: "upright", standard: "upright" };
const straight = { plain: "straight", standard: "straight" };

export const GROUPS: Group[] = [
  {
    id: "wrist", name: "Wrist", families: ["wrist"], add: "Fit the wrist pair.",
    measures: [
      { id: "lead_wrist_extension", name: "Cup", drawing: "cup", zero: { plain: "flat", standard: "flat" } },
      { id: "lead_wrist_radial_deviation", name: "Hinge", drawing: "hinge", zero: straight },
      { id: "hand_roll", name: "Roll", drawing: "roll", zero: asAtAddress },
      { id: "shaft_elevation", name: "Shaft", drawing: "shaft", zero: { plain: "level", standard: "level" } },
      { id: "lag", name: "Lag", drawing: "joint", zero: { plain: "in line", standard: "in line" } },
    ],
  },
  {
    id: "turn", name: "Turn", families: ["turn"], add: BODY,
    measures: [
      { id: "pelvis_turn", name: "Pelvis", drawing: "turn", zero: square },
      { id: "thorax_turn", name: "Upper body", drawing: "turn", zero: square },
      { id: "separation", name: "Between", drawing: "turn", zero: { plain: "together", standard: "together" } },
      { id: "shoulder_line_turn", name: "Shoulders", drawing: "turn", zero: square },
    ],
  },
  {
    id: "posture", name: "Posture", families: ["posture"], add: BODY,
    measures: [
      { id: "posture_from_ground", name: "Spine", drawing: "tilt", beside: ["more upright", "more bent over"] },
      { id: "spine_lean", name: "Lean", drawing: "tilt", zero: upright },
      { id: "pelvis_forward_bend", name: "Pelvis", drawing: "tilt", zero: upright },
      { id: "pelvis_side_bend", name: "Pelvis side", drawing: "tilt", zero: { plain: "level", standard: "level" } },
      { id: "thorax_forward_bend", name: "Chest", drawing: "tilt", zero: upright },
      { id: "thorax_side_bend", name: "Chest side", drawing: "tilt", zero: { plain: "level", standard: "level" } },
    ],
  },
  {
    id: "travel", name: "Travel", families: ["travel"], add: "Positions need markers: cameras see where the body goes.",
    measures: [
      { id: "pelvis_sway", name: "Sway", drawing: "distance", zero: asAtAddress },
      { id: "pelvis_thrust", name: "To the ball", drawing: "distance", zero: asAtAddress },
      { id: "pelvis_lift", name: "Rise", drawing: "distance", zero: asAtAddress },
      { id: "head_sway", name: "Head", drawing: "distance", zero: asAtAddress },
      { id: "lead_hip_overhang", name: "Lead hip", drawing: "distance", zero: { plain: "over the foot", standard: "over the foot" } },
      { id: "trail_hip_depth", name: "Trail hip", drawing: "distance", zero: asAtAddress },
    ],
  },
  {
    id: "knees", name: "Knees, arms", families: ["arms_legs"], add: "Knees and elbows need markers.",
    measures: [
      { id: "lead_knee_flexion", name: "Lead knee", drawing: "joint", zero: straight },
      { id: "trail_knee_flexion", name: "Trail knee", drawing: "joint", zero: straight },
      { id: "lead_elbow_flexion", name: "Lead elbow", drawing: "joint", zero: straight },
      { id: "trail_elbow_flexion", name: "Trail elbow", drawing: "joint", zero: straight },
    ],
  },
  { id: "sequence", name: "Sequence", families: ["sequence"], add: "The order needs pelvis, upper body, lead arm and club.", measures: [] },
  {
    id: "ground", name: "Ground", families: ["ground"], add: "Add a pressure mat.",
    measures: [
      { id: "stance_position", name: "Between the feet", drawing: "feet" },
      { id: "lead_heel_toe", name: "Heel to toe", drawing: "feet" },
      { id: "vertical_force", name: "Push", drawing: "feet" },
    ],
  },
];

export const MEASURES: Measure[] = GROUPS.flatMap((g) => g.measures);

export const measureById = (id: string): Measure | undefined => MEASURES.find((m) => m.id === id);
export const groupOf = (measure: string): Group => GROUPS.find((g) => g.id === measure || g.measures.some((m) => m.id === measure)) ?? GROUPS[0]!;

/** Rates shown one above the other in the order they should peak. */
export const SEQUENCE = [
  { rate: "pelvis_turn_rate", peak: "pelvis_peak_rate", time: "pelvis_peak_time", name: "Pelvis" },
  { rate: "thorax_turn_rate", peak: "thorax_peak_rate", time: "thorax_peak_time", name: "Upper body" },
  { rate: "lead_arm_rate", peak: "lead_arm_peak_rate", time: "lead_arm_peak_time", name: "Lead arm" },
  { rate: "club_rate", peak: "club_peak_rate", time: "club_peak_time", name: "Club" },
] as const;

const SEEN_IN: Record<string, string> = {
  peak_trail_share: "stance_position", peak_lead_share: "stance_position", trail_peak_time: "stance_position", return_time: "stance_position",
  even_time: "stance_position", lead_peak_time: "stance_position", trail_push_off: "stance_position", trail_foot_edge: "stance_position", pressure_sway: "stance_position", lead_share: "stance_position", trail_heel_toe: "lead_heel_toe",
  hinge_held: "lead_wrist_radial_deviation",
  separation_stretch: "separation",
  share_of_turn: "thorax_turn",
  lead_knee_straightening: "lead_knee_flexion",
  sequence_gap: "sequence", start_of_move: "sequence", move_together: "sequence", smoothness: "sequence",
  elbow_gap: "lead_elbow_flexion", knee_gap: "lead_knee_flexion", hips_over_ankles: "posture_from_ground",
  lead_hip_depth: "trail_hip_depth", head_lift: "head_sway", hands_out: "shaft_elevation", hands_lift: "shaft_elevation",
  shaft_heading: "shaft_elevation", club_path: "shaft_elevation", attack_angle: "shaft_elevation", face_elevation: "lead_wrist_extension",
};

/** Which measure a finding speaks of in this view. */
export function measureOf(metric: string): string {
  if (measureById(metric)) return metric;
  return SEEN_IN[metric] ?? "lead_wrist_extension";
}

/** The checkpoint to open for a finding's moment. */
export function checkpointOf(event: string): string {
  const last = event.split("..").at(-1) ?? event;
  return last === "swing" || last.startsWith("impact") ? (last === "swing" ? "arm_level_down" : "impact") : last;
}

/** Words beside a trace: above, below and at zero. */
export function sides(measure: Measure, metric: MetricWords, words: Vocabulary): { up: string; down: string; zero: string } {
  return {
    up: measure.beside?.[0] ?? (words === "plain" ? metric.plain_positive : metric.positive),
    down: measure.beside?.[1] ?? (words === "plain" ? metric.plain_negative : metric.negative),
    zero: measure.zero?.[words] ?? "",
  };
}
