import { Marks, type Mark } from "./Marks";

const [LEFT, RIGHT] = [-140, 140];

/** A measure without a shape of its own: a rule with the band on it and the values beside. */
export function RangeBar({ low, high, marks, open }: { low: number; high: number; marks: readonly Mark[]; open: { low: boolean; high: boolean } }) {
  const all = [low, high, ...marks.map((m) => m.value)];
  const [least, most] = [Math.min(...all), Math.max(...all)];
  const margin = 0.12 * (most - least || 1);
  const from = open.low ? least : least - margin;
  const to = open.high ? most : most + margin;
  const x = (v: number) => LEFT + ((RIGHT - LEFT) * (v - from)) / (to - from);
  return (
    <g>
      <rect x={x(low)} y={-30} width={Math.max(3, x(high) - x(low))} height={60} fill="var(--band)" />
      {open.low ? null : <line x1={x(low)} x2={x(low)} y1={-30} y2={30} stroke="var(--sea)" strokeWidth={3} />}
      {open.high ? null : <line x1={x(high)} x2={x(high)} y1={-30} y2={30} stroke="var(--sea)" strokeWidth={3} />}
      <line x1={LEFT} x2={RIGHT} y1={30} y2={30} stroke="var(--ink)" strokeWidth={3} />
      <Marks marks={marks} at={(v, ring) => [x(v), -18 + 18 * ring]} />
    </g>
  );
}
