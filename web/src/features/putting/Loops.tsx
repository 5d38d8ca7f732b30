import { scaleLinear } from "d3-scale";

import type { Putt } from "@/api/putting";
import { pathOf } from "@/lib/putts";
import { valueAt, type Traces } from "@/lib/traces";
import { tr } from "@/lib/language";

interface Props {
  putts: readonly Putt[];
  courses: ReadonlyMap<string, Traces>;
  reach: number;
  chosen: string | null;
  onChoose: (id: string) => void;
  /** What right, left, up and down of the loop are called. */
  words: { right: string; left: string; up: string; down: string };
}

/** Hinge against cup as one line from takeaway to the ball: the large one is the chosen putt, dots are time, five hundredths of a second apart. */
export function Loops({ putts, courses, reach, chosen, onChoose, words }: Props) {
  const putt = putts.find((p) => p.id === chosen) ?? putts.find((p) => p.counts && courses.get(p.id)?.columns["extension"]) ?? putts[0];
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-6 portrait:grid-cols-1 portrait:grid-rows-[minmax(0,3fr)_minmax(0,2fr)]">
      <svg
        viewBox="-265 -190 530 380"
        className="h-full max-h-full w-full min-h-0"
        role="img"
        aria-label={putt ? tr("The loop of putt {number}", { number: putt.number }) : tr("No loop")}
      >
        <Axes reach={reach} size={160} words={words} />
        {putt ? <Loop putt={putt} course={courses.get(putt.id)} reach={reach} size={160} large /> : null}
      </svg>
      <ul className="flex min-h-0 flex-wrap content-start gap-2 overflow-y-auto" aria-label={tr("The putts")}>
        {putts.map((p) => (
          <li key={p.id}>
            <button
              type="button"
              aria-pressed={p.id === putt?.id}
              onClick={() => onChoose(p.id)}
              className={`block w-[126px] text-center text-lg max-[700px]:w-[96px] ${p.id === putt?.id ? "font-bold" : "text-muted"}`}
            >
              <svg viewBox="-60 -52 120 104" className="w-full" aria-hidden>
                <line x1={-52} x2={52} stroke="var(--hairline)" />
                <line y1={-46} y2={46} stroke="var(--hairline)" />
                <Loop putt={p} course={courses.get(p.id)} reach={reach} size={46} />
              </svg>
              {p.number}
              {p.counts ? "" : tr(" · not counted")}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Axes({ reach, size, words }: { reach: number; size: number; words: Props["words"] }) {
  return (
    <g fontSize={17} fill="var(--muted)">
      <line x1={-size} x2={size} stroke="var(--muted)" />
      <line y1={-size} y2={size} stroke="var(--muted)" />
      {[-1, 1].map((s) => (
        <g key={s}>
          <line x1={s * size} x2={s * size} y1={-5} y2={5} stroke="var(--muted)" />
          <line y1={s * size} y2={s * size} x1={-5} x2={5} stroke="var(--muted)" />
        </g>
      ))}
      <text x={size + 6} y={-8} textAnchor="start">
        {reach}°
      </text>
      <text x={size + 6} y={22} textAnchor="start">
        {words.right}
      </text>
      <text x={-size - 6} y={22} textAnchor="end">
        {words.left}
      </text>
      <text x={8} y={-size - 6}>
        {words.up} {reach}°
      </text>
      <text x={8} y={size + 20}>
        {words.down}
      </text>
    </g>
  );
}

const DOT_S = 0.05;
/** Where a mark's name stands, so that takeaway and impact, which lie close, do not touch. */
const BESIDE: Record<string, [number, number]> = { takeaway: [-12, 26], transition: [14, -12], impact: [-12, -16] };

function Loop({ putt, course, reach, size, large = false }: { putt: Putt; course: Traces | undefined; reach: number; size: number; large?: boolean }) {
  const [ext, dev] = [course?.columns["extension"], course?.columns["deviation"]];
  const { takeaway, transition, impact } = putt.at_s;
  if (!course || !ext || !dev || takeaway === undefined || impact === undefined)
    return (
      <text textAnchor="middle" fontSize={large ? 22 : 16} fill="var(--muted)">
        {tr("not seen")}
      </text>
    );
  const at = scaleLinear([-reach, reach], [-size, size]).clamp(true);
  const place = (t: number) => [at(valueAt(course, "extension", t) ?? 0), -at(valueAt(course, "deviation", t) ?? 0)] as const;
  const inside = Array.from(ext, (v, k) => (course.time[k]! >= takeaway - 0.02 && course.time[k]! <= impact + 0.02 ? v : NaN));
  const dots = large ? Array.from({ length: Math.floor((impact - takeaway) / DOT_S) + 1 }, (_, k) => takeaway + k * DOT_S) : [];
  const marks = [
    { name: "takeaway", t: takeaway, r: large ? 7 : 3, fill: "var(--paper)" },
    ...(transition === undefined ? [] : [{ name: "transition", t: transition, r: large ? 9 : 4, fill: "var(--paper)" }]),
    { name: "impact", t: impact, r: large ? 9 : 4, fill: "var(--ink)" },
  ];
  return (
    <g>
      <path
        d={pathOf(inside, dev, at, (v) => -at(v))}
        fill="none"
        stroke={putt.counts ? "var(--ink)" : "var(--muted)"}
        strokeWidth={large ? 3.4 : 2}
        strokeDasharray={putt.counts ? undefined : "5 4"}
        strokeLinejoin="round"
      />
      {dots.map((t) => {
        const [px, py] = place(t);
        return <circle key={t} cx={px} cy={py} r={3.2} fill="var(--ink)" />;
      })}
      {marks.map(({ name, t, r, fill }) => {
        const [px, py] = place(t);
        const diamond = name === "transition";
        return (
          <g key={name}>
            {diamond ? (
              <path d={`M${px},${py - r} l${r},${r} l${-r},${r} l${-r},${-r} z`} fill={fill} stroke="var(--ink)" strokeWidth={large ? 3 : 2} />
            ) : (
              <circle cx={px} cy={py} r={r} fill={fill} stroke="var(--ink)" strokeWidth={large ? 3 : 1.6} />
            )}
            {large ? (
              <text
                x={px + BESIDE[name]![0]}
                y={py + BESIDE[name]![1]}
                textAnchor={BESIDE[name]![0] < 0 ? "end" : "start"}
                fontSize={17}
                fill="var(--ink)"
                style={{ paintOrder: "stroke" }}
                stroke="var(--paper)"
                strokeWidth={4}
              >
                {name}
              </text>
            ) : null}
          </g>
        );
      })}
    </g>
  );
}
