/** Where answers are kept: one place for every key, so that what is put in place and what is asked for again agree. */
export const keys = {
  catalogue: ["catalogue"] as const,
  benchmarks: ["benchmarks"] as const,
  references: ["references"] as const,
  groundReferences: ["ground-references"] as const,
  measuring: ["measuring"] as const,
  academy: ["academy"] as const,
  academyRules: ["academy-rules"] as const,
  diary: (day?: string) => (day === undefined ? (["diary"] as const) : (["diary", day] as const)),
  players: (q?: string) => (q === undefined ? (["players"] as const) : (["players", q] as const)),
  player: (id: string) => ["player", id] as const,
  lesson: (id: string) => ["lesson", id] as const,
  swing: (id: string) => ["swing", id] as const,
  numbers: (id: string | undefined, measuring: number | undefined) => ["swing", id, "numbers", measuring] as const,
  block: (kind: string, id: string | undefined, measuring: number | undefined) => ["block", kind, id, measuring] as const,
  overlay: (id: string | undefined, reference: string) => ["overlay", id, reference] as const,
};
