import { useQueries, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";

import { swingQuery, tracesQuery, useCatalogue, useFigure, useLesson, useOverlay, useReferences, useSwing, useTraces, type Measuring } from "@/api/hooks";
import type { Checkpoint } from "@/lib/arc";
import { withBands } from "@/lib/bands";
import { betweenSwings } from "@/lib/grip";
import { checkpointOf, groupOf, measureOf } from "@/lib/measures";
import { ledBy } from "@/lib/lead";
import { restOf } from "@/lib/rest";
import type { Ghost } from "@/shared/charts/TraceChart";

import type { View } from "./useView";
import { tr } from "@/lib/language";

/** Everything a swing is drawn from, with its neighbours fetched ahead; blocks only where they are shown. */
export function useSwingData(lessonId: string, swingId: string, view: View, peek: boolean) {
  const client = useQueryClient();
  const lesson = useLesson(lessonId);
  const swing = useSwing(swingId);
  const shown: Measuring | undefined = swing.data ?? lesson.data?.swings.find((s) => s.id === swingId);
  const traces = useTraces(shown);
  const catalogue = useCatalogue();
  const references = useReferences();
  const overlay = useOverlay(swingId, view.over);
  const joints = useFigure(view.figure && swing.data?.figure ? swing.data : undefined);

  const swings = useMemo(() => lesson.data?.swings ?? [], [lesson.data]);
  const index = swings.findIndex((s) => s.id === swingId);
  const before = swings
    .slice(0, Math.max(index, 0))
    .filter((s) => !s.sensor_moved && s.kind !== "discard")
    .at(-1);
  const differs = before && swings[index] ? betweenSwings(swings, before, swings[index]) : "";
  const neighbours = [swings[index - 1], swings[index + 1], before].filter((s) => s !== undefined);
  useQueries({ queries: neighbours.map((s) => tracesQuery(s)) });
  const ids = neighbours.map((s) => s.id).join(" ");
  useEffect(() => {
    for (const id of ids.split(" ").filter(Boolean)) void client.prefetchQuery(swingQuery(id));
  }, [client, ids]);
  const ghostSwing = useSwing(peek ? before?.id : undefined).data;
  const ghostTraces = useTraces(before).data;
  const ghost = useMemo<Ghost | null>(
    () =>
      before && ghostTraces
        ? {
            traces: ghostTraces,
            checkpoints: Object.entries(before.checkpoints).map(([name, time]) => ({ name, time })),
            label: tr("swing {number}{what}", { number: before.number, what: differs && `, ${differs}` }),
          }
        : null,
    [before, ghostTraces, differs],
  );

  const s = useMemo(() => swing.data && (lesson.data ? ledBy(swing.data, lesson.data) : swing.data), [swing.data, lesson.data]);
  const banded = useMemo(() => traces.data && s && withBands(traces.data, s.bands), [traces.data, s]);
  const checkpoints: Checkpoint[] = useMemo(() => (s?.events ?? []).map((e) => ({ name: e.name, time: e.time_s })), [s]);
  const rest = useMemo(() => (s && banded ? restOf(s, banded) : null), [s, banded]);
  const measure = view.measure || (rest?.column ?? (s ? measureOf(s.headline.metric) : "lead_wrist_extension"));
  const opened = view.checkpoint ?? (s ? checkpointOf(s.headline.moment) : null);

  return {
    lesson: lesson.data,
    swing: s,
    traces: banded,
    catalogue: catalogue.data,
    references: references.data ?? [],
    overlay,
    joints,
    swings,
    index,
    before,
    ghost,
    ghostSwing,
    checkpoints,
    rest: rest?.column === measure ? rest : null,
    measure,
    group: groupOf(measure),
    opened,
    pending: lesson.isPending || swing.isPending || traces.isPending || catalogue.isPending,
    error: lesson.error ?? swing.error ?? traces.error ?? catalogue.error,
  };
}

export type SwingData = ReturnType<typeof useSwingData>;
