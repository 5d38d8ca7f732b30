import { lazy, Suspense, useMemo, useState, type ComponentProps } from "react";

import type { Schemas } from "@/api/client";
import { useFigure, useSwing, useTraces } from "@/api/hooks";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import type { Eye } from "@/lib/figure";
import { isDark } from "@/lib/settings";
import { Choice, ErrorLine, Loading } from "@/shared/ui/controls";

import { sideName } from "./words";

const Figure3D = lazy(() => import("@/shared/figure/Figure3D"));

type Side = Schemas["CompareSideOut"];

interface Props {
  data: Schemas["CompareOut"];
  checkpoints: Checkpoint[];
  cursor: Cursor;
  mirror: boolean;
}

type Eyed = { eye: Eye | "free"; onEye: (eye: Eye | "free") => void };

/** Both players at the same moment, from the same eye, side by side or one over the other; of a group its newest swing. */
export function Figures({ data, checkpoints, cursor, mirror }: Props) {
  const [over, setOver] = useState(false);
  const [eye, setEye] = useState<Eye | "free">("front");
  const a = usePlayed(data.a, checkpoints, cursor);
  const b = usePlayed(data.b, checkpoints, cursor);
  const [seen, beneath] = [a.found, b.found];
  const under = useMemo(() => (seen && beneath ? { block: beneath.block, at: (t: number) => beneath.inOwnTime(seen.toNode(t)) } : null), [seen, beneath]);
  const eyed = { eye, onEye: setEye };
  return (
    <div className="flex h-full min-h-0 flex-col">
      {under ? (
        <Choice
          label="Figures"
          value={over ? "over" : "beside"}
          onChange={(id) => setOver(id === "over")}
          className="flex-none"
          options={[
            { id: "beside", label: "Side by side" },
            { id: "over", label: "One over the other" },
          ]}
        />
      ) : null}
      <div className={`grid min-h-0 flex-1 gap-2 ${over && under ? "grid-cols-1" : "grid-cols-2"}`}>
        <One side={data.a} played={a} mirror={mirror} under={over ? under : null} {...eyed} />
        {over && under ? null : <One side={data.b} played={b} mirror={mirror} {...eyed} />}
      </div>
      {over && under ? <p className="flex-none text-lg text-muted">Faint: {sideName(data.b)}.</p> : null}
    </div>
  );
}

/** A side's swing with what its figure needs, and the ways between its own time and the comparison's. */
function usePlayed(side: Side, checkpoints: Checkpoint[], cursor: Cursor) {
  const swing = useSwing(side.swing_ids.at(-1));
  const shown = swing.data?.figure ? swing.data : undefined;
  const traces = useTraces(shown);
  const joints = useFigure(shown);
  const [t, block] = [traces.data, joints.data];
  const found = useMemo(() => {
    if (!shown || !t || !block) return null;
    const own = shown.events.map((e) => ({ name: e.name, time: e.time_s }));
    const [toNode, inOwnTime] = ways(checkpoints, own);
    return { swing: shown, traces: t, block, own, toNode, inOwnTime, cursor: atItsOwnTime(cursor, checkpoints, own) };
  }, [shown, t, block, checkpoints, cursor]);
  return { found, none: side.swing_ids.length === 0 || Boolean(swing.data && !shown), error: swing.error ?? traces.error ?? joints.error };
}

interface OneProps extends Eyed {
  side: Side;
  played: ReturnType<typeof usePlayed>;
  mirror: boolean;
  under?: ComponentProps<typeof Figure3D>["under"];
}

function One({ side, played, mirror, under = null, eye, onEye }: OneProps) {
  if (played.none) return <p className="self-center px-2 text-lg text-muted">{sideName(side)}: no figure. It needs body sensors or markers.</p>;
  if (played.error) return <ErrorLine error={played.error} />;
  const seen = played.found;
  if (!seen) return <Loading what="Drawing the figure" />;
  const t = seen.traces;
  const time = (name: string, otherwise: number) => seen.own.find((e) => e.name === name)?.time ?? otherwise;
  return (
    <div className="flex min-h-0 flex-col">
      <p className="flex-none text-lg font-bold">{side.kind === "swing" ? sideName(side) : `${sideName(side)}: swing ${seen.swing.number}`}</p>
      <div className="min-h-0 flex-1">
        <Suspense fallback={<Loading what="Drawing the figure" />}>
          <Figure3D
            block={seen.block}
            traces={t}
            info={seen.swing.figure!}
            mirror={mirror}
            cursor={seen.cursor}
            theme={isDark() ? "dark" : "light"}
            addressS={time("address", t.time[0]!)}
            startS={time("takeaway", t.time[0]!)}
            endS={time("impact", t.time[t.n - 1]!) + 0.15}
            says={{}}
            narrow
            under={under}
            eye={eye}
            onEye={onEye}
          />
        </Suspense>
      </div>
    </div>
  );
}

/** From a swing's own time to nodes of the comparison, and back. */
function ways(nodes: readonly Checkpoint[], own: readonly Checkpoint[]): [(t: number) => number, (node: number) => number] {
  const pairs = nodes.flatMap((b) => {
    const there = own.find((e) => e.name === b.name);
    return there && ["takeaway", "top", "impact"].includes(b.name) ? [[b.time, there.time] as const] : [];
  });
  const between = (v: number, from: 0 | 1, to: 0 | 1) => {
    if (pairs.length < 2) return pairs[0]?.[to] ?? v;
    const above = pairs.findIndex((p) => p[from] > v);
    const k = Math.max(1, above === -1 ? pairs.length - 1 : above);
    const [p, q] = [pairs[k - 1]!, pairs[k]!];
    return p[to] + ((q[to] - p[to]) * (v - p[from])) / Math.max(q[from] - p[from], 1e-6);
  };
  return [(t) => between(t, 1, 0), (node) => between(node, 0, 1)];
}

/** A cursor in a swing's own time, moved by one in nodes of the comparison. */
export function atItsOwnTime(cursor: Cursor, nodes: readonly Checkpoint[], own: readonly Checkpoint[]): Cursor {
  const [toNode, inOwnTime] = ways(nodes, own);
  return {
    get: () => inOwnTime(cursor.get()),
    set: (t) => cursor.set(toNode(t)),
    subscribe: cursor.subscribe,
  };
}
