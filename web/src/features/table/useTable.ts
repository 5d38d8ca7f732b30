import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, type Schemas } from "@/api/client";
import { useRefresh, useUndo } from "@/api/hooks";
import { keys } from "@/api/keys";

/** A lesson as a table with these columns, and the ways to change several of its swings. */
export function useTable(lessonId: string, columns: string[]) {
  const client = useQueryClient();
  const refresh = useRefresh(lessonId);
  const found = useQuery({
    queryKey: keys.table(lessonId, columns),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/table", { params: { path: { lesson_id: lessonId }, query: { column: columns } }, signal })),
  });
  const again = () => Promise.all([refresh(), client.invalidateQueries({ queryKey: keys.swing() })]);
  const mark = useMutation({
    mutationFn: (body: Schemas["MarkSeveralIn"]) => data(api.POST("/api/lessons/{lesson_id}/swings/mark", { params: { path: { lesson_id: lessonId } }, body })),
    onSuccess: again,
  });
  const { undo, redo } = useUndo(lessonId);
  return {
    found,
    mark,
    undo: () => undo.mutate(undefined, { onSuccess: () => void again() }),
    redo: () => redo.mutate(undefined, { onSuccess: () => void again() }),
    error: mark.error ?? undo.error ?? redo.error,
  };
}
