import { useMemo, useRef, useState, useSyncExternalStore, type PointerEvent } from "react";

import type { Schemas } from "@/api/client";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { footName } from "@/lib/mat";
import { indexAt, type Traces } from "@/lib/traces";
import { MomentName } from "@/shared/charts/MomentName";
import { aligned, type Ghost } from "@/shared/charts/TraceChart";

export type Panel = "between" | "along" | "force" | "body";
export const PANELS: { id: Panel; name: string }[] = [
  { id: "between", name: "Between the feet" },
  { id: "along", name: "Heel to toe" },
  { id: "force", name: "Push" },
  { id: "body", name: "With the body" },
];

const W = 640;
const TOP = 20;
const SHOWN = ["address", "arm_level_back", "top", "impact"];
const AT_IMPACT_S = 0.022;
const HALO = { paintOrder: "stroke", stroke: "var(--paper)", strokeWidth: 5 } as const;
const MOMENT_WORDS: Record<string, string> = { trail_peak: "most back", return: "starts back", even: "even", lead_peak: "most forward" };

interface Props {
  panel: Panel;
  height: number;
  traces: Traces;
  ground: Schemas["GroundOut"];
  judged: Schemas["JudgedOut"][];
  checkpoints: Checkpoint[];
  cursor: Cursor;
  ghost: Ghost | null;
  reference: Schemas["GroundReference"] | null;
  mirror: boolean;
  onSelect: (name: string) => void;
  /** A checkpoint was dragged to another instant. */
  onMove: (name: string, time: number) => void;
}

interface Line {
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

/** The pressure's course over time, with bands of both schools, a skilled reference and the player's previous swing. */
export function GroundChart(props: Props) {
  const { panel, traces, ground, checkpoints, cursor, ghost, reference, mirror } = props;
  const H = props.height;
  const BOTTOM = H - 58;
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ name: string; time: number; moved: boolean } | null>(null);
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const at = (name: string) => checkpoints.find((b) => b.name === name)?.time;
  const start = (at("takeaway") ?? at("address") ?? traces.time[0]!) - 0.2;
  const end = Math.min(traces.time[traces.n - 1]!, (at("impact") ?? traces.time[traces.n - 1]!) + 0.3);
  const lead = footName("lead", mirror);
  const trail = footName("trail", mirror);
  const bodyId = traces.columns["pelvis_sway"] ? "pelvis_sway" : traces.columns["pelvis_turn"] ? "pelvis_turn" : "";

  const lines: Line[] =
    panel === "between" ? [{ id: "stance_position", name: "pressure" }]
    : panel === "along" ? [{ id: "lead_heel_toe", name: lead }, { id: "trail_heel_toe", dash: "9 6", name: trail }]
    : panel === "force" ? [{ id: "vertical_force", name: "both feet" }, { id: "lead_force", dash: "9 6", name: lead }, { id: "trail_force", dash: "3 5", name: trail }]
    : [{ id: "stance_position", name: "pressure", own: true }, ...(bodyId ? [{ id: bodyId, dash: "9 6", own: true, sign: bodyId === "pelvis_turn" ? -1 : 1, name: bodyId === "pelvis_turn" ? "pelvis turn" : "pelvis sway" }] : [])];

  const picture = useMemo(() => {
    const x = (t: number) => (W * (t - start)) / (end - start);
    const a = indexAt(traces.time, start);
    const b = indexAt(traces.time, end);
    let [low, high] = [0, 100];
    if (panel === "force") high = 120;
    for (const line of lines) {
      const c = traces.columns[line.id];
      if (!c || line.own) continue;
      for (let k = a; k <= b; k++) if (Number.isFinite(c[k]!)) [low, high] = [Math.min(low, c[k]!), Math.max(high, c[k]!)];
    }
    const y = (v: number) => BOTTOM - ((v - low) / (high - low)) * (BOTTOM - TOP);
    const ranges: Record<string, [number, number]> = {};
    for (const line of lines.filter((l) => l.own)) {
      let [p, q] = [Infinity, -Infinity];
      const c = traces.columns[line.id];
      for (let k = a; c && k <= b; k++) if (Number.isFinite(c[k]!)) [p, q] = [Math.min(p, (line.sign ?? 1) * c[k]!), Math.max(q, (line.sign ?? 1) * c[k]!)];
      ranges[line.id] = [p, q];
    }
    const path = (id: string, time: Float32Array, column: Float32Array | undefined, warp: (t: number) => number, sign = 1) => {
      const own = ranges[id];
      const place = (v: number) => (own ? BOTTOM - 6 - ((sign * v - own[0]) / Math.max(own[1] - own[0], 1e-6)) * (BOTTOM - TOP - 12) : y(v));
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
      x, y,
      own: lines.map((l) => path(l.id, traces.time, traces.columns[l.id], (t) => t, l.sign)),
      ghost: ghost && panel !== "body" ? lines.slice(0, 1).map((l) => path(l.id, ghost.traces.time, ghost.traces.columns[l.id], (t) => aligned(checkpoints, ghost.checkpoints, t))) : [],
      skilled: lines.slice(0, 1).map((l) => skilled(l.id)),
    };
  }, [panel, traces, start, end, ghost, reference, checkpoints, H]);
  const { x, y } = picture;

