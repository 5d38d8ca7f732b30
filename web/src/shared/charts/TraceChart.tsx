import { scaleLinear } from "d3-scale";
import { useMemo, useRef, useState, useSyncExternalStore, type PointerEvent } from "react";

import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { indexAt, type Traces } from "@/lib/traces";
import { MomentName } from "./MomentName";

const TOP = 22;
const UNDER = 66;
const SHOWN = ["address", "shaft_level_back", "arm_level_back", "top", "impact"];

export interface Ghost {
  traces: Traces;
  checkpoints: Checkpoint[];
  label: string;
}

interface Props {
  traces: Traces;
  metric: string;
  checkpoints: Checkpoint[];
  ghost: Ghost | null;
  /** A reference on this swing's own time axis. */
  over?: Traces | null;
  cursor: Cursor;
  up: string;
  down: string;
  zero: string;
  out: [number, number][];
  selected: string | null;
  onSelect: (name: string) => void;
  onMove?: (name: string, time: number) => void;
  /** Width and height it is drawn for; letters keep their size when it is shown that large. */
  size?: [number, number];
}

/** Time of this swing at which another swing's instant falls, aligned on takeaway, top and impact. */
export function aligned(own: Checkpoint[], other: Checkpoint[], t: number): number {
  const names = ["takeaway", "top", "impact"].filter((n) => own.some((b) => b.name === n) && other.some((b) => b.name === n));
  const pairs = names.map((n) => [other.find((b) => b.name === n)!.time, own.find((b) => b.name === n)!.time] as const);
  const first = pairs[0];
  if (!first) return t;
  if (t <= first[0]) return first[1] + (t - first[0]);
  for (let k = 1; k < pairs.length; k++) {
    const [x0, y0] = pairs[k - 1]!;
    const [x1, y1] = pairs[k]!;
    if (t <= x1) return y0 + ((y1 - y0) * (t - x0)) / Math.max(x1 - x0, 1e-6);
  }
  const last = pairs[pairs.length - 1]!;
  return last[1] + (t - last[0]);
}

