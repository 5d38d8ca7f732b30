import { scaleLinear } from "d3-scale";
import { useRef } from "react";

import type { Putting } from "@/api/putting";
import { distanceWords, type Unit } from "@/lib/putts";
import type { Vocabulary } from "@/lib/words";
import { useSize } from "@/shared/ui/useSize";
import { tr } from "@/lib/language";

const STROKE = "takeaway..impact";
const SHOWN = [
  { metric: "putt_extension_range", angle: "extension", standard: tr("Extension"), plain: tr("Cup and bow") },
  { metric: "putt_deviation_range", angle: "deviation", standard: tr("Radial deviation"), plain: tr("Hinge") },
  { metric: "putt_roll_range", angle: "roll", standard: tr("Rotation"), plain: tr("Rotation") },
] as const;
const SCALES = [5, 10, 20, 40];

/** How far each angle goes, putt by putt, over the distance, with the line of growth and its middle of each distance. One scale for all three. */
export function Growth({ putting, words }: { putting: Putting; words: Vocabulary }) {
  const frame = useRef<HTMLDivElement>(null);
  const [W, H] = useSize(frame, [1200, 380]);
  const counting = putting.putts.filter((p) => p.counts && p.putt.distance_m !== null);
  const values = counting.flatMap((p) => SHOWN.map((s) => p.values[s.metric]?.[STROKE] ?? 0));
  const top = SCALES.find((s) => values.every((v) => v <= s)) ?? Math.ceil(Math.max(...values));
  const unit = putting.plan.unit as Unit;
  const far = Math.max(1, ...counting.map((p) => p.putt.distance_m!), ...putting.plan.distances_m) * 1.08;
  const upright = W < 700;
  const [w, h] = upright ? [W, H / 3] : [W / 3, H];
  const x = scaleLinear([0, far], [46, w - 14]);
  const y = scaleLinear([0, top], [h - 40, 34]);
  const ticks = putting.rows.flatMap((r) => (r.distance_m === null ? [] : [r.distance_m]));
  return (
    <div ref={frame} className="relative min-h-0 w-full flex-1">
      <svg viewBox={`0 0 ${W} ${H}`} className="absolute inset-0 h-full w-full" role="img" aria-label={tr("How far the wrist goes at each distance")}>
        {SHOWN.map(({ metric, standard, plain }, k) => {
          const line = putting.growth.find((g) => g.metric === metric);
          return (
            <g key={metric} transform={upright ? `translate(0,${k * h})` : `translate(${k * w},0)`} fontSize={17} fill="var(--muted)">
              <text x={46} y={20} fontSize={20} fontWeight={700} fill="var(--ink)">
                {words === "plain" ? plain : standard}
              </text>
              {[0, top / 2, top].map((v) => (
                <g key={v}>
                  <line x1={46} x2={w - 14} y1={y(v)} y2={y(v)} stroke={v === 0 ? "var(--muted)" : "var(--hairline)"} />
                  <text x={40} y={y(v) + 6} textAnchor="end">
                    {v}°
                  </text>
                </g>
              ))}
              {ticks.map((d) => (
                <text key={d} x={x(d)} y={h - 16} textAnchor="middle">
                  {distanceWords(d, unit)}
                </text>
              ))}
              {line ? (
                <line
                  x1={x(ticks[0] ?? 0)}
                  x2={x(ticks.at(-1) ?? far)}
                  y1={y(line.at_zero + line.slope * (ticks[0] ?? 0))}
                  y2={y(line.at_zero + line.slope * (ticks.at(-1) ?? far))}
                  stroke="var(--ink)"
                  strokeWidth={3}
                />
              ) : null}
              {counting.map((p) => {
                const v = p.values[metric]?.[STROKE];
                return v === undefined ? null : (
                  <circle key={p.id} cx={x(p.putt.distance_m!)} cy={y(v)} r={5} fill="none" stroke="var(--ink)" strokeWidth={1.8} />
                );
              })}
            </g>
          );
        })}
      </svg>
    </div>
  );
}
