import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { joinedWith } from "@/lib/joined";
import { decodeMat, type MatBlock } from "@/lib/mat";
import { decodeTraces, type Traces } from "@/lib/traces";

import { api, data, problemOf, seen, send, type Schemas } from "./client";
import { keys } from "./keys";
import { putLatest } from "./latest";

/** Who is signed in, as the shell has asked; nothing is asked again. */
export function useMe(): Schemas["Me"] | undefined {
  return useQuery<Schemas["Me"]>({ queryKey: keys.me, queryFn: ({ signal }) => data(api.GET("/api/me", { signal })), staleTime: Infinity }).data;
}

/** How the academy's backups stand; for owners. */
export function useBackup(wanted = true) {
  return useQuery({
    queryKey: keys.backup,
    enabled: wanted,
    refetchInterval: 600_000,
    queryFn: ({ signal }) => data(api.GET("/api/people/backup", { signal })),
  });
}

export function useCatalogue() {
  return useQuery({
    queryKey: keys.catalogue,
    queryFn: ({ signal }) => data(api.GET("/api/catalogue", { signal })),
    staleTime: Infinity,
  });
}

export function useLesson(lessonId: string) {
  return useQuery({
    queryKey: keys.lesson(lessonId),
    queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}", { params: { path: { lesson_id: lessonId } }, signal })),
  });
}

export function swingQuery(swingId: string) {
  return {
    queryKey: keys.swing(swingId),
    queryFn: ({ signal }: { signal: AbortSignal }) => data(api.GET("/api/swings/{swing_id}", { params: { path: { swing_id: swingId } }, signal })),
  };
}

/** A swing as one of its measurings: its blocks have an address whose content never changes. */
export interface Measuring {
  id: string;
  measuring: number;
}

function blockQuery<T>(kind: "traces" | "figure" | "ground", of: Measuring | undefined, decode: (block: ArrayBuffer) => T) {
  return {
    queryKey: keys.block(kind, of?.id, of?.measuring),
    enabled: of !== undefined,
    staleTime: Infinity,
    // while a swing that was measured again is on its way, the picture stays as it was
    placeholderData: (old: T | undefined, before: { queryKey: readonly unknown[] } | undefined) => (before?.queryKey[2] === of?.id ? old : undefined),
    queryFn: async ({ signal }: { signal: AbortSignal }): Promise<T> => {
      const response = await send(new Request(`/api/swings/${of!.id}/blocks/${kind}/${of!.measuring}`, { signal }));
      if (!response.ok) throw await problemOf(response);
      return decode(await response.arrayBuffer());
    },
  };
}

export const tracesQuery = (of: Measuring | undefined) => blockQuery<Traces>("traces", of, decodeTraces);

export function useSwing(swingId: string | undefined) {
  return useQuery({ ...swingQuery(swingId ?? ""), enabled: Boolean(swingId) });
}

/** Every value of a swing in words; asked for when they are looked at. */
export function useNumbers(of: Measuring | undefined) {
  return useQuery({
    queryKey: keys.numbers(of?.id, of?.measuring),
    enabled: of !== undefined,
    queryFn: ({ signal }) => data(api.GET("/api/swings/{swing_id}/numbers", { params: { path: { swing_id: of!.id } }, signal })),
  });
}

export function useTraces(of: Measuring | undefined) {
  return useQuery(tracesQuery(of));
}

/** The figure's joints over time; asked for only while the figure is shown. */
export function useFigure(of: Measuring | undefined) {
  return useQuery(blockQuery<Traces>("figure", of, decodeTraces));
}

/** Pictures of the mat and the way of the pressure. */
export function useMat(of: Measuring | undefined) {
  return useQuery(blockQuery<MatBlock>("ground", of, decodeMat));
}

export function useGroundReferences() {
  return useQuery({ queryKey: keys.groundReferences, queryFn: ({ signal }) => data(api.GET("/api/ground/references", { signal })), staleTime: Infinity });
}

/** All versions of the ranges. */
export function useVersions() {
  return useQuery({ queryKey: keys.benchmarks, queryFn: ({ signal }) => data(api.GET("/api/benchmarks", { signal })) });
}

/** Courses that can be laid over a swing. */
export function useReferences() {
  return useQuery({ queryKey: keys.references, queryFn: ({ signal }) => data(api.GET("/api/references", { signal })) });
}

