import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import type { Vocabulary } from "@/lib/words";
import { tr } from "@/lib/language";

/** What came first last time against today, in one sentence; a tap compares the two lessons. */
export function SinceLast({ lesson, words }: { lesson: Schemas["LessonOut"]; words: Vocabulary }) {
  const since = useQuery({
    queryKey: keys.since(lesson.id, lesson.swings.length, lesson.revision),
    queryFn: ({ signal }) =>
      data(api.GET("/api/lessons/{lesson_id}/since", { params: { path: { lesson_id: lesson.id } }, signal })) as Promise<Schemas["SinceOut"] | null>,
  });
  const told = since.data;
  if (!told) return null;
  const { a, b, metric, moment } = told;
  return (
    <Link
      to="/lessons/$lessonId/compare"
      params={{ lessonId: lesson.id }}
      search={{ a, b, metric, moment }}
      className="mt-2 flex min-h-14 items-center border-l-4 border-ink pl-3 text-xl leading-tight"
      title={tr("Compare the two lessons")}
    >
      {words === "plain" ? told.plain_sentence : told.sentence}
    </Link>
  );
}
