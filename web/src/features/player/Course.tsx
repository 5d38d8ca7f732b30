import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { direction, inWords, moment, type MetricWords } from "@/lib/words";
import { useSettings } from "@/shared/ui/controls";

const [WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [720, 184, 16, 120, 22, 42];
const day = (iso: string) => new Date(`${iso.slice(0, 10)}T12:00:00Z`).toLocaleDateString("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });

/** The measure of the last priority over the lessons: each lesson's middle with the middle half of its swings, and the band. */
export function Course({ course }: { course: Schemas["CourseOut"] }) {
  const { words } = useSettings();
  const metric = useCatalogue().data?.metrics.find((m) => m.id === course.metric) as MetricWords | undefined;
  if (!metric) return null;
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
  const [top, bottom] = [y(high ?? most), y(low ?? least)];
  return (
    <figure className="mb-6">
      <figcaption className="text-2xl leading-tight font-bold">
        {course.label}
        <span className="block text-lg font-normal text-muted">{name}</span>
      </figcaption>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="mt-1 w-full max-w-[760px]" role="img" aria-label={told}>
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
              <text x={x(times[k]!)} y={HEIGHT - 8} fontSize="16" textAnchor={k === 0 ? "start" : "middle"} fill="var(--muted)" stroke="none">
                {day(p.day)}
              </text>
            </g>
          );
        })}
        <text x={LEFT + 14} y={y(first.median) + (first.median > last.median ? -8 : 22)} fontSize="16" fill="var(--ink)">
          {inWords(metric, first.median, words).split(" ")[0]}
        </text>
        <text x={WIDTH - RIGHT + 14} y={y(last.median) + 6} fontSize="20" fontWeight="700" fill="var(--ink)">
          {inWords(metric, last.median, words).split(" ")[0]}
        </text>
        <text x={WIDTH - RIGHT + 14} y={y(last.median) + 24} fontSize="15" fill="var(--muted)">
          {direction(metric, last.median, words).split(" ").slice(0, 2).join(" ")}
        </text>
      </svg>
    </figure>
  );
}
