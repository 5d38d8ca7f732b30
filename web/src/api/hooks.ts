import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { decodeMat, type MatBlock } from "@/lib/mat";
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

/** The figure's joints over time; asked for only while the figure is shown. */
export function useFigure(swingId: string | undefined) {
  return useQuery({
    queryKey: ["figure", swingId],
    enabled: Boolean(swingId),
    queryFn: async (): Promise<Traces> => {
      const response = await fetch(`/api/swings/${swingId}/figure`);
      if (!response.ok) throw await problemOf(response);
      return decodeTraces(await response.arrayBuffer());
    },
  });
}

/** Pictures of the mat and the way of the pressure. */
export function useMat(swingId: string | undefined) {
  return useQuery({
    queryKey: ["mat", swingId],
    enabled: Boolean(swingId),
    queryFn: async (): Promise<MatBlock> => {
      const response = await fetch(`/api/swings/${swingId}/ground`);
      if (!response.ok) throw await problemOf(response);
      return decodeMat(await response.arrayBuffer());
    },
  });
}

export function useGroundReferences() {
  return useQuery({ queryKey: ["ground-references"], queryFn: () => data(api.GET("/api/ground/references")), staleTime: Infinity });
}

/** All versions of the ranges. */
export function useVersions() {
  return useQuery({ queryKey: ["benchmarks"], queryFn: () => data(api.GET("/api/benchmarks")) });
}

/** Courses that can be laid over a swing. */
export function useReferences() {
  return useQuery({ queryKey: ["references"], queryFn: () => data(api.GET("/api/references")) });
}

/** A reference on a swing's own time axis; null when it cannot be laid over. */
export function useOverlay(swingId: string | undefined, reference: string) {
  return useQuery({
    queryKey: ["traces", swingId, "over", reference],
    enabled: Boolean(swingId) && reference !== "",
    queryFn: async (): Promise<Traces | null> => {
      const response = await fetch(`/api/swings/${swingId}/reference?reference=${encodeURIComponent(reference)}`);
      if (!response.ok) throw await problemOf(response);
      const block = await response.arrayBuffer();
      return block.byteLength ? decodeTraces(block) : null;
    },
  });
}

export function useChangeGround(lessonId: string, swingId: string) {
  const refresh = useRefresh(lessonId);
  const path = { params: { path: { swing_id: swingId } } };
  return useMutation({
    mutationFn: (to: { guess?: Schemas["GuessIn"]; split?: Schemas["SplitIn"]; clock?: Schemas["MatClockIn"] }) =>
      to.guess ? data(api.PUT("/api/swings/{swing_id}/guess", { ...path, body: to.guess }))
      : to.split ? data(api.PUT("/api/swings/{swing_id}/split", { ...path, body: to.split }))
      : data(api.PUT("/api/swings/{swing_id}/mat-clock", { ...path, body: to.clock ?? { shift_s: null } })),
    onSuccess: refresh,
  });
}

/** Everything that hangs on a lesson is asked for again. */
export function useRefresh(lessonId: string) {
  const client = useQueryClient();
  return async () => {
    await Promise.all([
      client.invalidateQueries({ queryKey: ["lesson", lessonId] }),
      client.invalidateQueries({ queryKey: ["swing"] }),
      client.invalidateQueries({ queryKey: ["traces"] }),
      client.invalidateQueries({ queryKey: ["figure"] }),
      client.invalidateQueries({ queryKey: ["mat"] }),
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

/** A plain form post, since a file goes as it is. */
async function postFile<T>(path: string, file: File, fields: Record<string, string> = {}): Promise<T> {
  const form = new FormData();
  form.append("file", file);
  for (const [name, value] of Object.entries(fields)) form.append(name, value);
  const response = await fetch(path, { method: "POST", body: form, headers: { "x-csrf-token": csrfToken() } });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as T;
}

export const importRanges = (file: File) => postFile<Schemas["VersionOut"]>("/api/benchmarks/import", file);
export const importAcademyRules = (file: File) => postFile<Schemas["AcademyRulesOut"]>("/api/academy-rules/import", file);

export const dropBundle = (lessonId: string, file: File) => postFile<Schemas["Imported"]>(`/api/lessons/${lessonId}/bundle`, file);

/** What a marker file holds; nothing is kept yet. */
export const inspectMarkers = (lessonId: string, file: File) => postFile<Schemas["MarkerInspection"]>(`/api/lessons/${lessonId}/markers/inspect`, file);

/** Sent as JSON beside the file: our label to the file's, directions, club, and the name to remember it by. */
export interface MarkerMapping {
  names: Record<string, string>;
  axes: Schemas["AxesIO"];
  club: string;
  remember_as: string;
}

export const importMarkers = (lessonId: string, file: File, mapping: MarkerMapping) =>
  postFile<Schemas["Imported"]>(`/api/lessons/${lessonId}/markers`, file, { mapping: JSON.stringify(mapping) });
