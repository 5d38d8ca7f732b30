import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { useRef } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { amount, type MetricWords } from "@/lib/words";
import { useSize } from "@/shared/ui/useSize";

import { apart, dayOf, days, EDGES } from "./progress";
import { number, tr } from "@/lib/language";

type Told = Schemas["ConsistencyOut"];

/** How steady the player is in the measure that is followed; asked for when it is looked at. */
export function useSteady(playerId: string, of: Schemas["ProgressOut"], shown: boolean) {
  const query = { metric: of.metric, moment: of.moment, club: of.club };
  return useQuery({
    queryKey: keys.consistency(playerId, query),
    enabled: shown,
    queryFn: ({ signal }) =>
      data(api.GET("/api/players/{player_id}/consistency", { params: { path: { player_id: playerId }, query }, signal })) as Promise<Told | null>,
  });
}

const HEIGHT = 232;

/** The scatter of each lesson with what it may be, and how alike its swings were as a whole. */
export function SteadyDrawing({ points, metric }: { points: Told["points"]; metric: MetricWords }) {
  const frame = useRef<HTMLDivElement>(null);
  const [width] = useSize(frame, [760, HEIGHT]);
  const known = points.filter((p) => p.sd != null);
  const alike = points.filter((p) => p.likeness != null);
  const x = days([points[0]!.on, points.at(-1)!.on], width);
  const y = scaleLinear([0, Math.max(1e-6, ...known.map((p) => Math.min(p.high!, 3 * p.sd!)))], [HEIGHT - EDGES.bottom, EDGES.top]).clamp(true);
  const dated = apart(points.map((p) => x(p.on)));
  const says = tr("Scatter within a lesson: {what}", {
    what: known.map((p) => tr("{amount} on {dayOf}", { amount: amount(metric, p.sd!), dayOf: dayOf(p.on) })).join(", ") || tr("too few swings in each"),
  });
  return (
    <>
      <div ref={frame} className="mt-1 w-full overflow-hidden" style={{ height: HEIGHT }}>
        <svg viewBox={`0 0 ${width} ${HEIGHT}`} width={width} height={HEIGHT} role="img" aria-label={says}>
          <line x1={EDGES.left} x2={width - EDGES.right} y1={y(0)} y2={y(0)} stroke="var(--hairline)" strokeWidth={1.5} />
          <polyline points={known.map((p) => `${x(p.on)},${y(p.sd!)}`).join(" ")} fill="none" stroke="var(--muted)" strokeWidth={1.5} />
          {points.map((p, k) => (
            <g key={p.lesson_id}>
              {p.sd != null ? (
                <g stroke="var(--ink)" strokeWidth={2.5}>
                  <line x1={x(p.on)} x2={x(p.on)} y1={y(p.low!)} y2={y(p.high!)} />
                  <circle cx={x(p.on)} cy={y(p.sd)} r={6} fill="var(--paper)" />
                </g>
              ) : null}
              {dated.has(k) ? (
                <text x={x(p.on)} y={HEIGHT - 8} fontSize={16} textAnchor={k === 0 ? "start" : "middle"} fill="var(--muted)">
                  {dayOf(p.on)}
                </text>
              ) : null}
            </g>
          ))}
          {known.length ? (
            <text x={width - EDGES.right + 30} y={y(known.at(-1)!.sd!) + 6} fontSize={20} fontWeight={700} fill="var(--ink)">
              ± {amount(metric, known.at(-1)!.sd!)}
            </text>
          ) : null}
        </svg>
      </div>
      <div className="text-lg leading-snug">
        <p className="text-muted">{tr("Standard deviation within a lesson; the line: what it may be (95 %).")}</p>
        {alike.length ? (
          <p>
            {tr("How alike its swings were from takeaway to impact, 1 being the same: {what}", {
              what: alike.map((p) => `${dayOf(p.on)} ${number(Math.min(p.likeness!, 0.99), 2)}`).join(" · "),
            })}
            <span className="text-muted"> {tr("(coefficient of multiple correlation)")}</span>
          </p>
        ) : null}
      </div>
    </>
  );
}
