import { tr } from "@/lib/language";

interface Props {
  /** In the measure's unit: after less before, and the two ends of its 95 % interval. */
  difference: number;
  interval: readonly number[];
  /** The least change that means anything. */
  relevant: number;
  /** What is to be read aloud. */
  label: string;
  /** What lies on either side. */
  less: string;
  more: string;
  className?: string;
}

const WIDTH = 320;
const HEIGHT = 64;
const MIDDLE = 24;
const EDGE = 14;

/** A change with its interval over the stretch that would mean nothing: beside it, it is real. */
export function ChangeInterval({ difference, interval, relevant, label, less, more, className }: Props) {
  const [low, high] = [interval[0]!, interval[1]!];
  const reach = 1.1 * Math.max(Math.abs(low), Math.abs(high), 2 * relevant);
  const x = (value: number) => WIDTH / 2 + (value / reach) * (WIDTH / 2 - EDGE);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} role="img" aria-label={label} className={className}>
      <rect
        x={x(-relevant)}
        y={MIDDLE - 16}
        width={x(relevant) - x(-relevant)}
        height={32}
        fill="var(--band)"
        stroke="var(--sea)"
        strokeWidth={1.5}
        data-part="nothing"
      />
      <line x1={EDGE} x2={WIDTH - EDGE} y1={MIDDLE} y2={MIDDLE} stroke="var(--hairline)" strokeWidth={1.5} />
      <line x1={x(0)} x2={x(0)} y1={MIDDLE - 16} y2={MIDDLE + 16} stroke="var(--sea)" strokeWidth={1.5} strokeDasharray="3 3" />
      <g stroke="var(--ink)" strokeWidth={4} strokeLinecap="round" data-part="interval">
        <line x1={x(low)} x2={x(high)} y1={MIDDLE} y2={MIDDLE} />
        <line x1={x(low)} x2={x(low)} y1={MIDDLE - 8} y2={MIDDLE + 8} />
        <line x1={x(high)} x2={x(high)} y1={MIDDLE - 8} y2={MIDDLE + 8} />
      </g>
      <circle cx={x(difference)} cy={MIDDLE} r={8} fill="var(--paper)" stroke="var(--ink)" strokeWidth={4} />
      <g fontSize={16} fill="var(--ink)">
        <text x={EDGE} y={HEIGHT - 4}>
          {less}
        </text>
        <text x={x(0)} y={HEIGHT - 4} textAnchor="middle">
          {tr("same")}
        </text>
        <text x={WIDTH - EDGE} y={HEIGHT - 4} textAnchor="end">
          {more}
        </text>
      </g>
    </svg>
  );
}
