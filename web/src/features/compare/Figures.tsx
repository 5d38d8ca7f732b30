import { lazy, Suspense, useMemo } from "react";

import type { Schemas } from "@/api/client";
import { useFigure, useSwing, useTraces } from "@/api/hooks";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { isDark } from "@/lib/settings";
import { ErrorLine, Loading } from "@/shared/ui/controls";

import { sideName } from "./words";

const Figure3D = lazy(() => import("@/shared/figure/Figure3D"));

type Side = Schemas["CompareSideOut"];

interface Props {
  data: Schemas["CompareOut"];
  checkpoints: Checkpoint[];
  cursor: Cursor;
  mirror: boolean;
}

/** Both players at the same moment, from the same eye; of a group its newest swing. */
export function Figures({ data, checkpoints, cursor, mirror }: Props) {
  return (
    <div className="grid h-full min-h-0 grid-cols-2 gap-2">
      {[data.a, data.b].map((side, k) => (
        <One key={`${side.key} ${k}`} side={side} checkpoints={checkpoints} cursor={cursor} mirror={mirror} />
      ))}
    </div>
  );
}

function One({ side, checkpoints, cursor, mirror }: { side: Side; checkpoints: Checkpoint[]; cursor: Cursor; mirror: boolean }) {
  const swing = useSwing(side.swing_ids.at(-1));
  const seen = swing.data?.figure ? swing.data : undefined;
  const traces = useTraces(seen);
  const joints = useFigure(seen);
  const own = useMemo(() => seen?.events.map((e) => ({ name: e.name, time: e.time_s })) ?? [], [seen]);
  const moved = useMemo(() => atItsOwnTime(cursor, checkpoints, own), [cursor, checkpoints, own]);
  const time = (name: string, otherwise: number) => own.find((e) => e.name === name)?.time ?? otherwise;
  const t = traces.data;
  if (side.swing_ids.length === 0 || (swing.data && !seen))
    return <p className="self-center px-2 text-lg text-muted">{sideName(side)}: no figure. It needs body sensors or markers.</p>;
  const error = swing.error ?? traces.error ?? joints.error;
  if (error) return <ErrorLine error={error} />;
  if (!seen || !t || !joints.data) return <Loading what="Drawing the figure" />;
  return (
    <div className="flex min-h-0 flex-col">
      <p className="flex-none text-lg font-bold">{side.kind === "swing" ? sideName(side) : `${sideName(side)}: swing ${swing.data!.number}`}</p>
      <div className="min-h-0 flex-1">
        <Suspense fallback={<Loading what="Drawing the figure" />}>
          <Figure3D
            block={joints.data}
            traces={t}
            info={seen.figure!}
            mirror={mirror}
            cursor={moved}
            theme={isDark() ? "dark" : "light"}
            addressS={time("address", t.time[0]!)}
            startS={time("takeaway", t.time[0]!)}
            endS={time("impact", t.time[t.n - 1]!) + 0.15}
            says={{}}
            narrow
          />
        </Suspense>
      </div>
    </div>
  );
}

/** A cursor in a swing's own time, moved by one in nodes of the comparison. */
export function atItsOwnTime(cursor: Cursor, nodes: readonly Checkpoint[], own: readonly Checkpoint[]): Cursor {
  const pairs = nodes.flatMap((b) => {
    const there = own.find((e) => e.name === b.name);
    return there && ["takeaway", "top", "impact"].includes(b.name) ? [[b.time, there.time] as const] : [];
  });
  const between = (v: number, from: 0 | 1, to: 0 | 1) => {
    if (pairs.length < 2) return pairs[0]?.[to] ?? v;
    const k = Math.max(1, Math.min(pairs.length - 1, pairs.findIndex((p) => p[from] > v) === -1 ? pairs.length - 1 : pairs.findIndex((p) => p[from] > v)));
    const [p, q] = [pairs[k - 1]!, pairs[k]!];
    return p[to] + ((q[to] - p[to]) * (v - p[from])) / Math.max(q[from] - p[from], 1e-6);
  };
  return {
    get: () => between(cursor.get(), 0, 1),
    set: (t) => cursor.set(between(t, 1, 0)),
    subscribe: cursor.subscribe,
  };
}
