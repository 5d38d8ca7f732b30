import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";

import { api, data, type Schemas } from "@/api/client";
import { useChangeGround, useChangeLesson, useChangeSwing, usePutLesson, useRefresh, useUndo } from "@/api/hooks";
import { keys } from "@/api/keys";

import type { SwingData } from "./useSwingData";

/** What can be done to a swing and its lesson from the Swing view. */
export function useSwingActions(lessonId: string, swingId: string, found: SwingData) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const refresh = useRefresh(lessonId);
  const put = usePutLesson(lessonId);
  const swing = useChangeSwing(lessonId);
  const ground = useChangeGround(lessonId, swingId);
  const lesson = useChangeLesson(lessonId);
  const { undo, redo } = useUndo(lessonId);
  const of = { params: { path: { lesson_id: lessonId } } };
  const pin = useMutation({
    mutationFn: (ids: string[]) => data(api.POST("/api/lessons/{lesson_id}/pin", { ...of, body: { swing_ids: ids } })),
    onSuccess: put,
  });
  const block = useMutation({
    mutationFn: (body: Schemas["BlockIn"]) => data(api.POST("/api/lessons/{lesson_id}/blocks", { ...of, body })),
    onSuccess: put,
  });
  const endBlock = useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/blocks/end", of)), onSuccess: put });
  const reference = useMutation({
    mutationFn: (body: Schemas["ReferenceIn"]) => data(api.POST("/api/references", { body })),
    onSuccess: () => Promise.all([client.invalidateQueries({ queryKey: keys.references }), refresh()]),
  });

  /** An import that was undone has taken its swings along, perhaps the one being looked at. */
  const leaveWhatIsGone = () => {
    const left = client.getQueryData<Schemas["LessonOut"]>(keys.lesson(lessonId))?.swings ?? [];
    if (left.some((s) => s.id === swingId)) return;
    const last = left.at(-1);
    if (last) void navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId: last.id } });
    else void navigate({ to: "/lessons/$lessonId/capture", params: { lessonId } });
  };
  const patch = (p: Schemas["SwingPatch"], id = swingId) => swing.mutate({ id, patch: p });
  const justChanged = swing.isSuccess || lesson.isSuccess || pin.isSuccess || ground.isSuccess;
  return {
    justChanged,
    ground,
    lesson,
    undo: () => undo.mutate(undefined, { onSuccess: leaveWhatIsGone }),
    undoError: undo.error,
    redo: () => redo.mutate(),
    pin,
    block,
    endBlock,
    reference,
    patch,
    error: swing.error ?? block.error ?? undo.error ?? pin.error ?? lesson.error,
    move: (name: string, time_s: number | null) => patch({ reason: "", checkpoint: { name, time_s } }),
    togglePin: () => {
      const pinned = found.lesson?.pinned ?? [];
      pin.mutate(pinned.includes(swingId) ? pinned.filter((p) => p !== swingId) : [...pinned, swingId]);
    },
    train: () => {
      const headline = found.swing?.headline;
      const info = found.catalogue?.findings.find((f) => f.id === headline?.finding);
      const metric = info?.metric ?? found.catalogue?.metrics.find((m) => m.id === found.measure)?.id;
      if (metric)
        block.mutate({ kind: "drill", finding: headline?.finding ?? "", metric, moment: info?.moment ?? found.opened ?? "top", drill: info?.drills[0] ?? "" });
    },
    go: (to: Schemas["SwingBrief"] | undefined) =>
      to && void navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId: to.id }, replace: true }),
    compare: () => {
      const seen = found.catalogue?.metrics.some((m) => m.id === found.measure);
      const what = seen ? { metric: found.measure, moment: found.opened ?? "top" } : {};
      void navigate({ to: "/lessons/$lessonId/compare", params: { lessonId }, search: { a: `swing:${swingId}`, ...what } });
    },
    table: () => void navigate({ to: "/lessons/$lessonId/table", params: { lessonId } }),
    show: () => void navigate({ to: "/lessons/$lessonId/show/$swingId", params: { lessonId, swingId } }),
  };
}

export type SwingActions = ReturnType<typeof useSwingActions>;