export function TraceChart(props: Props) {
  const { traces, metric, checkpoints, cursor, ghost, out, over } = props;
  const [W, H] = props.size ?? [580, 236];
  const BOTTOM = H - UNDER;
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ name: string; time: number } | null>(null);
  const at = (name: string) => checkpoints.find((b) => b.name === name)?.time;
  const start = (at("takeaway") ?? traces.time[0]!) - 0.22;
  const end = Math.min(traces.time[traces.n - 1]!, (at("impact") ?? traces.time[traces.n - 1]!) + 0.3);

  const picture = useMemo(() => {
    const values = traces.columns[metric];
    const low = traces.columns[`${metric}_band_low`];
    const high = traces.columns[`${metric}_band_high`];
    const a = indexAt(traces.time, start);
    const b = indexAt(traces.time, end);
    let min = Infinity;
    let max = -Infinity;
    const widen = (v: number | undefined) => {
      if (v !== undefined && Number.isFinite(v)) {
        min = Math.min(min, v);
        max = Math.max(max, v);
      }
    };
    for (let k = a; k <= b; k++) {
      widen(values?.[k]);
      widen(low?.[k]);
      widen(high?.[k]);
      widen(over?.columns[metric]?.[k]);
    }
    if (min > 0 && min < 0.5 * max) min = 0; // zero belongs in the picture unless it is far away
    if (max < 0 && max > 0.5 * min) max = 0;
    const pad = Math.max(metric.includes("sway") ? 1 : 2, 0.08 * (max - min));
    const x = scaleLinear([start, end], [0, W]);
    const y = scaleLinear([min - pad, max + pad], [BOTTOM, TOP]);
    const line = (column: Float32Array | undefined, from: number, to: number, time = traces.time, warp = (t: number) => t) => {
      if (!column) return "";
      let path = "";
      let pen = false;
      for (let k = from; k <= to; k++) {
        const v = column[k]!;
        const t = warp(time[k]!);
        if (!Number.isFinite(v) || t < start || t > end) {
          pen = false;
          continue;
        }
        path += `${pen ? "L" : "M"}${x(t).toFixed(1)},${y(v).toFixed(1)}`;
        pen = true;
      }
      return path;
    };
    let band = "";
    if (low && high) {
      const upper: string[] = [];
      const lower: string[] = [];
      for (let k = a; k <= b; k++) {
        if (!Number.isFinite(low[k]!) || !Number.isFinite(high[k]!)) continue;
        upper.push(`${x(traces.time[k]!).toFixed(1)},${y(high[k]!).toFixed(1)}`);
        lower.unshift(`${x(traces.time[k]!).toFixed(1)},${y(low[k]!).toFixed(1)}`);
      }
      if (upper.length) band = `M${[...upper, ...lower].join("L")}Z`;
    }
    const ghostLine = ghost
      ? line(ghost.traces.columns[metric], 0, ghost.traces.n - 1, ghost.traces.time, (t) => aligned(checkpoints, ghost.checkpoints, t))
      : "";
    const overLine = over ? line(over.columns[metric], 0, over.n - 1, over.time) : "";
    const outLines = out.map(([from, to]) => line(values, indexAt(traces.time, from), indexAt(traces.time, to)));
    return { x, y, band, own: line(values, a, b), ghostLine, overLine, outLines };
  }, [traces, metric, start, end, ghost, over, checkpoints, out, W, BOTTOM]);

  const timeOf = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return picture.x.invert(((event.clientX - box.left) / box.width) * W);
  };
  const { x, y } = picture;
  const shown = checkpoints.filter((b) => SHOWN.includes(b.name) || b.name === props.selected);

  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${W} ${H}`}
      className="w-full flex-none touch-none select-none"
      role="img"
      aria-label="Trace over the swing with the reference band"
      onPointerDown={(e) => cursor.set(Math.min(end, Math.max(start, timeOf(e))))}
      onPointerMove={(e) => {
        if (drag) setDrag({ ...drag, time: timeOf(e) });
        else if (e.buttons > 0) cursor.set(Math.min(end, Math.max(start, timeOf(e))));
      }}
      onPointerUp={() => {
        if (drag) props.onMove?.(drag.name, drag.time);
        setDrag(null);
      }}
    >
      {picture.band ? <path d={picture.band} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.5} /> : null}
      {y(0) < BOTTOM + 2 && y(0) > TOP - 12 ? <line x1={0} x2={W} y1={y(0)} y2={y(0)} stroke="var(--muted)" strokeWidth={1} /> : null}
      {shown.map((b) => (
        <line key={b.name} x1={x(b.time)} x2={x(b.time)} y1={TOP - 8} y2={BOTTOM + 4} stroke="var(--hairline)" strokeWidth={1.5} />
      ))}
      {picture.ghostLine ? (
        <path d={picture.ghostLine} fill="none" stroke="var(--muted)" strokeWidth={2.6} strokeDasharray="2 6" strokeLinecap="round" />
      ) : null}
      {picture.overLine ? <path d={picture.overLine} fill="none" stroke="var(--sea)" strokeWidth={2.6} strokeDasharray="12 6" /> : null}
      <path d={picture.own} fill="none" stroke="var(--ink)" strokeWidth={3.2} strokeLinejoin="round" />
      {picture.outLines.map((d, k) => (
        <g key={k} fill="none" strokeLinecap="round">
          <path d={d} stroke="var(--rust)" strokeWidth={9} />
          <path d={d} stroke="var(--paper)" strokeWidth={3.4} />
        </g>
      ))}
      <CursorLine cursor={cursor} x={x} from={TOP - 12} to={BOTTOM + 8} />
      <text x={W - 2} y={14} fontSize={16} textAnchor="end" fill="var(--muted)">
        {props.up} ↑
      </text>
      <text x={W - 2} y={BOTTOM - 3} fontSize={16} textAnchor="end" fill="var(--muted)">
        {props.down} ↓
      </text>
      {y(0) < BOTTOM + 2 && y(0) > TOP - 12 ? (
        <text x={2} y={y(0) - 5} fontSize={16} fill="var(--muted)">
          {props.zero}
        </text>
      ) : null}
      {shown.map((b) => {
        const moving = drag?.name === b.name;
        const bx = x(moving ? drag.time : b.time);
        const chosen = b.name === props.selected;
        return (
          <g
            key={`h-${b.name}`}
            className={props.onMove ? "cursor-ew-resize" : "cursor-pointer"}
            onPointerDown={(e) => {
              e.stopPropagation();
              props.onSelect(b.name);
              if (props.onMove) {
                svg.current!.setPointerCapture(e.pointerId);
                setDrag({ name: b.name, time: b.time });
              }
            }}
          >
            <rect x={bx - 28} y={BOTTOM} width={56} height={56} fill="transparent" />
            <path d={`M${bx},${BOTTOM + 6} l8,11 h-16 z`} fill={chosen ? "var(--ink)" : "var(--paper)"} stroke="var(--ink)" strokeWidth={2} />
            <text
              x={Math.min(W - 26, Math.max(30, bx))}
              y={BOTTOM + 38}
              fontSize={17}
              textAnchor="middle"
              fontWeight={chosen ? 700 : 400}
              fill={chosen ? "var(--ink)" : "var(--muted)"}
            >
              <MomentName name={b.name} x={Math.min(W - 26, Math.max(30, bx))} />
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** The instant being looked at; with every move only this line is drawn again. */
export function CursorLine({ cursor, x, from, to }: { cursor: Cursor; x: (t: number) => number; from: number; to: number }) {
  const at = x(useSyncExternalStore(cursor.subscribe, cursor.get));
  return <line x1={at} x2={at} y1={from} y2={to} stroke="var(--ink)" strokeWidth={3} />;
}
