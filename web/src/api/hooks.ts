import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { decodeTraces, type Traces } from "@/lib/traces";

import { api, csrfToken, data, problemOf, type Schemas } from "./client";

export function useCatalogue() {
  return useQuery({
    queryKey: ["catalogue"],
    queryFn: () => data(api.GET("/api/catalogue")),
    staleTime: Infinity,
  });
}

export function useLesson(lessonId: string) {
  return useQuery({
    queryKey: ["lesson", lessonId],
    queryFn: () => data(api.GET("/api/lessons/{lesson_id}", { params: { path: { lesson_id: lessonId } } })),
  });
}

export function swingQuery(swingId: string) {
  return {
    queryKey: ["swing", swingId],
    queryFn: () => data(api.GET("/api/swings/{swing_id}", { params: { path: { swing_id: swingId } } })),
  };
}

export function tracesQuery(swingId: string) {
  return {
    queryKey: ["traces", swingId],
    queryFn: async (): Promise<Traces> => {
      const response = await fetch(`/api/swings/${swingId}/traces`);
      if (!response.ok) throw await problemOf(response);
      return decodeTraces(await response.arrayBuffer());
    },
  };
}

export function useSwing(swingId: string | undefined) {
  return useQuery({ ...swingQuery(swingId ?? ""), enabled: Boolean(swingId) });
}

export function useTraces(swingId: string | undefined) {
  return useQuery({ ...tracesQuery(swingId ?? ""), enabled: Boolean(swingId) });
}

/** Everything that hangs on a lesson is asked for again. */
export function useRefresh(lessonId: string) {
  const client = useQueryClient();
  return async () => {
    await Promise.all([
      client.invalidateQueries({ queryKey: ["lesson", lessonId] }),
      client.invalidateQueries({ queryKey: ["swing"] }),
      client.invalidateQueries({ queryKey: ["traces"] }),
      client.invalidateQueries({ queryKey: ["diary"] }),
    ]);
  };
}

export function useChangeSwing(lessonId: string) {
  const refresh = useRefresh(lessonId);
  return useMutation({
    mutationFn: ({ id, patch }: { id: string; patch: Schemas["SwingPatch"] }) =>
      data(api.PATCH("/api/swings/{swing_id}", { params: { path: { swing_id: id } }, body: patch })),
    onSuccess: refresh,
  });
}

export function useChangeLesson(lessonId: string) {
  const refresh = useRefresh(lessonId);
  return useMutation({
    mutationFn: (patch: Schemas["LessonPatch"]) =>
      data(api.PATCH("/api/lessons/{lesson_id}", { params: { path: { lesson_id: lessonId } }, body: patch })),
    onSuccess: refresh,
  });
}

export function useUndo(lessonId: string) {
  const refresh = useRefresh(lessonId);
  const path = { params: { path: { lesson_id: lessonId } } };
  return {
    undo: useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/undo", path)), onSuccess: refresh }),
    redo: useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/redo", path)), onSuccess: refresh }),
  };
}

/** Drop a bundle: a plain form post, since the file goes as it is. */
export async function dropBundle(lessonId: string, file: File): Promise<Schemas["Imported"]> {
  const form = new FormData();
  form.append("file", file);
  const response = await fetch(`/api/lessons/${lessonId}/bundle`, {
    method: "POST",
    body: form,
    headers: { "x-csrf-token": csrfToken() },
  });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as Schemas["Imported"];
}
