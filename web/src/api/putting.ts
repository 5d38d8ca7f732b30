import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { decodeCourses } from "@/lib/putts";

import { api, data, problemOf, send, type Schemas } from "./client";
import { useChangeSwing, useRefresh } from "./hooks";
import { keys } from "./keys";

export type Putting = Schemas["PuttingOut"];
export type Putt = Schemas["PuttShownOut"];
export type PuttRow = Schemas["PuttRowOut"];
export type Step = Schemas["StepOut"];

/** What is noted; what is not given stays as it is, though its type has a value for it. */
export type Given<Name extends "PuttPatch" | "PuttRow" | "PuttingNotesIn"> = Partial<Schemas[Name]>;

/** A lesson's putts: by distance, step by step, side by side. */
export function usePutting(lessonId: string, wanted = true) {
  return useQuery({
    queryKey: keys.putting(lessonId),
    enabled: wanted,
    queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/putting", { params: { path: { lesson_id: lessonId } }, signal })),
  });
}

/** What their pictures are drawn from; asked for again only where a putt came, went or was measured again. */
export function useCourses(lessonId: string, putts: readonly Putt[] | undefined) {
  const stamp = putts?.map((p) => `${p.id}:${p.measuring}`).join(" ");
  return useQuery({
    queryKey: keys.courses(lessonId, stamp ?? ""),
    enabled: stamp !== undefined,
    staleTime: Infinity,
    // the pictures that are there stay while one more is on its way
    placeholderData: (old: Map<string, unknown> | undefined) => old as never,
    queryFn: async ({ signal }) => {
      const response = await send(new Request(`/api/lessons/${lessonId}/putting/courses`, { signal }));
      if (!response.ok) throw await problemOf(response);
      return decodeCourses(await response.arrayBuffer());
    },
  });
}

/** The plan of distances; what is chosen shows at once. */
export function usePuttPlan(lessonId: string) {
  const client = useQueryClient();
  const key = keys.putting(lessonId);
  return useMutation({
    mutationFn: (plan: Schemas["PuttPlanIn"]) => data(api.PATCH("/api/lessons/{lesson_id}/putting", { params: { path: { lesson_id: lessonId } }, body: plan })),
    onSuccess: (plan) => {
      client.setQueryData<Putting>(key, (p) => p && { ...p, plan });
      return client.invalidateQueries({ queryKey: key });
    },
  });
}

/** Outcome, how far past, distance of one putt. */
export function useNotePutt(lessonId: string) {
  const change = useChangeSwing(lessonId);
  const note = (id: string, noted: Given<"PuttPatch">) => change.mutate({ id, patch: { reason: "", putt: noted as Schemas["PuttPatch"] } });
  return { note, error: change.error };
}

/** Distance, slope or break of a row of putts at once. */
export function useNoteRow(lessonId: string) {
  const refresh = useRefresh(lessonId);
  return useMutation({
    mutationFn: (row: Given<"PuttRow"> & { swings: string[] }) =>
      data(api.POST("/api/lessons/{lesson_id}/putts", { params: { path: { lesson_id: lessonId } }, body: row as Schemas["PuttRow"] })),
    onSuccess: refresh,
  });
}

/** Green speed, grip, how the face sits in the hands. */
export function useNoteSession(lessonId: string) {
  const refresh = useRefresh(lessonId);
  return useMutation({
    mutationFn: ({ id, noted }: { id: string; noted: Given<"PuttingNotesIn"> }) =>
      data(api.PATCH("/api/recordings/{recording_id}/putting", { params: { path: { recording_id: id } }, body: noted as Schemas["PuttingNotesIn"] })),
    onSuccess: refresh,
  });
}
