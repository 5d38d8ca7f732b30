import { Link } from "@tanstack/react-router";
import { scaleLinear } from "d3-scale";
import { useRef } from "react";
import { term } from "@/lib/terms";

import type { Putt } from "@/api/putting";
import { pathOf } from "@/lib/putts";
import type { Traces } from "@/lib/traces";
import { useSize } from "@/shared/ui/useSize";
import { tr } from "@/lib/language";

interface Props {
  lessonId: string;
  putts: readonly Putt[];
  courses: ReadonlyMap<string, Traces>;
  /** The column that is drawn. */
  column: string;
  /** The graph reaches so far to either side, the same for every putt. */
  reach: number;
  unit: "°" | "°/s";
  up: string;
  down: string;
}

/** How strongly a phase is shaded. */
const SHADED: Partial<Record<Putt["phases"][number]["phase"], number>> = { transition: 0.07, impact: 0.16 };
const BEFORE_S = 0.15;
const AFTER_S = 0.25;
const LEFT = 44;
const UNDER = 46;
/** Room for one panel, so that putts and their words stay readable. */
const LEAST = 150;

/** One small graph a putt, all on one time and one scale: those that count strong, the others thin and dashed. */
export function Multiples({ lessonId, putts, courses, column, reach, unit, up, down }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [W, H] = useSize(frame, [1200, 380]);
  const lines = Math.max(1, Math.ceil(putts.length / Math.max(1, Math.floor((W - LEFT) / LEAST))));
  const perRow = Math.max(1, Math.ceil(putts.length / lines));
  const [w, h] = [(W - LEFT) / perRow, Math.max(150, Math.min(440, H / lines))];
  const back = Math.max(0.4, ...putts.map((p) => span(p)));
  const x = scaleLinear([-back - BEFORE_S, AFTER_S], [6, w - 8]);
  const y = scaleLinear([-reach, reach], [h - UNDER, 22]);
  return (
    <>
      <p className="flex-none text-base text-muted">
        {tr("shaded: transition and, darker, impact · upright lines: takeaway faint, transition dashed, impact plain")}
      </p>
      <div ref={frame} className="relative min-h-0 w-full flex-1 overflow-y-auto">
        <svg width={W} height={Math.max(lines * h, 1)} className="block" role="group" aria-label={tr("{up} and {down} over each putt", { up, down })}>
          {Array.from({ length: lines }, (_, k) => (
            <g key={k} transform={`translate(0,${k * h})`} fill="var(--muted)" fontSize={16}>
              <text x={LEFT - 6} y={y(reach) + 6} textAnchor="end">
                {reach}
                {unit === "°" ? "°" : ""}
              </text>
              <text x={LEFT - 6} y={y(0) + 6} textAnchor="end">
                0
              </text>
              <text x={LEFT - 6} y={y(-reach) + 4} textAnchor="end">
                {reach}
                {unit === "°" ? "°" : ""}
              </text>
            </g>
          ))}
          {putts.map((putt, k) => (
            <Panel
              key={putt.id}
              lessonId={lessonId}
              putt={putt}
              course={courses.get(putt.id)}
              column={column}
              at={[LEFT + (k % perRow) * w, Math.floor(k / perRow) * h]}
              size={[w, h]}
              x={x}
              y={y}
              reach={reach}
            />
          ))}
          <g fill="var(--muted)" fontSize={17} style={{ paintOrder: "stroke" }} stroke="var(--paper)" strokeWidth={4}>
            <text x={LEFT + 4} y={15}>
              {up} ↑
            </text>
            <text x={LEFT + 4} y={h - UNDER - 3}>
              {down} ↓
            </text>
          </g>
        </svg>
      </div>
    </>
  );
}

const span = (p: Putt) => (p.at_s["impact"] ?? 0) - (p.at_s["takeaway"] ?? 0);

interface PanelProps {
  lessonId: string;
  putt: Putt;
  course: Traces | undefined;
  column: string;
  at: [number, number];
  size: [number, number];
  x: (t: number) => number;
  y: (v: number) => number;
  reach: number;
}

function Panel({ lessonId, putt, course, column, at, size: [w, h], x, y, reach }: PanelProps) {
  const ball = putt.at_s["impact"];
  const values = course?.columns[column];
  const told = putt.what === "practice" ? tr("no ball") : putt.what === "tap_in" ? tr("tap-in") : putt.counts ? term(putt.putt.outcome) : tr("does not count");
  const name = tr("Putt {number}{what}", { number: putt.number, what: told ? `, ${told}` : "" });
  return (
    <Link to="/lessons/$lessonId/swings/$swingId" params={{ lessonId, swingId: putt.id }} aria-label={name}>
      <g transform={`translate(${at[0]},${at[1]})`}>
        <rect width={w} height={h} fill="transparent" />
        <line x1={4} x2={w - 6} y1={y(reach)} y2={y(reach)} stroke="var(--hairline)" />
        <line x1={4} x2={w - 6} y1={y(-reach)} y2={y(-reach)} stroke="var(--hairline)" />
        <line x1={4} x2={w - 6} y1={y(0)} y2={y(0)} stroke="var(--muted)" />
        {ball === undefined
          ? null
          : putt.phases
              .filter((p) => SHADED[p.phase])
              .map((p) => (
                <rect
                  key={p.phase}
                  x={x(p.start_s - ball)}
                  width={x(p.end_s) - x(p.start_s)}
                  y={y(reach)}
                  height={y(-reach) - y(reach)}
                  fill="var(--ink)"
                  opacity={SHADED[p.phase]}
                />
              ))}
        {ball === undefined
          ? null
          : (["takeaway", "transition", "impact"] as const).map((mark) => {
              const t = putt.at_s[mark];
              return t === undefined ? null : (
                <line
                  key={mark}
                  x1={x(t - ball)}
                  x2={x(t - ball)}
                  y1={y(reach)}
                  y2={y(-reach)}
                  stroke={mark === "takeaway" ? "var(--hairline)" : "var(--muted)"}
                  strokeDasharray={mark === "transition" ? "5 4" : undefined}
                />
              );
            })}
        {values && course && ball !== undefined ? (
          <path
            d={pathOf(
              course.time,
              values,
              (t) => x(t - ball),
              (v) => y(Math.max(-reach, Math.min(reach, v))),
              ball + x0(x),
              ball + AFTER_S,
            )}
            fill="none"
            stroke={putt.counts ? "var(--ink)" : "var(--muted)"}
            strokeWidth={putt.counts ? 3 : 1.8}
            strokeDasharray={putt.counts ? undefined : "6 5"}
            strokeLinejoin="round"
          />
        ) : (
          <text x={w / 2} y={y(0) - 8} textAnchor="middle" fontSize={16} fill="var(--muted)">
            {tr("not seen")}
          </text>
        )}
        <text x={w / 2} y={h - UNDER + 22} textAnchor="middle" fontSize={18} fontWeight={putt.counts ? 700 : 400} fill="var(--ink)">
          {putt.number}
          {told ? <tspan fontWeight={400} fill="var(--muted)">{` · ${told}`}</tspan> : null}
        </text>
      </g>
    </Link>
  );
}

/** The earliest instant a panel has room for, s before the ball. */
const x0 = (x: (t: number) => number): number => {
  const step = x(1) - x(0);
  return (6 - x(0)) / step;
};
