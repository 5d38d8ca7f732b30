import type { Schemas } from "@/api/client";
import { tr } from "@/lib/language";

const [WIDTH, HEIGHT, EDGE] = [280, 56, 8];
const ROWS = 3;

/** The swings a range would be made from, as dots: the range they make as a band, the present one as a bracket above them. */
export function RangeDots({ row }: { row: Schemas["CohortRow"] }) {
  const { values, made_low, made_high, now_low, now_high } = row;
  const all = [...values, made_low, made_high, now_low, now_high].filter((v): v is number => v !== null);
  if (values.length === 0) return <span />;
  const [least, most] = [Math.min(...all), Math.max(...all)];
  const span = most - least || 1;
  const x = (v: number) => EDGE + ((WIDTH - 2 * EDGE) * (v - least)) / span;
  const from = (v: number | null) => (v === null ? 0 : x(v));
  const to = (v: number | null) => (v === null ? WIDTH : x(v));
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full max-[1180px]:col-start-2 max-[1180px]:max-w-[420px]"
      role="img"
      aria-label={tr("{length} swings; they make {made}, now {now}", { length: values.length, made: row.made, now: row.now })}
    >
      <rect x={from(made_low)} width={Math.max(2, to(made_high) - from(made_low))} y="16" height="36" fill="var(--band)" stroke="var(--sea)" />
      {now_low !== null || now_high !== null ? (
        <path
          d={`M${from(now_low)},${now_low === null ? 6 : 13} L${from(now_low)},6 L${to(now_high)},6 L${to(now_high)},${now_high === null ? 6 : 13}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2"
        />
      ) : null}
      {values.map((v, k) => (
        <circle key={k} cx={x(v)} cy={24 + (k % ROWS) * 10} r="3.2" fill="var(--ink)" fillOpacity="0.55" />
      ))}
    </svg>
  );
}
