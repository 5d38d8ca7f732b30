import { useMemo, useRef, useSyncExternalStore } from "react";
import { sized } from "@/lib/units";

import type { Putt } from "@/api/putting";
import type { Cursor } from "@/lib/cursor";
import { pathOf } from "@/lib/putts";
import { valueAt, type Traces } from "@/lib/traces";
import { useSize } from "@/shared/ui/useSize";

import { BAND_CM, REACHES_CM, type Eye } from "./eyes";
import { tr } from "@/lib/language";

interface Props {
  eye: Eye;
  which: "head" | "grip";
  name: string;
  putt: Putt;
  course: Traces;
  cursor: Cursor;
  mirror: boolean;
}

/** Room for the words beside the cross. */
const BESIDE = 54;

/** One point against the free pendulum, which stands still in the middle: inside the tint it is where it would be. */
export function Loupe({ eye, which, name, putt, course, cursor, mirror }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [W, H] = useSize(frame, [200, 126]);
  const size = Math.max(20, Math.min(W / 2 - BESIDE, H / 2 - 8));
  const side = mirror ? -1 : 1;
  const off = useMemo(() => {
    const apart = (axis: string) => Array.from(course.columns[`${which}_${axis}`] ?? [], (v, k) => v - (course.columns[`free_${which}_${axis}`]?.[k] ?? NaN));
    const { takeaway = -Infinity, impact = Infinity } = putt.at_s;
    const inside = (k: number) => course.time[k]! >= takeaway && course.time[k]! <= impact;
    const across = apart(eye.across).map((v, k) => (inside(k) ? side * v : NaN));
    const up = apart(eye.up);
    const most = Math.max(...across.filter(Number.isFinite).map(Math.abs), ...up.filter((v, k) => inside(k) && Number.isFinite(v)).map(Math.abs), 0);
    return { across, up, reach: REACHES_CM.find((r) => most <= r) ?? Math.ceil(most) };
  }, [course, which, eye, putt, side]);
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const scale = size / off.reach;
  const at = (t: number): [number, number] | null => {
    const apart = (axis: string) => {
      const [a, b] = [valueAt(course, `${which}_${axis}`, t), valueAt(course, `free_${which}_${axis}`, t)];
      return a === null || b === null ? null : a - b;
    };
    const [a, u] = [apart(eye.across), apart(eye.up)];
    return a === null || u === null ? null : [side * a * scale, -u * scale];
  };
  const here = at(now);
  const turn = putt.at_s["transition"] === undefined ? null : at(putt.at_s["transition"]);
  const ball = putt.at_s["impact"] === undefined ? null : at(putt.at_s["impact"]);
  const band = BAND_CM * scale;
  const [right, left] = mirror ? [eye.words.left, eye.words.right] : [eye.words.right, eye.words.left];
  return (
    <div className="flex min-h-0 flex-col">
      <p className="text-base leading-tight whitespace-nowrap">
        {name} <span className="text-muted">{`±${sized("cm", off.reach, 0)}`}</span>
      </p>
      <div ref={frame} className="relative min-h-0 flex-1">
        <svg
          viewBox={`${-W / 2} ${-H / 2} ${W} ${H}`}
          className="absolute inset-0 h-full w-full"
          role="img"
          aria-label={tr("The {name} off the free pendulum, {name2}", { name, name2: eye.name.toLowerCase() })}
        >
          <rect x={-band} y={-band} width={2 * band} height={2 * band} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.4} />
          <line x1={-size} x2={size} stroke="var(--muted)" />
          <line y1={-size} y2={size} stroke="var(--muted)" />
          <path
            d={pathOf(
              off.across,
              off.up,
              (v) => v * scale,
              (v) => -v * scale,
            )}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={2.2}
            strokeDasharray={which === "grip" ? "6 4" : undefined}
          />
          {turn ? <path d={`M${turn[0]},${turn[1] - 5} l5,5 l-5,5 l-5,-5 z`} fill="var(--paper)" stroke="var(--ink)" strokeWidth={1.8} /> : null}
          {ball ? <circle cx={ball[0]} cy={ball[1]} r={5} fill="var(--ink)" /> : null}
          {here ? <circle cx={here[0]} cy={here[1]} r={8} fill="none" stroke="var(--ink)" strokeWidth={2.2} /> : null}
          <g fontSize={16} fill="var(--muted)">
            <text x={size + 4} y={5}>
              {right}
            </text>
            <text x={-size - 4} y={5} textAnchor="end">
              {left}
            </text>
            <text x={5} y={-size + 5}>
              {eye.words.up}
            </text>
            <text x={5} y={size + 5}>
              {eye.words.down}
            </text>
          </g>
        </svg>
      </div>
    </div>
  );
}
