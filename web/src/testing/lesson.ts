/** A small lesson as the server tells it: three swings with a wrist sensor, cupped at the top. */
import type { Schemas } from "@/api/client";

import { traceBlock } from "./blocks";

type Swing = Schemas["SwingOut"];
type Brief = Schemas["SwingBrief"];
type Lesson = Schemas["LessonOut"];

const EVENTS = { address: 0, takeaway: 0.2, top: 1, impact: 1.3, finish: 1.6 } as const;
const CUP = "lead_wrist_extension";

export const brief = (number: number, more: Partial<Brief> = {}): Brief => ({
  id: `s${number}`,
  number,
  recording_id: "r1",
  kind: "normal",
  discard_reason: "",
  club: "7-iron",
  ball_start: "",
  ball_curve: "",
  strike: "",
  sensor_moved: false,
  grip: null,
  tags: [],
  pattern: null,
  dip: false,
  outside: { [CUP]: [[0.9, 1.1]] },
  checkpoints: { ...EVENTS },
  block_id: null,
  measuring: 1,
  ...more,
});

export const headline: Schemas["Headline"] = {
  text: "The wrist is 14° more extended than your band at the top.",
  plain_text: "The wrist is 14° more cupped than your band at the top.",
  player_text: "Your wrist is cupped at the top.",
  tends: "That tends to open the face.",
  finding: "extended_top" as never,
  metric: CUP,
  moment: "top",
};
export const nothing: Schemas["Headline"] = { ...headline, text: "Nothing to change.", plain_text: "Nothing to change.", finding: null };

export const swing = (number: number, more: Partial<Swing> = {}): Swing => ({
  ...brief(number),
  lesson_id: "L",
  start_s: 0,
  end_s: 2,
  engine: "1",
  benchmarks: "builtin-4",
  events: Object.entries(EVENTS).map(([name, time_s]) => ({
    name: name as "top",
    time_s,
    uncertainty_s: 0.003,
    method: "",
    confidence: 1,
    detected_s: null,
    corrected: false,
    others: [],
  })),
  absent_events: [],
  values: { [CUP]: { at: [20, null, null, null, 41, null, null, 5], sd: [1, null, null, null, 2, null, null, 2], source: "wrist sensors" } as never },
  judged: [
    {
      metric: CUP,
      moment: "top",
      verdict: "high",
      words: "41° extended",
      plain_words: "41° cupped",
      band: { range_id: "W3a", low: 0, high: 27, words: "0° to 27° extended", by: "common practice" } as never,
    },
  ],
  missing: [],
  findings: [],
  not_assessed: [],
  warnings: [],
  headline,
  bands: {
    [CUP]: [
      [0, 0, 30],
      [1, 0, 27],
      [1.3, -10, 10],
    ],
  },
  figure: null,
  ground: null,
  power: [],
  sources: ["wrist"],
  captured_at: "2026-03-02T09:00:00Z",
  ...more,
});

export const finding = (more: Partial<Schemas["FindingOut"]> = {}): Schemas["FindingOut"] => ({
  finding: "extended_top" as never,
  label: "Extended at the top",
  plain_label: "Cupped at the top",
  phase: "top",
  status: "finding",
  role: "root",
  explained_by: null,
  severity: 2,
  confidence: 0.93,
  shown: 3,
  assessed: 3,
  says: "The lead wrist is extended.",
  plain_says: "The lead wrist is cupped.",
  player_says: "Your wrist is cupped.",
  tends: "That tends to open the face.",
  note: "",
  fits: [],
  caution: "",
  own: false,
  target: null,
  metric: CUP,
  moment: "top",
  evidence: [{ metric: CUP, moment: "impact", sentence: "5° extended at impact", plain_sentence: "5° cupped at impact" } as never],
  drills: ["peg", "rope"],
  ...more,
});

