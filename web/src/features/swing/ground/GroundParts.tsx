import type { Schemas } from "@/api/client";
import type { Spot } from "@/lib/labels";
import { indexAt, type Traces } from "@/lib/traces";
import { tr } from "@/lib/language";

import { AT_IMPACT_S, HERE, MOMENT_WORDS } from "./groundLabels";
import type { Line, Panel, Picture } from "./groundPicture";
import { HALO } from "@/shared/charts/names";

interface Common {
  /** Where names stand; one without a place is left out. */
  spots: Map<string, Spot>;
  ground: Schemas["GroundOut"];
  judged: Schemas["JudgedOut"][];
  at: (name: string) => number | undefined;
  x: Picture["x"];
  y: Picture["y"];
}

export const returned = (judged: Schemas["JudgedOut"][]) => judged.find((m) => m.metric === "return_time" && m.moment === "top");

/** Where the pressure should be: at impact by both schools, on its way back, at address along the feet. */
export function Bands({ panel, ground, judged, at, x, y, bottom: BOTTOM, start, spots }: Common & { panel: Panel; bottom: number; start: number }) {
  const impact = at("impact");
  const top = at("top");
  const address = at("address");
  const back = returned(judged);
  const began = ground.moments.find((m) => m.name === "return")?.time_s;
  return (
    <>
      {panel === "between" && impact !== undefined
        ? ground.bands.map((b) => (
            <g key={b.school}>
              <rect
                x={x(impact - AT_IMPACT_S)}
                width={x(impact + AT_IMPACT_S) - x(impact - AT_IMPACT_S)}
                y={y(b.high)}
                height={y(b.low) - y(b.high)}
                fill={b.chosen ? "var(--band)" : "none"}
                stroke="var(--sea)"
                strokeWidth={b.chosen ? 1.8 : 1.4}
                strokeDasharray={b.chosen ? undefined : "3 4"}
              />
              <Name spot={spots.get(tr("school {school}", { school: b.school }))} bold={b.chosen}>
                {b.label.toLowerCase()}
              </Name>
            </g>
          ))
        : null}
      {panel === "between" && back?.band?.low != null && back.band.high != null && top !== undefined ? (
        <g>
          <rect
            x={x(top + back.band.low)}
            width={Math.max(4, x(top + back.band.high) - x(top + back.band.low))}
            y={BOTTOM - 5}
            height={10}
            fill="var(--band)"
            stroke="var(--sea)"
            strokeWidth={1.5}
          />
          {began !== undefined && began > top + back.band.high ? (
            <g strokeLinecap="round" data-late="return">
              <line x1={x(top + back.band.high)} x2={x(began)} y1={BOTTOM} y2={BOTTOM} stroke="var(--rust)" strokeWidth={9} />
              <line x1={x(top + back.band.high)} x2={x(began)} y1={BOTTOM} y2={BOTTOM} stroke="var(--paper)" strokeWidth={3.4} />
            </g>
          ) : null}
          <Name spot={spots.get(HERE)}>{HERE}</Name>
        </g>
      ) : null}
      {panel === "along" && address !== undefined ? (
        <rect
          x={x(Math.max(start, address - 0.1))}
          width={Math.max(18, x(at("takeaway") ?? address + 0.1) - x(Math.max(start, address - 0.1)))}
          y={y(60)}
          height={y(40) - y(60)}
          fill="var(--band)"
          stroke="var(--sea)"
          strokeWidth={1.5}
        />
      ) : null}
    </>
  );
}

function Name({ spot, bold, ink, children }: { spot: Spot | undefined; bold?: boolean; ink?: boolean; children: string }) {
  if (!spot) return null;
  return (
    <text x={spot.x} y={spot.y} textAnchor={spot.anchor} fontSize={16} fill={ink ? "var(--ink)" : "var(--muted)"} fontWeight={bold ? 700 : 400} {...HALO}>
      {children}
    </text>
  );
}

/** The pressure's own instants on its course. */
export function Moments({ ground, traces, judged, x, y, spots }: Omit<Common, "at"> & { traces: Traces }) {
  const late = /high/.test(returned(judged)?.verdict ?? "");
  return (
    <>
      {ground.moments
        .filter((m) => m.name === "return" || m.name === "even")
        .map((m) => {
          const k = indexAt(traces.time, m.time_s);
          const v = traces.columns["stance_position"]?.[k];
          if (v === undefined || !Number.isFinite(v)) return null;
          const off = m.name === "return" && late;
          return (
            <g key={m.name}>
              {off ? (
                <path d={`M${x(m.time_s)},${y(v) - 9} l8,14 h-16 z`} fill="var(--rust)" />
              ) : (
                <circle cx={x(m.time_s)} cy={y(v)} r={6} fill="var(--paper)" stroke="var(--ink)" strokeWidth={2.6} />
              )}
              <Name spot={spots.get(m.name)} ink>
                {MOMENT_WORDS[m.name]!}
              </Name>
            </g>
          );
        })}
    </>
  );
}

/** Which line is which. */
export function Legend({ lines, width }: { lines: Line[]; width: number }) {
  return (
    <g fontSize={16} fill="var(--muted)">
      {lines.map((l, k) => (
        <g key={l.id} transform={`translate(${width - 150 * (lines.length - k)},10)`}>
          <line x1={0} x2={30} y1={0} y2={0} stroke="var(--ink)" strokeWidth={k === 0 ? 3.2 : 2.4} strokeDasharray={l.dash} />
          <text x={36} y={5}>
            {l.name}
          </text>
        </g>
      ))}
    </g>
  );
}
