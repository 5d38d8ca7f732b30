import { useEffect, useMemo, useRef, useState, type PointerEvent } from "react";

import type { Schemas } from "@/api/client";
import type { Cursor } from "@/lib/cursor";
import { footName, pictureAt, Smoother, solePath, type MatBlock } from "@/lib/mat";
import { indexAt, type Traces } from "@/lib/traces";
import { useSize } from "@/shared/ui/useSize";
import { tr } from "@/lib/language";

/** Seconds of the way behind the moving centre that stay visible. */
const TAIL_S = 0.35;
const TAIL_PARTS = 14;
const MARGIN_MM = 24;

interface Props {
  block: MatBlock;
  ground: Schemas["GroundOut"];
  cursor: Cursor;
  mirror: boolean;
  theme: "light" | "dark";
  /** Nothing of the pressure is shown until the player has said where it was felt. */
  veiled?: boolean;
  /** The line between the feet can be dragged. */
  editing?: boolean;
  onSplit?: (splitM: number) => void;
  startS: number;
  endS: number;
  /** Another's way, laid over this one by the feet, with its instant for one of this picture's. */
  under?: { way: Traces; shift: readonly [number, number]; from: number; to: number; at: (t: number) => number } | null;
}

/** What the colours of the picture are made of: clear to sea to ink. */
const TONES = {
  light: [
    [31, 84, 104],
    [13, 38, 48],
  ],
  dark: [
    [140, 195, 209],
    [235, 246, 250],
  ],
} as const;

/** Where the screen shows a place of the floor, mm: toes up, the player's own left on the left. */
function frameOf(block: MatBlock, ground: Schemas["GroundOut"], mirror: boolean) {
  const xs = ground.feet.flatMap((f) => [f.heel[0]!, f.toe[0]!]);
  const ys = ground.feet.flatMap((f) => [f.heel[1]!, f.toe[1]!]);
  const p = block.pictures;
  const x = p ? [p.x0 - p.dx / 2, p.x0 + (p.nx - 0.5) * p.dx] : [Math.min(-0.1, ...xs), Math.max(0.2, ...xs)];
  const y = p ? [p.y0 - p.dy / 2, p.y0 + (p.ny - 0.5) * p.dy] : [Math.min(-0.35, ...ys), Math.max(0.35, ...ys)];
  const side = mirror ? 1 : -1;
  const screen = (a: number, b: number): [number, number] => [side * 1000 * b, -1000 * a];
  const left = mirror ? 1000 * y[0]! : -1000 * y[1]!;
  return { screen, side, left, top: -1000 * x[1]!, width: 1000 * (y[1]! - y[0]!), height: 1000 * (x[1]! - x[0]!) };
}

type ToScreen = (a: number, b: number) => [number, number];

const shifted =
  (screen: ToScreen, [dx, dy]: readonly [number, number]): ToScreen =>
  (a, b) =>
    screen(a + dx, b + dy);

/** The way of the pressure between two instants. */
function wayPath(way: Traces, screen: ToScreen, fromS: number, toS: number): string {
  const { x, y } = way.columns;
  const b = indexAt(way.time, toS);
  let path = "";
  for (let k = indexAt(way.time, fromS); k <= b; k++) {
    if (!Number.isFinite(x![k]!)) continue;
    const [sx, sy] = screen(x![k]!, y![k]!);
    path += `${path ? "L" : "M"}${sx.toFixed(1)},${sy.toFixed(1)}`;
  }
  return path;
}

