import { useCallback, useLayoutEffect, useMemo, useRef, useSyncExternalStore, type PointerEvent, type ReactNode } from "react";

import { arcMap, arcPath, laneRadius, point, type Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { placed, type Box, type Label, type Spot } from "@/lib/labels";
import { moment, momentLines } from "@/lib/words";
import { useSize } from "@/shared/ui/useSize";
import { MomentName } from "@/shared/charts/MomentName";
import { number, tr } from "@/lib/language";

const BOX = { x: -116, y: 4, width: 664, height: 528 };
/** Left-handers' labels stand on the other side. */
const MIRRORED_X = 2 * 260 - (BOX.x + BOX.width);
const CENTRE: [number, number] = [260, 256];
const RADII: [number, number] = [222, 196];
const LABELLED = ["address", "shaft_level_back", "arm_level_back", "top", "impact"];
/** Whose name is left out first where they stand too close. */
const RANK = ["shaft_level_back", "arm_level_back", "address", "impact", "top"];
/** Where the measure is drawn and said. */
const INSIDE: Box = { left: 128, top: 66, right: 392, bottom: 446 };
/** CSS pixels that letters have at least. */
const LETTERS = 16.5;
const BEAD = 17;

interface Props {
  checkpoints: Checkpoint[];
  start: number;
  end: number;
  cursor: Cursor;
  out: [number, number][];
  mirror: boolean;
  selected: string | null;
  verdicts: Record<string, string>;
  onSelect: (name: string) => void;
  /** Drawn small: only the chosen checkpoint is named, in a size that stays readable. */
  compact?: boolean;
  /** Which checkpoints are named where there is room. */
  named?: readonly string[];
  /** When something should happen, and when it does: drawn at its place on the arc. */
  due?: { from: number; to: number; at: number | null } | null;
  /** What stands inside the arc; told how many units of the drawing a CSS pixel is. */
  children?: (unit: number) => ReactNode;
}

const OUTSIDE = new Set(["low", "high", "edge_low", "edge_high"]);

/** One swing as one arc: drag anywhere to scrub, tap a checkpoint to go there. */
export function ArcNavigator(props: Props) {
  const { checkpoints, start, end, cursor, out, mirror, compact, named = LABELLED } = props;
  const map = useMemo(() => arcMap(checkpoints, start, end), [checkpoints, start, end]);
  const left = mirror ? MIRRORED_X : BOX.x;
  const frame = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [width, height] = useSize(frame, [500, 400]);
  const unit = Math.max(BOX.width / width, BOX.height / height);
  const letters = LETTERS * unit;
  const names = useMemo(
    () => (compact ? new Map<string, Spot>() : namesAround(map, checkpoints, props.selected, mirror, left, letters, named)),
    [map, checkpoints, props.selected, mirror, left, compact, letters, named],
  );

  const scrub = useCallback(
    (event: PointerEvent<SVGSVGElement>) => {
      const box = svg.current!.getBoundingClientRect();
      const scale = Math.max(BOX.width / box.width, BOX.height / box.height);
      const x = (event.clientX - box.left - box.width / 2) * scale + left + BOX.width / 2 - CENTRE[0];
      const y = (event.clientY - box.top - box.height / 2) * scale + BOX.y + BOX.height / 2 - CENTRE[1];
      if (Math.hypot(x, y) < 60) return;
      let angle = (Math.atan2(mirror ? x : -x, y) * 180) / Math.PI;
      const outer = Math.hypot(x, y) > (RADII[0] + RADII[1]) / 2;
      const top = map.place(map.top).angle;
      const lane: 0 | 1 = outer && !(angle < 0 && angle + 360 > top + 8) ? 0 : 1;
      if (lane === 0 && angle < -60) angle += 360;
      if (lane === 1 && angle < -130) angle += 360;
      cursor.set(map.time(lane === 0 ? Math.max(0, angle) : Math.min(angle, top), lane));
    },
    [cursor, map, mirror, left],
  );

  return (
    <div ref={frame} className="relative h-full min-h-0 w-full">
      <svg
        ref={svg}
        viewBox={`${left} ${BOX.y} ${BOX.width} ${BOX.height}`}
        className="absolute inset-0 h-full overflow-visible w-full touch-none select-none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          scrub(event);
        }}
        onPointerMove={(event) => event.buttons > 0 && scrub(event)}
        role="slider"
        aria-label={tr("Position in the swing")}
        aria-valuemin={0}
        aria-valuemax={Math.round(1000 * (map.end - map.start))}
        aria-valuenow={0}
        tabIndex={0}
      >
        <path d={arcPath(map, map.start, map.end, CENTRE, RADII, mirror)} fill="none" stroke="var(--hairline)" strokeWidth={6} strokeLinecap="round" />
        {props.due ? <Due map={map} due={props.due} mirror={mirror} /> : null}
        <Done map={map} cursor={cursor} mirror={mirror} selected={props.selected} />
        {out.map(([a, b]) => {
          const from = Math.max(a, map.start);
          const to = Math.min(b, map.end);
          if (to <= from) return null;
          const path = arcPath(map, from, to, CENTRE, RADII, mirror);
          return (
            <g key={a} fill="none" strokeLinecap="round">
              <path d={path} stroke="var(--rust)" strokeWidth={11} />
              <path d={path} stroke="var(--paper)" strokeWidth={4} />
            </g>
          );
        })}
        {checkpoints.map((checkpoint) => {
          const { angle, lane } = map.place(checkpoint.time);
          const radius = laneRadius(map, checkpoint.time, RADII, lane);
          const [x, y] = point(...CENTRE, radius, angle, mirror);
          const selected = checkpoint.name === props.selected;
          const outside = OUTSIDE.has(props.verdicts[checkpoint.name] ?? "");
          const spot = names.get(checkpoint.name);
          return (
            <g
              key={checkpoint.name}
              className="cursor-pointer"
              onPointerDown={(e) => {
                e.stopPropagation();
                props.onSelect(checkpoint.name);
              }}
            >
              <circle cx={x} cy={y} r={compact ? 40 : 28} fill="transparent" />
              <circle
                cx={x}
                cy={y}
                r={selected ? (compact ? 20 : 15) : compact ? 12 : 8.5}
                fill="var(--paper)"
                stroke="var(--ink)"
                strokeWidth={selected ? 5 : 3}
              />
              {outside ? (
                <path d={`M${x},${y - (selected ? 8 : 6)} l${selected ? 7.5 : 5.5},${selected ? 13 : 9.5} h${selected ? -15 : -11} z`} fill="var(--rust)" />
              ) : null}
              {spot ? (
                <text
                  x={spot.x}
                  y={spot.y}
                  fontSize={letters}
                  fontWeight={selected ? 700 : 400}
                  fill={selected ? "var(--ink)" : "var(--muted)"}
                  textAnchor={spot.anchor}
                >
                  <MomentName name={checkpoint.name} x={spot.x} />
                </text>
              ) : null}
            </g>
          );
        })}
        {props.selected ? null : <Here map={map} cursor={cursor} mirror={mirror} />}
        {props.children?.(unit)}
      </svg>
    </div>
  );
}