export const summary = (more: Partial<Schemas["SummaryOut"]> = {}): Schemas["SummaryOut"] => ({
  manner: "en-cm-m-24",
  club: "7-iron",
  counting: 3,
  findings: [finding()],
  not_assessed: [],
  proposals: [],
  good: [],
  plain_good: [],
  spreads: [],
  graph: [],
  matched: [],
  flight: { said: "" } as never,
  held: [],
  withheld: [],
  ...more,
});

export const player = (more: Partial<Schemas["PlayerOut"]> = {}): Schemas["PlayerOut"] => ({
  id: "p1",
  name: "Ilse Marrow",
  handedness: "right",
  population: "adult",
  walk_in: false,
  consent: true,
  height_m: null,
  goals: "",
  usual_miss: "",
  words: "plain",
  language: "",
  lengths: "",
  distances: "",
  clock: "",
  schools: {},
  own_schools: {},
  consent_by: "Ilse Marrow",
  revision: "r1",
  consent_at: null,
  limits: [],
  lessons: [],
  ...more,
});

export const lesson = (more: Partial<Lesson> = {}): Lesson => ({
  id: "L",
  revision: "r1",
  player: player(),
  instructor: "Mara Tidewell",
  bay: "Harbour bay",
  starts_at: "2026-03-02T09:00:00Z",
  ends_at: "2026-03-02T09:45:00Z",
  status: "running",
  club: "7-iron",
  kind: "normal",
  pain: "no",
  pain_note: "",
  pinned: [],
  note: "",
  next_date: null,
  schools: {},
  benchmarks: "builtin-4",
  planned: false,
  last_priorities: [],
  priorities: [],
  recordings: [],
  swings: [brief(1), brief(2), brief(3)],
  summaries: [summary()],
  blocks: [],
  can_undo: null,
  can_redo: null,
  trainer_bands: {},
  ...more,
});

const drill = (id: string, label: string) => ({
  id,
  label,
  aim: "",
  how: "Slowly.",
  feel: "Flat.",
  equipment: "",
  dose: "",
  caution: "",
  band: "",
  plain_band: "",
  picture: "",
  own: false,
});
export const catalogue = {
  metrics: [
    {
      id: CUP,
      label: "Extension",
      plain_label: "Cup",
      unit: "deg",
      family: "wrist",
      positive: "extended",
      negative: "flexed",
      plain_positive: "cupped",
      plain_negative: "bowed",
      explained: "",
      decimals: 0,
      told_to: null,
      needs: "",
      shown_as: CUP,
      trained: true,
    },
  ],
  clubs: [
    { id: "7-iron", label: "7-iron" },
    { id: "driver", label: "Driver" },
  ],
  schools: [],
  findings: [{ id: "extended_top", label: "Extended at the top", plain_label: "Cupped at the top", metric: CUP, moment: "top", drills: ["peg", "rope"] }],
  drills: [drill("peg", "Peg in the glove"), drill("rope", "Rope")],
  scenarios: [],
  limit_areas: [],
  benchmarks: "builtin-4",
  engine: "1",
};

const time = Array.from({ length: 161 }, (_, k) => k / 100);
/** Cupped by `peak` degrees at the top. */
export const traces =
  (peak = 41) =>
  () =>
    new Response(traceBlock({ time_s: time, [CUP]: time.map((t) => peak * Math.exp(-(((t - 1) / 0.4) ** 2))) }));

/** Answers of the server for a whole lesson of three swings. */
export const lessonAnswers = (more: Partial<Lesson> = {}) => ({
  "GET /api/catalogue": catalogue,
  "GET /api/references": [],
  "GET /api/lessons/L": lesson(more),
  "GET /api/lessons/L/since": null,
  ...Object.fromEntries(
    [1, 2, 3].flatMap((n) => [
      [`GET /api/swings/s${n}`, swing(n)],
      [`GET /api/swings/s${n}/blocks/traces/1`, traces(30 + 10 * n)],
    ]),
  ),
});