  const timeOf = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return Math.min(end, Math.max(start, start + ((event.clientX - box.left) / box.width) * (end - start)));
  };
  const impact = at("impact");
  const top = at("top");
  const address = at("address");
  const back = props.judged.find((m) => m.metric === "return_time" && m.moment === "top");
  const crowded = (t: number) => impact !== undefined && x(t) > x(impact) - 60; // beside the bands at impact
  const late = back ? /high/.test(back.verdict) : false;
  const [above, below] = panel === "between" ? [`${lead} ↑`, `${trail} ↓`] : panel === "along" ? ["toes ↑", "heels ↓"] : panel === "force" ? ["100 % is standing", ""] : ["toward the target ↑", "away ↓"];

  return (
    <svg
      ref={svg} viewBox={`0 0 ${W} ${H}`} className="w-full flex-none touch-none select-none" role="img" aria-label={`${PANELS.find((p) => p.id === panel)!.name} over the swing`}
      onPointerDown={(e) => cursor.set(timeOf(e))}
      onPointerMove={(e) => {
        if (drag) setDrag({ ...drag, time: timeOf(e), moved: drag.moved || Math.abs(timeOf(e) - drag.time) > 0.004 });
        else if (e.buttons > 0) cursor.set(timeOf(e));
      }}
      onPointerUp={() => {
        if (drag?.moved) props.onMove(drag.name, drag.time);
        setDrag(null);
      }}
    >
      {panel === "between" && impact !== undefined
        ? ground.bands.map((b) => (
            <g key={b.school}>
              <rect x={x(impact - AT_IMPACT_S)} width={x(impact + AT_IMPACT_S) - x(impact - AT_IMPACT_S)} y={y(b.high)} height={y(b.low) - y(b.high)} fill={b.chosen ? "var(--band)" : "none"} stroke="var(--sea)" strokeWidth={b.chosen ? 1.8 : 1.4} strokeDasharray={b.chosen ? undefined : "3 4"} />
              <text x={x(impact + AT_IMPACT_S) + 6} y={(y(b.high) + y(b.low)) / 2 + 5} fontSize={16} fill="var(--muted)" {...HALO} fontWeight={b.chosen ? 700 : 400}>{b.label.toLowerCase()}</text>
            </g>
          ))
        : null}
      {panel === "between" && back?.band?.low != null && back.band.high != null && top !== undefined ? (
        <g>
          <rect x={x(top + back.band.low)} width={Math.max(4, x(top + back.band.high) - x(top + back.band.low))} y={BOTTOM - 5} height={10} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.5} />
          <text x={x(top + back.band.low) - 6} y={BOTTOM - 8} fontSize={16} textAnchor="end" fill="var(--muted)" {...HALO}>starts back here</text>
        </g>
      ) : null}
      {panel === "along" && address !== undefined ? (
        <rect x={x(Math.max(start, address - 0.1))} width={Math.max(18, x((at("takeaway") ?? address + 0.1)) - x(Math.max(start, address - 0.1)))} y={y(60)} height={y(40) - y(60)} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.5} />
      ) : null}
      {panel === "between" || panel === "along" ? <line x1={0} x2={W} y1={y(50)} y2={y(50)} stroke="var(--hairline)" strokeWidth={1} /> : null}
      {panel === "force" ? <line x1={0} x2={W} y1={y(100)} y2={y(100)} stroke="var(--hairline)" strokeWidth={1} /> : null}
      {checkpoints.filter((b) => SHOWN.includes(b.name)).map((b) => <line key={b.name} x1={x(b.time)} x2={x(b.time)} y1={TOP - 8} y2={BOTTOM + 4} stroke="var(--hairline)" strokeWidth={1.5} />)}
      {picture.skilled.map((d, k) => <path key={`s${k}`} d={d} fill="none" stroke="var(--sea)" strokeWidth={2} strokeDasharray="10 5" />)}
      {picture.ghost.map((d, k) => <path key={`g${k}`} d={d} fill="none" stroke="var(--muted)" strokeWidth={2.6} strokeDasharray="2 6" strokeLinecap="round" />)}
      {picture.own.map((d, k) => <path key={lines[k]!.id} d={d} fill="none" stroke="var(--ink)" strokeWidth={k === 0 ? 3.2 : 2.4} strokeDasharray={lines[k]!.dash} strokeLinejoin="round" />)}
      {panel === "between"
        ? ground.moments.filter((m) => m.name === "return" || m.name === "even").map((m) => {
            const k = indexAt(traces.time, m.time_s);
            const v = traces.columns["stance_position"]?.[k];
            if (v === undefined || !Number.isFinite(v)) return null;
            const off = m.name === "return" && late;
            return (
              <g key={m.name}>
                {off ? <path d={`M${x(m.time_s)},${y(v) - 9} l8,14 h-16 z`} fill="var(--rust)" /> : <circle cx={x(m.time_s)} cy={y(v)} r={6} fill="var(--paper)" stroke="var(--ink)" strokeWidth={2.6} />}
                <text x={x(m.time_s) + (m.name === "return" || crowded(m.time_s) ? 10 : -10)} y={y(v) + (m.name === "return" || crowded(m.time_s) ? 20 : -6)} fontSize={16} textAnchor={m.name === "return" || crowded(m.time_s) ? "start" : "end"} fill="var(--ink)" {...HALO}>{MOMENT_WORDS[m.name]}</text>
              </g>
            );
          })
        : null}
      <line x1={x(now)} x2={x(now)} y1={TOP - 12} y2={BOTTOM + 8} stroke="var(--ink)" strokeWidth={3} />
      <text x={3} y={14} fontSize={16} fill="var(--muted)">{above}</text>
      <text x={3} y={BOTTOM - 4} fontSize={16} fill="var(--muted)">{below}</text>
      {checkpoints.filter((b) => SHOWN.includes(b.name)).map((b) => {
        const bx = x(drag?.name === b.name ? drag.time : b.time);
        const chosen = Math.abs(now - b.time) < 1e-6;
        return (
          <g
            key={`h-${b.name}`} className="cursor-ew-resize"
            onPointerDown={(e) => {
              e.stopPropagation();
              svg.current!.setPointerCapture?.(e.pointerId);
              props.onSelect(b.name);
              setDrag({ name: b.name, time: b.time, moved: false });
            }}
          >
            <rect x={bx - 28} y={BOTTOM} width={56} height={44} fill="transparent" />
            <path d={`M${bx},${BOTTOM + 6} l7,10 h-14 z`} fill={chosen ? "var(--ink)" : "var(--paper)"} stroke="var(--ink)" strokeWidth={2} />
            <text x={Math.min(W - 26, Math.max(30, bx))} y={BOTTOM + 35} fontSize={16} textAnchor="middle" fill="var(--muted)" fontWeight={chosen ? 700 : 400}><MomentName name={b.name} x={Math.min(W - 26, Math.max(30, bx))} /></text>
          </g>
        );
      })}
      {lines.length > 1 ? (
        <g fontSize={16} fill="var(--muted)">
          {lines.map((l, k) => (
            <g key={l.id} transform={`translate(${W - 150 * (lines.length - k)},10)`}>
              <line x1={0} x2={30} y1={0} y2={0} stroke="var(--ink)" strokeWidth={k === 0 ? 3.2 : 2.4} strokeDasharray={l.dash} />
              <text x={36} y={5}>{l.name}</text>
            </g>
          ))}
        </g>
      ) : null}
    </svg>
  );
}
