import { scaleLinear } from "d3-scale";
import { useMemo, useRef, useSyncExternalStore, type PointerEvent } from "react";

import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { HALO, NAMES, namesUnder } from "@/shared/charts/names";
import { MomentName } from "@/shared/charts/MomentName";
import { useSize } from "@/shared/ui/useSize";

import { BEYOND, type Laid } from "./laid";
import { tr } from "@/lib/language";

const TOP = 26;
const UNDER = 58;
const GAP = 34;
/** The lower part is the difference. */
const SHARE = 0.36;
const SHOWN = ["address", "shaft_level_back", "arm_level_back", "top", "transition", "arm_level_down", "impact"];

interface Props {
  laid: Laid;
  checkpoints: Checkpoint[];
  cursor: Cursor;
  selected: string | null;
  /** Stretches, in nodes, over which the two differ. */
  differs: readonly [number, number][];
  /** What more and less of the measure are called. */
  up: string;
  down: string;
  names: readonly [string, string];
  onSelect: (name: string) => void;
}

type Numbers = readonly (number | null)[];

/** Both courses on common checkpoints, and under them what lies between: inside the tint it may be nothing. A band is drawn as one. */
export function CompareChart({ laid, checkpoints, cursor, selected, differs, up, down, names: [nameA, nameB], onSelect }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [W, H] = useSize(frame, [640, 400]);
  const first = Math.max(laid.node[0]!, -12);
  const last = Math.min(laid.node.at(-1)!, 128);
  const split = TOP + (H - TOP - UNDER - GAP) * (1 - SHARE);
  const picture = useMemo(() => draw(laid, differs, first, last, W, H, split), [laid, differs, first, last, W, H, split]);
  const { x, zero } = picture;
  const shown = checkpoints.filter((b) => SHOWN.includes(b.name) || b.name === selected);
  const labels = useMemo(() => namesUnder(shown, selected, x, H - 30, W, H), [shown, selected, x, W, H]);
  const nodeOf = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return Math.min(last, Math.max(first, x.invert(((event.clientX - box.left) / box.width) * W)));
  };
  return (
    <div ref={frame} className="relative min-h-0 w-full flex-1">
      <svg
        ref={svg}
        viewBox={`0 0 ${W} ${H}`}
        className="absolute inset-0 h-full w-full touch-none select-none"
        role="img"
        aria-label={tr("{nameA} and {nameB} over the swing, and the difference beneath", { nameA, nameB })}
        onPointerDown={(e) => cursor.set(nodeOf(e))}
        onPointerMove={(e) => e.buttons > 0 && cursor.set(nodeOf(e))}
      >
        {shown.map((b) => (
          <line key={b.name} x1={x(b.time)} x2={x(b.time)} y1={TOP - 8} y2={H - UNDER + 6} stroke="var(--hairline)" strokeWidth={1.5} />
        ))}
        {picture.spreads.map((d, k) => (
          <path key={k} d={d} fill="var(--ink)" opacity={0.08} />
        ))}
        {picture.band ? <path d={picture.band} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.6} data-part="band" /> : null}
        <path d={picture.b} fill="none" stroke="var(--ink)" strokeWidth={2.6} strokeDasharray="9 7" data-part="b" />
        <path d={picture.a} fill="none" stroke="var(--ink)" strokeWidth={3.4} strokeLinejoin="round" data-part="a" />
        {picture.out.map((d, k) => (
          <g key={k} fill="none" strokeLinecap="round" data-part="differs">
            <path d={d} stroke="var(--rust)" strokeWidth={9} />
            <path d={d} stroke="var(--paper)" strokeWidth={3.4} />
          </g>
        ))}
        <path d={picture.nothing} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.5} data-part="nothing" />
        <line x1={0} x2={W} y1={zero(0)} y2={zero(0)} stroke="var(--sea)" strokeWidth={1.5} strokeDasharray="3 3" />
        <path d={picture.difference} fill="none" stroke="var(--ink)" strokeWidth={2.6} strokeLinejoin="round" />
        <g fontSize={16} fill="var(--muted)" {...HALO}>
          <text x={4} y={TOP - 8}>
            {up} ↑
          </text>
          <text x={4} y={split + 6}>
            {down} ↓
          </text>
          <text x={W - 4} y={split + GAP - 8} textAnchor="end">
            {tr("the difference")}
          </text>
        </g>
        <CursorLine cursor={cursor} x={x} from={TOP - 12} to={H - UNDER + 6} />
        {shown.map((b) => {
          const spot = labels.get(b.name);
          const chosen = b.name === selected;
          return (
            <g
              key={`n-${b.name}`}
              className="cursor-pointer"
              onPointerDown={(e) => {
                e.stopPropagation();
                onSelect(b.name);
              }}
            >
              <rect x={x(b.time) - 28} y={H - 58} width={56} height={58} fill="transparent" />
              {spot ? (
                <text
                  x={spot.x}
                  y={spot.y}
                  fontSize={NAMES}
                  textAnchor={spot.anchor}
                  fontWeight={chosen ? 700 : 400}
                  fill={chosen ? "var(--ink)" : "var(--muted)"}
                >
                  <MomentName name={b.name} x={spot.x} />
                </text>
              ) : null}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

function draw(laid: Laid, differs: readonly [number, number][], first: number, last: number, W: number, H: number, split: number) {
  const inside = laid.node.map((n) => n >= first && n <= last);
  const pick = (values: Numbers) => values.filter((v, k): v is number => v !== null && inside[k]!);
  const shifted = (values: Numbers, by: Numbers | null, sign: number) => values.map((v, k) => (v === null ? null : v + sign * (by?.[k] ?? 0)));
  const drawn = laid.band ? [laid.a] : [laid.a, laid.b];
  const all = [
    ...drawn.flatMap((c) => [...pick(shifted(c.mean, c.sd, 1)), ...pick(shifted(c.mean, c.sd, -1))]),
    ...(laid.band ? [...pick(laid.band.low), ...pick(laid.band.high)] : []),
  ];
  const pad = Math.max(1, 0.08 * (Math.max(...all) - Math.min(...all)));
  const x = scaleLinear([first, last], [0, W]);
  const y = scaleLinear([Math.min(...all) - pad, Math.max(...all) + pad], [split, TOP]);
  const half = laid.uncertainty.map((u) => BEYOND * u);
  const reach = 1.1 * Math.max(...pick(laid.difference).map(Math.abs), ...half.filter((_, k) => inside[k]!));
  const zero = scaleLinear([-reach, reach], [H - UNDER, split + GAP]);
  const line = (values: Numbers, scale: (v: number) => number, from = first, to = last) => {
    let path = "";
    let pen = false;
    values.forEach((v, k) => {
      const node = laid.node[k]!;
      if (v === null || node < from || node > to) {
        pen = false;
        return;
      }
      path += `${pen ? "L" : "M"}${x(node).toFixed(1)},${scale(v).toFixed(1)}`;
      pen = true;
    });
    return path;
  };
  const between = (low: Numbers, high: Numbers, scale: (v: number) => number) => {
    const known = laid.node.flatMap((node, k) => (inside[k] && low[k] != null && high[k] != null ? [[x(node), scale(low[k]), scale(high[k])] as const] : []));
    if (known.length < 2) return "";
    const upper = known.map(([px, , h]) => `${px.toFixed(1)},${h.toFixed(1)}`);
    const lower = known.map(([px, l]) => `${px.toFixed(1)},${l.toFixed(1)}`).reverse();
    return `M${[...upper, ...lower].join("L")}Z`;
  };
  return {
    x,
    zero,
    a: line(laid.a.mean, y),
    b: laid.band ? "" : line(laid.b.mean, y),
    band: laid.band ? between(laid.band.low, laid.band.high, y) : "",
    spreads: drawn.flatMap((c) => (c.sd ? [between(shifted(c.mean, c.sd, -1), shifted(c.mean, c.sd, 1), y)] : [])),
    nothing: between(
      half.map((h) => -h),
      half,
      zero,
    ),
    difference: line(laid.difference, zero),
    out: differs.map(([from, to]) => line(laid.a.mean, y, from, to)),
  };
}

function CursorLine({ cursor, x, from, to }: { cursor: Cursor; x: (node: number) => number; from: number; to: number }) {
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  return <line x1={x(now)} x2={x(now)} y1={from} y2={to} stroke="var(--ink)" strokeWidth={2} />;
}