/** A reference on a swing's own time axis; null when it cannot be laid over. */
export function useOverlay(swingId: string | undefined, reference: string) {
  return useQuery({
    queryKey: keys.overlay(swingId, reference),
    enabled: Boolean(swingId) && reference !== "",
    queryFn: async ({ signal }): Promise<Traces | null> => {
      const response = await send(new Request(`/api/swings/${swingId}/reference?reference=${encodeURIComponent(reference)}`, { signal }));
      if (!response.ok) throw await problemOf(response);
      const block = await response.arrayBuffer();
      return block.byteLength ? decodeTraces(block) : null;
    },
  });
}

/** Puts what a change of a swing changed where it is shown; nothing else is asked for again. What is said of the lesson's other
 * swings is asked for when they are next opened. */
export function useApplyChange(lessonId: string) {
  const client = useQueryClient();
  const put = (changed: Schemas["SwingChanged"]) => {
    const { brief } = changed;
    const briefs = new Map([brief, ...changed.others].map((s) => [s.id, s]));
    client.setQueryData<Schemas["LessonOut"]>(
      keys.lesson(lessonId),
      (l) =>
        l && {
          ...l,
          swings: l.swings.map((s) => briefs.get(s.id) ?? s),
          summaries: [...l.summaries.filter((s) => !changed.summaries.some((c) => c.club === s.club)), ...changed.summaries],
          can_undo: changed.can_undo,
          can_redo: changed.can_redo,
        },
    );
    client.setQueryData<Schemas["SwingOut"]>(
      keys.swing(brief.id),
      (s) => changed.swing ?? (s && { ...s, ...brief, headline: changed.headline, findings: changed.findings }),
    );
    if (brief.putt) void client.invalidateQueries({ queryKey: keys.putting(lessonId) });
    if (changed.stale)
      void client.invalidateQueries({
        queryKey: keys.swing(),
        refetchType: changed.others.length > 0 ? "active" : "none",
        predicate: (q) => q.queryKey[1] !== brief.id,
      });
  };
  return (changed: Schemas["SwingChanged"]) => putLatest(client, [keys.lesson(lessonId), keys.swing(changed.brief.id)], () => put(changed));
}

export function useChangeGround(lessonId: string, swingId: string) {
  const apply = useApplyChange(lessonId);
  const path = { params: { path: { swing_id: swingId } } };
  return useMutation({
    mutationFn: (to: { guess?: Schemas["GuessIn"]; split?: Schemas["SplitIn"]; clock?: Schemas["MatClockIn"] }) =>
      to.guess
        ? data(api.PUT("/api/swings/{swing_id}/guess", { ...path, body: to.guess }))
        : to.split
          ? data(api.PUT("/api/swings/{swing_id}/split", { ...path, body: to.split }))
          : data(api.PUT("/api/swings/{swing_id}/mat-clock", { ...path, body: to.clock ?? { shift_s: null } })),
    onSuccess: apply,
  });
}

/** What came to a lesson while it is open joins what is shown: newer swings, and what they changed. */
export function useJoin(lessonId: string) {
  const client = useQueryClient();
  const key = keys.lesson(lessonId);
  return async () => {
    const known = client.getQueryData<Schemas["LessonOut"]>(key);
    if (!known) return;
    const after = Math.max(0, ...known.swings.map((s) => s.number));
    const came = await data(api.GET("/api/lessons/{lesson_id}/joined", { params: { path: { lesson_id: lessonId }, query: { after } } }));
    client.setQueryData<Schemas["LessonOut"]>(key, (l) => l && joinedWith(l, came));
    if (came.swings.some((s) => s.putt)) void client.invalidateQueries({ queryKey: keys.putting(lessonId) });
    void client.invalidateQueries({ queryKey: keys.diary(), refetchType: "none" });
  };
}

/** What hangs on a lesson is asked for again: after another school, another limit, the end. Blocks have addresses of their own. */
export function useRefresh(lessonId: string) {
  const client = useQueryClient();
  return async () => {
    await Promise.all([
      client.invalidateQueries({ queryKey: keys.lesson(lessonId) }),
      client.invalidateQueries({ queryKey: keys.swing() }),
      client.invalidateQueries({ queryKey: keys.diary() }),
    ]);
  };
}

/** The lesson alone is asked for again: what can be undone. */
export function useRefreshLesson(lessonId: string) {
  const client = useQueryClient();
  return () => client.invalidateQueries({ queryKey: keys.lesson(lessonId), exact: true });
}