/** Degrees along the arc and distance from it at which a name may stand, the best first: outside it, where nothing is said. */
const TURNS: Record<string, number[]> = { address: [9, 16, 24], impact: [-9, -16, -24] };
const BESIDE = [0, 7, -7, 14, -14, 21, -21];
const AWAY = [27, 48];

function namesAround(
  map: ReturnType<typeof arcMap>,
  checkpoints: readonly Checkpoint[],
  selected: string | null,
  mirror: boolean,
  left: number,
  letters: number,
  named: readonly string[],
) {
  const beads = checkpoints.map(({ time }) => {
    const { angle, lane } = map.place(time);
    const [x, y] = point(...CENTRE, laneRadius(map, time, RADII, lane), angle, mirror);
    return { left: x - BEAD, right: x + BEAD, top: y - BEAD, bottom: y + BEAD };
  });
  const labels = checkpoints
    .filter(({ name }) => named.includes(name) || name === selected)
    .map(({ name, time }): Label => {
      const { angle, lane } = map.place(time);
      const lines = momentLines(name);
      const at = (turn: number, radius: number, outward: boolean): Spot => {
        const [x, y] = point(...CENTRE, radius, angle + turn, mirror);
        const side = Math.abs(Math.sin(((angle + turn) * Math.PI) / 180)) > 0.5;
        const anchor = !side ? "middle" : x > CENTRE[0] === outward ? "start" : "end";
        return { x, y: y + (y > CENTRE[1] ? 0.6 : 0.2) * letters - (lines.length - 1) * 0.5 * letters, anchor };
      };
      const outside = AWAY.flatMap((d) => (TURNS[name] ?? BESIDE).map((turn) => at(turn, RADII[0] + d, true)));
      const inside = lane === 1 ? [at(0, RADII[1] - 30, false)] : [];
      return {
        key: name,
        lines,
        size: letters,
        bold: name === selected,
        must: name === selected,
        priority: RANK.indexOf(name),
        spots: [...inside, ...outside],
      };
    });
  const bounds = { left, top: BOX.y, right: left + BOX.width, bottom: BOX.y + BOX.height };
  return placed(labels, bounds, [...beads, INSIDE]);
}

