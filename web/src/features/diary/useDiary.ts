import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, Problem, seen, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";

export type Span = Schemas["DiarySpanOut"];
export type Slot = Schemas["SlotOut"];
export type Place = Schemas["PlaceOut"];
export type Waiting = Schemas["WaitingOut"];
export type Rules = Schemas["DiaryRulesOut"];
export type Move = Partial<Schemas["MoveIn"]>;

/** The next free places that a refusal names. */
export function placesOf(error: unknown): Place[] {
  return error instanceof Problem && Array.isArray(error.more["places"]) ? (error.more["places"] as Place[]) : [];
}

/** Nobody works then, but it can be booked anyway. */
export const isOutside = (error: unknown) => error instanceof Problem && error.code === "outside_hours";

export function useSpan(first: string | null, days: number) {
  return useQuery({
    queryKey: keys.diarySpan(first ?? "", days),
    refetchInterval: 60_000, // others book too
    queryFn: ({ signal }) => data(api.GET("/api/diary/span", { params: { query: { ...(first ? { first } : {}), days } }, signal })),
  });
}

/** What changes the diary; each asks for all of it again. */
export function useChanges() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.diary() });
  const at = (lesson_id: string) => ({ params: { path: { lesson_id } } });
  return {
    book: useMutation({ mutationFn: (body: Schemas["BookIn"]) => data(api.POST("/api/lessons", { body })), onSuccess }),
    row: useMutation({ mutationFn: (body: Schemas["RowIn"]) => data(api.POST("/api/lessons/rows", { body })), onSuccess }),
    move: useMutation({
      mutationFn: ({ id, to }: { id: string; to: Move }) => data(api.POST("/api/lessons/{lesson_id}/moved", { ...at(id), body: { anyway: false, ...to } })),
      onSuccess,
    }),
    cancel: useMutation({
      mutationFn: ({ id, reason }: { id: string; reason: string }) => data(api.POST("/api/lessons/{lesson_id}/cancelled", { ...at(id), body: { reason } })),
      onSuccess,
    }),
    missed: useMutation({ mutationFn: (id: string) => data(api.POST("/api/lessons/{lesson_id}/no-show", at(id))), onSuccess }),
    again: useMutation({ mutationFn: (id: string) => data(api.POST("/api/lessons/{lesson_id}/reinstated", at(id))), onSuccess }),
  };
}

export function useWaiting(open: boolean) {
  const client = useQueryClient();
  const put = (found: Waiting[]) => void client.setQueryData(keys.waiting, found);
  return {
    found: useQuery({ queryKey: keys.waiting, enabled: open, queryFn: ({ signal }) => data(api.GET("/api/waiting", { signal })) }),
    add: useMutation({ mutationFn: (body: Schemas["WaitingIn"]) => data(api.POST("/api/waiting", { body })), onSuccess: put }),
    drop: useMutation({
      mutationFn: (waiting_id: string) => data(api.DELETE("/api/waiting/{waiting_id}", { params: { path: { waiting_id } } })),
      onSuccess: put,
    }),
  };
}

export function useRules(open: boolean) {
  const client = useQueryClient();
  return {
    found: useQuery({ queryKey: keys.diaryRules, enabled: open, queryFn: ({ signal }) => data(api.GET("/api/diary/rules", { signal })) }),
    save: useMutation({
      mutationFn: ({ revision, ...body }: Rules) => data(api.PUT("/api/diary/rules", { params: { header: seen(revision) }, body })),
      onSuccess: (made) => {
        client.setQueryData(keys.diaryRules, made);
        return client.invalidateQueries({ queryKey: keys.diary() });
      },
      onError: () => client.invalidateQueries({ queryKey: keys.diaryRules }),
    }),
  };
}

export function useCalendars(open: boolean) {
  const client = useQueryClient();
  const put = (found: Schemas["CalendarsOut"]) => {
    client.setQueryData(keys.calendars, found);
    return client.invalidateQueries({ queryKey: keys.diary() });
  };
  return {
    found: useQuery({ queryKey: keys.calendars, enabled: open, queryFn: ({ signal }) => data(api.GET("/api/calendars", { signal })) }),
    follow: useMutation({
      mutationFn: (instructor_id: string) => data(api.POST("/api/instructors/{instructor_id}/feeds", { params: { path: { instructor_id } } })),
      onSuccess: () => client.invalidateQueries({ queryKey: keys.calendars }),
    }),
    unfollow: useMutation({
      mutationFn: (feed_id: string) => data(api.DELETE("/api/feeds/{feed_id}", { params: { path: { feed_id } } })),
      onSuccess: put,
    }),
    bring: useMutation({
      mutationFn: ({ of, file }: { of: string; file: File }) => {
        const form = new FormData();
        form.append("file", file);
        return data(
          api.POST("/api/instructors/{instructor_id}/busy", {
            params: { path: { instructor_id: of } },
            body: form as unknown as { file: string },
            bodySerializer: () => form,
          }),
        );
      },
      onSuccess: put,
    }),
    drop: useMutation({
      mutationFn: (calendar_id: string) => data(api.DELETE("/api/calendars/{calendar_id}", { params: { path: { calendar_id } } })),
      onSuccess: put,
    }),
  };
}

export const usePlayers = (open: boolean) =>
  useQuery({ queryKey: keys.players(""), enabled: open, queryFn: ({ signal }) => data(api.GET("/api/players", { signal })) });

export function useNext(playerId: string) {
  return useQuery({
    queryKey: keys.nextLesson(playerId),
    enabled: playerId !== "",
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}/next", { params: { path: { player_id: playerId } }, signal })),
  });
}
