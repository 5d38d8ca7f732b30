import { useRef } from "react";

import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { amount, direction, inWords, moment, type MetricWords } from "@/lib/words";
import { useSettings } from "@/shared/ui/controls";
import { useSize } from "@/shared/ui/useSize";

const [WIDEST, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [760, 184, 16, 104, 22, 42];
/** CSS pixels that a day takes. */
const DAY = 66;
const day = (iso: string) => new Date(`${iso.slice(0, 10)}T12:00:00Z`).toLocaleDateString("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });

/** Which of the days have room: the first, the last, and those between that stand clear of them. */
function apart(xs: readonly number[]): Set<number> {
  const out = new Set([0, xs.length - 1]);
  for (let k = xs.length - 2; k > 0; k--) {
    const clear = [...out].every((other) => Math.abs(xs[other]! - xs[k]!) > DAY + (other === 0 ? DAY / 2 : 0));
    if (clear) out.add(k);
  }
  return out;
}

/** The measure of the last priority over the lessons: each lesson's middle with the middle half of its swings, and the band. */
export function Course({ course }: { course: Schemas["CourseOut"] }) {
  const metric = useCatalogue().data?.metrics.find((m) => m.id === course.metric) as MetricWords | undefined;
  return metric ? <CourseOf course={course} metric={metric} /> : null;
}

function CourseOf({ course, metric }: { course: Schemas["CourseOut"]; metric: MetricWords }) {
  const { words } = useSettings();
  const frame = useRef<HTMLElement>(null);
  const WIDTH = Math.min(WIDEST, useSize(frame, [WIDEST, HEIGHT])[0]);
  const { points, low, high } = course;
  const limits = [low, high].filter((v) => v != null);
  const all = [...points.flatMap((p) => [p.low, p.high]), ...limits];
  const margin = 0.12 * (Math.max(...all) - Math.min(...all)) || 1;
  const [least, most] = [Math.min(...all) - margin, Math.max(...all) + margin];
  const times = points.map((p) => Date.parse(p.day));
  const x = (t: number) => LEFT + ((WIDTH - LEFT - RIGHT) * (t - times[0]!)) / (times.at(-1)! - times[0]! || 1);
  const y = (v: number) => TOP + ((HEIGHT - TOP - BOTTOM) * (most - v)) / (most - least);
  const [first, last] = [points[0]!, points.at(-1)!];
  const where = course.moment === "swing" ? "" : course.moment.includes("..") ? `, ${moment(course.moment)}` : ` at ${moment(course.moment)}`;
  const name = `${words === "plain" ? metric.plain_label : metric.label}${where}`;
  const told = `${name}: ${inWords(metric, first.median, words)} on ${day(first.day)}, ${inWords(metric, last.median, words)} on ${day(last.day)}`;
  const dated = apart(times.map(x));
  const [top, bottom] = [y(high ?? most), y(low ?? least)];
  return (
    <figure ref={frame} className="mb-6 overflow-hidden">
      <figcaption className="text-2xl leading-tight font-bold">
        {course.label}
        <span className="block text-lg font-normal text-muted">{name}</span>
      </figcaption>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} className="mt-1" role="img" aria-label={told}>
        {limits.length > 0 ? (
          <rect x={LEFT} width={WIDTH - LEFT - RIGHT} y={top} height={bottom - top} fill="var(--band)" stroke="var(--sea)" strokeWidth="1.2" />
        ) : null}
        <polyline points={points.map((p, k) => `${x(times[k]!)},${y(p.median)}`).join(" ")} fill="none" stroke="var(--muted)" strokeWidth="1.5" />
        {points.map((p, k) => {
          const out = (low != null && p.median < low) || (high != null && p.median > high);
          const ink = out ? "var(--rust)" : "var(--ink)";
          return (
            <g key={p.lesson_id} stroke={ink} strokeWidth="2.5">
              <line x1={x(times[k]!)} x2={x(times[k]!)} y1={y(p.low)} y2={y(p.high)} />
              <circle cx={x(times[k]!)} cy={y(p.median)} r="6" fill="var(--paper)" />
              {out ? <circle cx={x(times[k]!)} cy={y(p.median)} r="2.5" fill={ink} stroke="none" /> : null}
              {dated.has(k) ? (
                <text x={x(times[k]!)} y={HEIGHT - 8} fontSize="16" textAnchor={k === 0 ? "start" : "middle"} fill="var(--muted)" stroke="none">
                  {day(p.day)}
                </text>
              ) : null}
            </g>
          );
        })}
        <text x={LEFT + 14} y={y(first.median) + (first.median > last.median ? -8 : 22)} fontSize="16" fill="var(--ink)">
          {amount(metric, first.median)}
        </text>
        <text x={WIDTH - RIGHT + 14} y={y(last.median) + 6} fontSize="20" fontWeight="700" fill="var(--ink)">
          {amount(metric, last.median)}
        </text>
        <text x={WIDTH - RIGHT + 14} y={y(last.median) + 24} fontSize="16" fill="var(--muted)">
          {direction(metric, last.median, words).split(" ").slice(0, 2).join(" ")}
        </text>
      </svg>
    </figure>
  );
}
