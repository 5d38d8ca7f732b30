/** Two courses laid over each other, as they are drawn. */
import type { Schemas } from "@/api/client";
import { ORDER, type Checkpoint } from "@/lib/arc";

export type Laid = Schemas["LaidOut"];
type Numbers = readonly (number | null)[];

/** A difference of so many standard uncertainties is one. */
export const BEYOND = 2;

/** The checkpoints of both sides where they lie on average: nodes stand for times. */
export function checkpointsOf(laid: Laid): Checkpoint[] {
  return ORDER.filter((name) => name in laid.a.nodes && name in laid.b.nodes)
    .map((name) => ({ name, time: (laid.a.nodes[name as keyof typeof laid.a.nodes]! + laid.b.nodes[name as keyof typeof laid.b.nodes]!) / 2 }))
    .filter((b) => b.time >= laid.node[0]! && b.time <= laid.node.at(-1)!);
}

/** A value between nodes; null where there is none. */
export function at(laid: Laid, values: Numbers, node: number): number | null {
  const first = laid.node[0]!;
  const k = Math.min(laid.node.length - 2, Math.max(0, Math.floor(node - first)));
  const [a, b] = [values[k], values[k + 1]];
  if (a == null || b == null) return a ?? b ?? null;
  const part = Math.min(1, Math.max(0, node - first - k));
  return a + (b - a) * part;
}

/** Stretches, in nodes, over which the difference is beyond its uncertainty. */
export function beyond(laid: Laid): [number, number][] {
  const out: [number, number][] = [];
  let from: number | null = null;
  laid.node.forEach((node, k) => {
    const d = laid.difference[k];
    const clear = d != null && Math.abs(d) > BEYOND * laid.uncertainty[k]!;
    if (clear && from === null) from = node;
    if (!clear && from !== null) {
      out.push([from, node - 1]);
      from = null;
    }
  });
  if (from !== null) out.push([from, laid.node.at(-1)!]);
  return out.filter(([a, b]) => b > a);
}