export function useChangeSwing(lessonId: string) {
  const apply = useApplyChange(lessonId);
  return useMutation({
    mutationFn: ({ id, patch }: { id: string; patch: Schemas["SwingPatch"] }) =>
      data(api.PATCH("/api/swings/{swing_id}", { params: { path: { swing_id: id } }, body: patch })),
    onSuccess: apply,
  });
}

/** The answer to a change of the lesson is the lesson; what rests on it elsewhere is asked for when it is next opened. */
export function usePutLesson(lessonId: string) {
  const client = useQueryClient();
  return (lesson: Schemas["LessonOut"]) =>
    putLatest(client, [keys.lesson(lessonId)], () => {
      client.setQueryData(keys.lesson(lessonId), lesson);
      for (const queryKey of [keys.swing(), keys.diary()]) void client.invalidateQueries({ queryKey, refetchType: "none" });
    });
}

/** Puts what a change of the lesson changed in place. */
export function useApplyToLesson(lessonId: string) {
  const client = useQueryClient();
  return ({ summaries, ...fields }: Schemas["LessonChanged"]) => {
    const clubs = summaries.map((s) => s.club);
    return putLatest(client, [keys.lesson(lessonId)], () =>
      client.setQueryData<Schemas["LessonOut"]>(
        keys.lesson(lessonId),
        (l) => l && { ...l, ...fields, summaries: [...summaries, ...l.summaries.filter((s) => !clubs.includes(s.club))] },
      ),
    );
  };
}

export function useChangeLesson(lessonId: string) {
  const client = useQueryClient();
  const apply = useApplyToLesson(lessonId);
  return useMutation({
    mutationFn: ({ revision: onTopOf, ...patch }: Schemas["LessonPatch"] & { revision?: string }) => {
      const revision = onTopOf ?? client.getQueryData<Schemas["LessonOut"]>(keys.lesson(lessonId))?.revision ?? "";
      return data(api.PATCH("/api/lessons/{lesson_id}", { params: { path: { lesson_id: lessonId }, header: seen(revision) }, body: patch }));
    },
    onSuccess: apply,
  });
}

export function useUndo(lessonId: string) {
  const refresh = useRefresh(lessonId);
  const apply = useApplyChange(lessonId);
  const path = { params: { path: { lesson_id: lessonId } } };
  const onSuccess = (undone: Schemas["Undone"]) => (undone.changed ? apply(undone.changed) : refresh());
  return {
    undo: useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/undo", path)), onSuccess }),
    redo: useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/redo", path)), onSuccess }),
  };
}

/** A plain form post, since a file goes as it is. */
async function postFile<T>(path: string, file: File, fields: Record<string, string> = {}, headers: Record<string, string> = {}): Promise<T> {
  const form = new FormData();
  form.append("file", file);
  for (const [name, value] of Object.entries(fields)) form.append(name, value);
  const response = await send(new Request(path, { method: "POST", body: form, headers }));
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as T;
}

/** `nearS`: where in the video the strike is expected, s. */
export const attachClip = (swingId: string, view: Schemas["ClipOut"]["view"], file: File, nearS?: number) =>
  postFile<Schemas["ClipsOut"]>(`/api/swings/${swingId}/clips/${view}${nearS === undefined ? "" : `?near_s=${nearS.toFixed(2)}`}`, file);

/** A log that clips have handed over in a bay: the job that brings it. */
export const takeHandedOver = (playerId: string, log: string) =>
  data(api.POST("/api/players/{player_id}/handed-over/{log_key}", { params: { path: { player_id: playerId, log_key: log } } }));

/** The clips' log of a round: the job that brings it. */
export const bringRound = (playerId: string, file: File) => postFile<Schemas["JobOut"]>(`/api/players/${playerId}/rounds`, file);

/** The export of a player or a lesson: the job that brings it. */
export const bringPlayer = (file: File) => postFile<Schemas["JobOut"]>("/api/players/bring", file);

export const importRanges = (file: File) => postFile<Schemas["VersionOut"]>("/api/benchmarks/import", file);
export const importAcademyRules = (file: File) => postFile<Schemas["AcademyRulesOut"]>("/api/academy-rules/import", file);

/** The answer is the job that reads it. */
const LATER = { prefer: "respond-async" };
export const dropBundle = (lessonId: string, file: File) => postFile<Schemas["JobOut"]>(`/api/lessons/${lessonId}/bundle`, file, {}, LATER);

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
  postFile<Schemas["JobOut"]>(`/api/lessons/${lessonId}/markers`, file, { mapping: JSON.stringify(mapping) }, LATER);
