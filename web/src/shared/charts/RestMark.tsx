import type { Rest } from "@/lib/rest";

interface Props {
  rest: Rest;
  x: (t: number) => number;
  y: (v: number) => number;
  top: number;
  bottom: number;
}

const HALF = 9;

/** What the sentence speaks of, where it is: from where to where, the band of that, and how much is beyond it. */
export function RestMark({ rest, x, y, top, bottom }: Props) {
  const { from, to, low, high, out } = rest;
  const at = x(to.time);
  const within = (v: number) => Math.min(bottom, Math.max(top, y(v)));
  const upper = high === null ? top : within(high);
  const lower = low === null ? bottom : within(low);
  const limit = high !== null && to.value > high ? high : low !== null && to.value < low ? low : null;
  return (
    <g data-rest={rest.column} pointerEvents="none">
      <rect x={at - HALF} y={upper} width={2 * HALF} height={Math.max(0, lower - upper)} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.5} />
      {from ? (
        <>
          <line x1={x(from.time)} x2={at} y1={y(from.value)} y2={y(from.value)} stroke="var(--ink)" strokeWidth={1.6} strokeDasharray="5 5" />
          <circle cx={x(from.time)} cy={y(from.value)} r={6} fill="var(--paper)" stroke="var(--ink)" strokeWidth={2.6} />
          <line x1={at} x2={at} y1={y(from.value)} y2={y(to.value)} stroke="var(--ink)" strokeWidth={2.4} />
        </>
      ) : null}
      {out && limit !== null ? (
        <g strokeLinecap="round">
          <line x1={at} x2={at} y1={y(limit)} y2={y(to.value)} stroke="var(--rust)" strokeWidth={9} />
          <line x1={at} x2={at} y1={y(limit)} y2={y(to.value)} stroke="var(--paper)" strokeWidth={3.4} />
        </g>
      ) : null}
      <circle cx={at} cy={y(to.value)} r={6} fill="var(--paper)" stroke={out ? "var(--rust)" : "var(--ink)"} strokeWidth={3} />
    </g>
  );
}
