import { useMutation, useQuery } from "@tanstack/react-query";

import { api, data, seen, type Schemas } from "@/api/client";
import { usePutLesson, useRefresh } from "@/api/hooks";
import { keys } from "@/api/keys";
import type { Choice } from "@/lib/plan";

const at = (lessonId: string) => ({ params: { path: { lesson_id: lessonId } } });

/** Keep the priorities as they stand, or go back to the proposal; end and reopen the lesson. `revision`: of the lesson as it is seen. */
export function usePlan(lessonId: string, revision: string) {
  const onTopOf = (saved = revision) => ({ params: { ...at(lessonId).params, header: seen(saved) } });
  const put = usePutLesson(lessonId);
  const keep = useMutation({
    mutationFn: ({ priorities, revision: saved }: { priorities: Choice[]; revision?: string }) =>
      data(api.PUT("/api/lessons/{lesson_id}/plan", { ...onTopOf(saved), body: { priorities } })),
    onSuccess: put,
  });
  const drop = useMutation({
    mutationFn: (saved: string | undefined) => data(api.DELETE("/api/lessons/{lesson_id}/plan", onTopOf(saved))),
    onSuccess: put,
  });
  const reopen = useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/reopen", at(lessonId))), onSuccess: put });
  return { keep, drop, reopen };
}

export function useSchools(lessonId: string) {
  return useQuery({
    queryKey: keys.schools(lessonId),
    queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/schools", { ...at(lessonId), signal })),
  });
}

/** What other schools or ranges would change, and keeping it. */
export function useWhatIf(lessonId: string, ask: { schools: Record<string, string>; benchmarks: string }, enabled: boolean) {
  const refresh = useRefresh(lessonId);
  const body: Schemas["WhatIfIn"] = { ...ask, club: "" };
  const what = useQuery({
    queryKey: keys.whatIf(lessonId, ask),
    enabled,
    queryFn: ({ signal }) => data(api.POST("/api/lessons/{lesson_id}/what-if", { ...at(lessonId), body, signal })),
  });
  const keep = useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/terms", { ...at(lessonId), body })), onSuccess: refresh });
  return { what, keep };
}
