import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";

/** What a lesson, or one of its swings, can be compared with. */
export function useChoices(lessonId: string, swingId: string | undefined) {
  return useQuery({
    queryKey: keys.comparable(lessonId, swingId),
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/lessons/{lesson_id}/comparable", {
          params: { path: { lesson_id: lessonId }, query: swingId ? { swing: swingId } : {} },
          signal,
        }),
      ),
  });
}

/** Two sides compared; while another measure or side is on its way, what was there stays. */
export function useCompared(asked: { a: string; b: string; metric: string; moment: string }) {
  return useQuery({
    queryKey: keys.compared(asked),
    enabled: Boolean(asked.a && asked.b),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => data(api.GET("/api/compare", { params: { query: asked }, signal })),
  });
}

/** Where along the swing groups differ; it comes a moment later. */
export function useCurves(asked: { a: string; b: string; metric: string }, groups: boolean) {
  return useQuery({
    queryKey: keys.curves(asked),
    enabled: groups && Boolean(asked.metric),
    queryFn: ({ signal }) => data(api.GET("/api/compare/curves", { params: { query: asked }, signal })),
  });
}