/** The mat from above: pressure, feet, the moving centre and the way it came. */
export function MatPicture(props: Props) {
  const { block, ground, cursor, mirror, theme, veiled = false, editing = false } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const centre = useRef<SVGGElement>(null);
  const tail = useRef<SVGGElement>(null);
  const other = useRef<SVGCircleElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const room = useRef<HTMLDivElement>(null);
  const [roomW, roomH] = useSize(room, [480, 360]);
  const [dragged, setDragged] = useState<number | null>(null);
  const frame = useMemo(() => frameOf(block, ground, mirror), [block, ground, mirror]);
  const { screen } = frame;
  const view = [frame.left - MARGIN_MM, frame.top - MARGIN_MM, frame.width + 2 * MARGIN_MM, frame.height + 2 * MARGIN_MM] as const;

  const way = useMemo(() => wayPath(block.way, screen, props.startS, props.endS), [block, screen, props.startS, props.endS]);
  const { under = null } = props;
  const underWay = useMemo(() => (under ? wayPath(under.way, shifted(screen, under.shift), under.from, under.to) : ""), [under, screen]);

  useEffect(() => {
    const p = block.pictures;
    const smoother = p && canvas.current ? new Smoother(p) : null;
    const context = canvas.current?.getContext("2d") ?? null;
    const image = smoother && context ? context.createImageData(smoother.width, smoother.height) : null;
    const [low, high] = TONES[theme];
    let waiting = 0;
    let shown = -1;
    const paint = () => {
      waiting = 0;
      const t = cursor.get();
      if (smoother && image && context && !veiled) {
        const k = pictureAt(block, t);
        if (k !== shown) {
          shown = k;
          const values = smoother.smooth(k);
          const { width, height } = smoother;
          for (let i = 0; i < height; i++)
            for (let j = 0; j < width; j++) {
              const v = Math.min(1, values[i * width + j]!);
              const to = 4 * ((height - 1 - i) * width + (mirror ? j : width - 1 - j));
              const share = Math.max(0, (v - 0.45) / 0.55);
              for (let c = 0; c < 3; c++) image.data[to + c] = low[c]! + share * (high[c]! - low[c]!);
              image.data[to + 3] = 255 * Math.min(1, 1.25 * v ** 0.72);
            }
          context.putImageData(image, 0, 0);
        }
      }
      drawCentre(t);
    };
    const drawCentre = (t: number) => {
      const { x, y } = block.way.columns;
      const k = indexAt(block.way.time, t);
      const here = Number.isFinite(x![k]!) ? screen(x![k]!, y![k]!) : null;
      centre.current?.setAttribute("visibility", here && !veiled ? "visible" : "hidden");
      if (here) centre.current?.setAttribute("transform", `translate(${here[0].toFixed(1)},${here[1].toFixed(1)})`);
      if (under && other.current) {
        const q = indexAt(under.way.time, under.at(t));
        const [ox, oy] = shifted(screen, under.shift)(under.way.columns.x![q]!, under.way.columns.y![q]!);
        other.current.setAttribute("visibility", Number.isFinite(ox) ? "visible" : "hidden");
        if (Number.isFinite(ox)) other.current.setAttribute("transform", `translate(${ox.toFixed(1)},${oy.toFixed(1)})`);
      }
      const first = Math.max(indexAt(block.way.time, t - TAIL_S), indexAt(block.way.time, props.startS));
      [...(tail.current?.children ?? [])].forEach((line, part) => {
        const from = first + Math.floor(((k - first) * part) / TAIL_PARTS);
        const to = first + Math.floor(((k - first) * (part + 1)) / TAIL_PARTS);
        let d = "";
        for (let q = from; q <= to && to > from; q++) {
          const [sx, sy] = screen(x![q]!, y![q]!);
          d += `${d ? "L" : "M"}${sx.toFixed(1)},${sy.toFixed(1)}`;
        }
        line.setAttribute("d", veiled ? "" : d);
      });
    };
    const soon = () => {
      if (!waiting) waiting = requestAnimationFrame(paint);
    };
    if (context && canvas.current) context.clearRect(0, 0, canvas.current.width, canvas.current.height);
    paint();
    const stop = cursor.subscribe(soon);
    return () => {
      stop();
      cancelAnimationFrame(waiting);
    };
  }, [block, cursor, mirror, theme, veiled, screen, props.startS, under]);

  const yOf = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    const mm = view[0] + ((event.clientX - box.left) / box.width) * view[2];
    return (frame.side * mm) / 1000;
  };
  const split = dragged ?? ground.split_m;
  const splitX = split === null ? 0 : screen(0, split)[0];
  const p = block.pictures;
  const width = Math.min(roomW, (roomH * view[2]) / view[3]);

  return (
    <div ref={room} className="grid min-h-0 flex-1 place-items-center overflow-hidden">
      <div className="relative" style={{ width, height: (width * view[3]) / view[2] }}>
        {p ? (
          <canvas
            ref={canvas}
            width={p.ny * 4}
            height={p.nx * 4}
            aria-hidden
            className="absolute"
            style={{
              left: `${(100 * MARGIN_MM) / view[2]}%`,
              top: `${(100 * MARGIN_MM) / view[3]}%`,
              width: `${(100 * frame.width) / view[2]}%`,
              height: `${(100 * frame.height) / view[3]}%`,
            }}
          />
        ) : null}
        <svg
          ref={svg}
          viewBox={view.join(" ")}
          className="absolute inset-0 h-full w-full touch-none select-none"
          role="img"
          aria-label={veiled ? tr("The feet on the mat, pressure not shown yet") : tr("The mat from above: pressure under both feet and the way of its centre")}
          onPointerMove={(e) => dragged !== null && setDragged(yOf(e))}
          onPointerUp={() => {
            if (dragged !== null) props.onSplit?.(dragged);
            setDragged(null);
          }}
        >
          {ground.feet.map((f) => (
            <g key={f.side}>
              <path
                d={solePath(f.heel, f.toe, f.width, screen, f.side === "lead" ? 1 : -1)}
                fill="none"
                stroke="var(--muted)"
                strokeWidth={1.6}
                strokeDasharray={f.partly_off ? "5 5" : undefined}
              />
              {veiled ? (
                <text
                  x={screen((f.heel[0]! + f.toe[0]!) / 2, 0)[0] + screen(0, (f.heel[1]! + f.toe[1]!) / 2)[0]}
                  y={screen((f.heel[0]! + f.toe[0]!) / 2, 0)[1] + 16}
                  fontSize={58}
                  textAnchor="middle"
                  fill="var(--muted)"
                >
                  ?
                </text>
              ) : null}
              <title>
                {footName(f.side, mirror)}
                {f.partly_off ? tr(", partly off the mat") : ""}
              </title>
            </g>
          ))}
          {veiled ? null : <path d={way} fill="none" stroke="var(--muted)" strokeWidth={1.2} opacity={0.75} />}
          <g ref={tail} fill="none" stroke="var(--ink)" strokeWidth={4.5} strokeLinecap="round">
            {Array.from({ length: TAIL_PARTS }, (_, k) => (
              <path key={k} opacity={(k + 1) / TAIL_PARTS} />
            ))}
          </g>
          {under ? (
            <g data-testid="other-way">
              <path d={underWay} fill="none" stroke="var(--ink)" strokeWidth={2.2} strokeDasharray="8 6" opacity={0.8} />
              <circle ref={other} r={9} fill="var(--paper)" stroke="var(--ink)" strokeWidth={3} visibility="hidden" />
            </g>
          ) : null}
          <g ref={centre} visibility="hidden">
            <circle r={13} fill="var(--paper)" />
            <circle r={9.5} fill="var(--ink)" />
          </g>
          {editing && split !== null ? (
            <g
              className="cursor-ew-resize"
              role="slider"
              aria-label={tr("Line between the feet")}
              aria-valuenow={Math.round(1000 * split)}
              aria-valuemin={-400}
              aria-valuemax={400}
              tabIndex={0}
              onPointerDown={(e) => {
                svg.current!.setPointerCapture(e.pointerId);
                setDragged(split);
              }}
              onKeyDown={(e) => {
                if (e.key !== "ArrowLeft" && e.key !== "ArrowRight") return;
                e.preventDefault();
                e.stopPropagation();
                props.onSplit?.(split + (frame.side * (e.key === "ArrowRight" ? 1 : -1) * 5) / 1000);
              }}
            >
              <rect x={splitX - 40} y={view[1]} width={80} height={view[3]} fill="transparent" />
              <line x1={splitX} x2={splitX} y1={view[1] + 4} y2={view[1] + view[3] - 4} stroke="var(--ink)" strokeWidth={2.4} strokeDasharray="7 6" />
              <circle cx={splitX} cy={view[1] + view[3] - 34} r={17} fill="var(--paper)" stroke="var(--ink)" strokeWidth={2.4} />
              <path
                d={`M${splitX - 4},${view[1] + view[3] - 41} l-6,7 l6,7 M${splitX + 4},${view[1] + view[3] - 41} l6,7 l-6,7`}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={2.2}
              />
            </g>
          ) : null}
        </svg>
      </div>
    </div>
  );
}