interface Moving {
  map: ReturnType<typeof arcMap>;
  cursor: Cursor;
  mirror: boolean;
}

/** The way behind the cursor; with every move only this is drawn again, and the slider is told where it stands. */
function Done({ map, cursor, mirror, selected }: Moving & { selected: string | null }) {
  const way = useRef<SVGPathElement>(null);
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const done = Math.min(Math.max(now, map.start), map.end);
  useLayoutEffect(() => {
    const slider = way.current?.ownerSVGElement;
    slider?.setAttribute("aria-valuenow", String(Math.round(1000 * (done - map.start))));
    slider?.setAttribute("aria-valuetext", selected ? moment(selected) : `${number(now - map.start, 2)} s`);
  });
  return <path ref={way} d={arcPath(map, map.start, done, CENTRE, RADII, mirror)} fill="none" stroke="var(--ink)" strokeWidth={3.5} strokeLinecap="round" />;
}

/** The stretch in which something should happen as a band along the arc, and a ring where it does. */
function Due({ map, due, mirror }: { map: ReturnType<typeof arcMap>; due: NonNullable<Props["due"]>; mirror: boolean }) {
  const path = arcPath(map, Math.max(due.from, map.start), Math.min(due.to, map.end), CENTRE, RADII, mirror);
  const { angle, lane } = map.place(due.at ?? 0);
  const [x, y] = due.at === null ? [0, 0] : point(...CENTRE, laneRadius(map, due.at, RADII, lane), angle, mirror);
  const late = due.at !== null && (due.at < due.from || due.at > due.to);
  return (
    <g data-testid="due" fill="none" strokeLinecap="butt">
      <path d={path} stroke="var(--sea)" strokeWidth={30} />
      <path d={path} stroke="var(--band)" strokeWidth={25} />
      {due.at === null ? null : <circle cx={x} cy={y} r={15} stroke={late ? "var(--rust)" : "var(--ink)"} strokeWidth={5} fill="var(--paper)" />}
    </g>
  );
}

/** The cursor between two checkpoints. */
function Here({ map, cursor, mirror }: Moving) {
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const here = map.place(now);
  const [x, y] = point(...CENTRE, laneRadius(map, now, RADII, here.lane), here.angle, mirror);
  return <circle cx={x} cy={y} r={11} fill="var(--ink)" />;
}
