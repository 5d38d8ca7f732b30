import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, type Schemas } from "@/api/client";
import { attachClip, useRefreshLesson } from "@/api/hooks";
import { keys } from "@/api/keys";

export type Clip = Schemas["ClipOut"];
export type ClipView = Clip["view"];

/** The videos of a swing, and what can be done with them. */
export function useClips(lessonId: string, swingId: string, shown: boolean) {
  const client = useQueryClient();
  const refreshLesson = useRefreshLesson(lessonId);
  const onSuccess = (told: Schemas["ClipsOut"]) => {
    client.setQueryData(keys.clips(swingId), told);
    return refreshLesson(); // what can be undone
  };
  const found = useQuery({
    queryKey: keys.clips(swingId),
    queryFn: () => data(api.GET("/api/swings/{swing_id}/clips", { params: { path: { swing_id: swingId } } })),
    enabled: shown,
  });
  const attach = useMutation({ mutationFn: ({ view, file }: { view: ClipView; file: File }) => attachClip(swingId, view, file), onSuccess });
  const lay = useMutation({
    mutationFn: ({ id, ...body }: { id: string } & Schemas["ClipPatch"]) =>
      data(api.PATCH("/api/clips/{clip_id}", { params: { path: { clip_id: id } }, body })),
    onSuccess,
  });
  const remove = useMutation({ mutationFn: (id: string) => data(api.DELETE("/api/clips/{clip_id}", { params: { path: { clip_id: id } } })), onSuccess });
  return {
    clips: found.data?.clips ?? [],
    pending: shown && found.isPending,
    attach,
    lay,
    remove,
    error: found.error ?? attach.error ?? lay.error ?? remove.error,
  };
}

/** The videos of a swing, to be looked at alone. */
export function useClipsOf(swingId: string | undefined): readonly Clip[] {
  const found = useQuery({
    queryKey: keys.clips(swingId ?? ""),
    queryFn: () => data(api.GET("/api/swings/{swing_id}/clips", { params: { path: { swing_id: swingId! } } })),
    enabled: Boolean(swingId),
  });
  return found.data?.clips ?? NONE;
}

const NONE: readonly Clip[] = [];

export type Clips = ReturnType<typeof useClips>;
