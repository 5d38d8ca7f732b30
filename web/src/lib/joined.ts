interface OfLesson {
  swings: { id: string; number: number }[];
  summaries: { club: string }[];
  recordings: unknown[];
  blocks: unknown[];
}

/** A lesson with what came to it: each swing once in the order of their numbers, summaries in the place of those of their clubs. */
export function joinedWith<L extends OfLesson>(lesson: L, came: Pick<L, keyof OfLesson>): L {
  const known = new Set(lesson.swings.map((s) => s.id));
  const swings = [...lesson.swings, ...came.swings.filter((s) => !known.has(s.id))].sort((a, b) => a.number - b.number);
  const clubs = came.summaries.map((s) => s.club);
  const summaries = [...came.summaries, ...lesson.summaries.filter((s) => !clubs.includes(s.club))];
  return { ...lesson, swings, summaries, recordings: came.recordings, blocks: came.blocks };
}
