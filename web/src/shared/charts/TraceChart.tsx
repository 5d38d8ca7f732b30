import { scaleLinear } from "d3-scale";
import { useMemo, useRef, useState, useSyncExternalStore, type PointerEvent } from "react";

import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { along, placed, type Label } from "@/lib/labels";
import { indexAt, type Traces } from "@/lib/traces";
import { useSize } from "@/shared/ui/useSize";
import type { Rest } from "@/lib/rest";
import { MomentName } from "./MomentName";
import { HALO, NAMES, namesUnder } from "./names";
import { RestMark } from "./RestMark";
import { tr } from "@/lib/language";

const TOP = 22;
const UNDER = 66;
const SHOWN = ["address", "shaft_level_back", "arm_level_back", "top", "impact"];
const WORDS = 16;

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
  /** What the sentence rests on, where the band along the trace does not say it. */
  rest?: Rest | null;
  selected: string | null;
  onSelect: (name: string) => void;
  onMove?: (name: string, time: number) => void;
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
  const { traces, metric, checkpoints, cursor, ghost, out, over, rest } = props;
  const frame = useRef<HTMLDivElement>(null);
  const [W, H] = useSize(frame, [580, 236]); // letters keep their size, whatever room there is
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
    for (const level of [rest?.from?.value, rest?.low, rest?.high]) widen(level ?? undefined);
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
    const ownPoints: [number, number][] = [];
    for (let k = a; k <= b; k++) if (values && Number.isFinite(values[k]!)) ownPoints.push([x(traces.time[k]!), y(values[k]!)]);
    const outLines = out.map(([from, to]) => line(values, indexAt(traces.time, from), indexAt(traces.time, to)));
    return { x, y, band, own: line(values, a, b), ghostLine, overLine, outLines, ownPoints };
  }, [traces, metric, start, end, ghost, over, checkpoints, out, rest, W, BOTTOM]);

  const timeOf = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return picture.x.invert(((event.clientX - box.left) / box.width) * W);
  };
  const { x, y } = picture;
  const shown = checkpoints.filter((b) => SHOWN.includes(b.name) || b.name === props.selected);
  const zeroSeen = y(0) < BOTTOM + 2 && y(0) > TOP - 12;
  const names = useMemo(() => namesUnder(shown, props.selected, x, BOTTOM + 38, W, H), [shown, props.selected, x, BOTTOM, W, H]);
  const words = useMemo(
    () => wordsBeside(props, zeroSeen ? y(0) : null, picture.ownPoints, W, BOTTOM),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of the properties only the words count
    [props.up, props.down, props.zero, zeroSeen, picture, W, BOTTOM],
  );

  return (
    <div ref={frame} className="relative min-h-0 w-full flex-1">
      <svg
        ref={svg}
        viewBox={`0 0 ${W} ${H}`}
        className="absolute inset-0 h-full w-full touch-none select-none"
        role="img"
        aria-label={tr("Trace over the swing with the reference band")}
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
        {zeroSeen ? <line x1={0} x2={W} y1={y(0)} y2={y(0)} stroke="var(--muted)" strokeWidth={1} /> : null}
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
        {rest ? <RestMark rest={rest} x={x} y={y} top={TOP - 8} bottom={BOTTOM} /> : null}
        {words.map(({ key, lines, spot }) => (
          <text key={key} x={spot.x} y={spot.y} fontSize={WORDS} textAnchor={spot.anchor} fill="var(--muted)" {...HALO}>
            {lines[0]}
          </text>
        ))}
        {shown.map((b) => {
          const moving = drag?.name === b.name;
          const bx = x(moving ? drag.time : b.time);
          const chosen = b.name === props.selected;
          const spot = names.get(b.name);
          const shift = moving ? bx - x(b.time) : 0;
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
              {spot ? (
                <text
                  x={spot.x + shift}
                  y={spot.y}
                  fontSize={NAMES}
                  textAnchor={spot.anchor}
                  fontWeight={chosen ? 700 : 400}
                  fill={chosen ? "var(--ink)" : "var(--muted)"}
                >
                  <MomentName name={b.name} x={spot.x + shift} />
                </text>
              ) : null}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** What more, less and zero of the measure are called, off the line itself. */
function wordsBeside({ up, down, zero }: Pick<Props, "up" | "down" | "zero">, zeroAt: number | null, line: [number, number][], width: number, bottom: number) {
  const across = (y: number): Label["spots"] => [
    { x: width - 2, y, anchor: "end" },
    { x: 2, y, anchor: "start" },
    ...[0.75, 0.25, 0.5].map((share) => ({ x: share * width, y, anchor: "middle" as const })),
  ];
  const labels: Label[] = [
    { key: "up", lines: [`${up} ↑`], size: WORDS, priority: 3, spots: across(14) },
    { key: "down", lines: [`${down} ↓`], size: WORDS, priority: 2, spots: across(bottom - 3) },
  ];
  if (zero && zeroAt !== null) {
    const spots = [...across(zeroAt - 6), ...across(zeroAt + 17)].sort((a, b) => a.x - b.x);
    labels.push({ key: "zero", lines: [zero], size: WORDS, priority: 1, spots });
  }
  const spots = placed(labels, { left: 0, top: 0, right: width, bottom }, along(line, 3));
  return labels.flatMap((l) => (spots.has(l.key) && (l.key === "zero" || l.lines[0]!.length > 2) ? [{ ...l, spot: spots.get(l.key)! }] : []));
}

/** The instant being looked at; with every move only this line is drawn again. */
export function CursorLine({ cursor, x, from, to }: { cursor: Cursor; x: (t: number) => number; from: number; to: number }) {
  const at = x(useSyncExternalStore(cursor.subscribe, cursor.get));
  return <line x1={at} x2={at} y1={from} y2={to} stroke="var(--ink)" strokeWidth={3} />;
}
