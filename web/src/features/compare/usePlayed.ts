import { useMemo } from "react";

import type { Schemas } from "@/api/client";
import { useSwing } from "@/api/hooks";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";

type Side = Schemas["CompareSideOut"];

/** A side's swing (of a group its newest) and the ways between its own time and the comparison's. */
export function usePlayed(side: Side, checkpoints: Checkpoint[], cursor: Cursor) {
  const swing = useSwing(side.swing_ids.at(-1));
  const shown = swing.data;
  const found = useMemo(() => {
    if (!shown) return null;
    const own = shown.events.map((e) => ({ name: e.name, time: e.time_s }));
    const [toNode, inOwnTime] = ways(checkpoints, own);
    const time = (name: string, otherwise: number) => own.find((e) => e.name === name)?.time ?? otherwise;
    return { swing: shown, time, toNode, inOwnTime, cursor: atItsOwnTime(cursor, checkpoints, own) };
  }, [shown, checkpoints, cursor]);
  return { side, found, error: swing.error };
}

export type Played = ReturnType<typeof usePlayed>;

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
