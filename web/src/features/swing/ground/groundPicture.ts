import { scaleLinear } from "d3-scale";

import type { Schemas } from "@/api/client";
import type { Checkpoint } from "@/lib/arc";
import { indexAt, type Traces } from "@/lib/traces";
import { aligned, type Ghost } from "@/shared/charts/TraceChart";
import { tr } from "@/lib/language";

export type Panel = "between" | "along" | "force" | "body";
export const TOP = 20;

export interface Line {
  id: string;
  dash?: string;
  /** Drawn in a range of its own instead of the panel's scale. */
  own?: boolean;
  sign?: number;
  name: string;
}

/** Instant of this swing at a phase of the reference: -1 takeaway, 0 top, 1 impact. */
export function atPhase(checkpoints: Checkpoint[], phase: number): number | null {
  const at = (n: string) => checkpoints.find((b) => b.name === n)?.time;
  const [takeaway, top, impact] = [at("takeaway"), at("top"), at("impact")];
  if (takeaway === undefined || top === undefined || impact === undefined) return null;
  return phase < 0 ? top + phase * (top - takeaway) : top + phase * (impact - top);
}

interface Asked {
  panel: Panel;
  traces: Traces;
  checkpoints: Checkpoint[];
  ghost: Ghost | null;
  reference: Schemas["GroundReference"] | null;
  /** What the feet are called for this player. */
  lead: string;
  trail: string;
  start: number;
  end: number;
  bottom: number;
  width: number;
}

/** A panel's lines with their paths: this swing's, the one before, the skilled reference's. */
export function groundPicture({ panel, traces, checkpoints, ghost, reference, lead, trail, start, end, bottom, width }: Asked) {
  const bodyId = traces.columns["pelvis_sway"] ? "pelvis_sway" : traces.columns["pelvis_turn"] ? "pelvis_turn" : "";

  const lines: Line[] =
    panel === "between"
      ? [{ id: "stance_position", name: tr("pressure") }]
      : panel === "along"
        ? [
            { id: "lead_heel_toe", name: lead },
            { id: "trail_heel_toe", dash: "9 6", name: trail },
          ]
        : panel === "force"
          ? [
              { id: "vertical_force", name: tr("both feet") },
              { id: "lead_force", dash: "9 6", name: lead },
              { id: "trail_force", dash: "3 5", name: trail },
            ]
          : [
              { id: "stance_position", name: tr("pressure"), own: true },
              ...(bodyId
                ? [
                    {
                      id: bodyId,
                      dash: "9 6",
                      own: true,
                      sign: bodyId === "pelvis_turn" ? -1 : 1,
                      name: bodyId === "pelvis_turn" ? tr("pelvis turn") : tr("pelvis sway"),
                    },
                  ]
                : []),
            ];

  const x = scaleLinear([start, end], [0, width]);
  const a = indexAt(traces.time, start);
  const b = indexAt(traces.time, end);
  let [low, high] = [0, 100];
  if (panel === "force") high = 120;
  for (const line of lines) {
    const c = traces.columns[line.id];
    if (!c || line.own) continue;
    for (let k = a; k <= b; k++) if (Number.isFinite(c[k]!)) [low, high] = [Math.min(low, c[k]!), Math.max(high, c[k]!)];
  }
  const y = scaleLinear([low, high], [bottom, TOP]);
  const ranges: Record<string, [number, number]> = {};
  for (const line of lines.filter((l) => l.own)) {
    let [p, q] = [Infinity, -Infinity];
    const c = traces.columns[line.id];
    for (let k = a; c && k <= b; k++) if (Number.isFinite(c[k]!)) [p, q] = [Math.min(p, (line.sign ?? 1) * c[k]!), Math.max(q, (line.sign ?? 1) * c[k]!)];
    ranges[line.id] = [p, q];
  }
  const path = (id: string, time: Float32Array, column: Float32Array | undefined, warp: (t: number) => number, sign = 1) => {
    const own = ranges[id];
    const place = (v: number) => (own ? bottom - 6 - ((sign * v - own[0]) / Math.max(own[1] - own[0], 1e-6)) * (bottom - TOP - 12) : y(v));
    let d = "";
    let pen = false;
    for (let k = 0; column && k < time.length; k++) {
      const t = warp(time[k]!);
      if (t < start || t > end || !Number.isFinite(column[k]!)) {
        pen = false;
        continue;
      }
      d += `${pen ? "L" : "M"}${x(t).toFixed(1)},${place(column[k]!).toFixed(1)}`;
      pen = true;
    }
    return d;
  };
  const skilled = (id: string) => {
    if (!reference || panel === "force" || panel === "body") return "";
    const values = (reference as unknown as Record<string, number[]>)[id];
    let d = "";
    reference.phase.forEach((phase, k) => {
      const t = atPhase(checkpoints, phase);
      if (values && t !== null && t >= start && t <= end) d += `${d ? "L" : "M"}${x(t).toFixed(1)},${y(values[k]!).toFixed(1)}`;
    });
    return d;
  };
  return {
    lines,
    x,
    y,
    own: lines.map((l) => path(l.id, traces.time, traces.columns[l.id], (t) => t, l.sign)),
    ghost:
      ghost && panel !== "body"
        ? lines.slice(0, 1).map((l) => path(l.id, ghost.traces.time, ghost.traces.columns[l.id], (t) => aligned(checkpoints, ghost.checkpoints, t)))
        : [],
    skilled: lines.slice(0, 1).map((l) => skilled(l.id)),
  };
}

export type Picture = ReturnType<typeof groundPicture>;
