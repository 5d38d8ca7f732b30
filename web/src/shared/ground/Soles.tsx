import { leftToRight, SOLE } from "@/lib/mat";
import { tr } from "@/lib/language";

interface Foot {
  along: number | null;
  share: number | null;
  low: number | null;
  high: number | null;
  out: boolean;
}

/** Both soles from above, toes up: where the pressure is along each, and how much is on it. */
export function Soles({ lead, trail, mirror }: { lead: Foot; trail: Foot; mirror: boolean }) {
  const feet = { lead, trail };
  return (
    <svg viewBox="-180 -150 360 340" className="w-full" role="img" aria-label={tr("Weight on both feet at address")}>
      {leftToRight(mirror).map((side, k) => {
        const f = feet[side];
        const at = k === 0 ? -86 : 86;
        const y = (v: number) => 110 - 2.2 * v;
        return (
          <g key={side} transform={`translate(${at},-20)`}>
            <path d={SOLE} transform={`rotate(${k === 0 ? -10 : 10}) scale(${k === 0 ? -1 : 1},1)`} fill="var(--paper)" stroke="var(--ink)" strokeWidth={4} />
            {f.low !== null && f.high !== null ? (
              <rect x={-16} width={32} y={y(f.high)} height={Math.max(3, y(f.low) - y(f.high))} fill="var(--band)" stroke="var(--sea)" strokeWidth={2} />
            ) : null}
            {f.along !== null ? (
              <circle cx={0} cy={y(f.along)} r={16} fill="var(--ink)" stroke={f.out ? "var(--rust)" : "var(--paper)"} strokeWidth={f.out ? 7 : 4} />
            ) : null}
            {f.share !== null ? (
              <text y={188} fontSize={60} fontWeight={700} textAnchor="middle" fill="var(--ink)" className="figure">
                {Math.round(f.share)} %
              </text>
            ) : null}
          </g>
        );
      })}
    </svg>
  );
}
