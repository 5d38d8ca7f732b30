import { useRef } from "react";

import type { Schemas } from "@/api/client";
import { useSize } from "@/shared/ui/useSize";

import { lengthDegrees, lengthSaid, lengthWay, median, rim, sector, shaftEnd, type Motion } from "./shafts";
import { tr } from "@/lib/language";

const WIDTH = 564;
const [STEEPEST, LOWEST] = [52, -16];

/** The shaft at the top of every shot of a club, as it is seen from in front: hands at the corner, level drawn through. What is
 * asked about is ink, the rest hollow; the middle of each is a thick line with its words; the own band of the bay is a sector. */
export function Shafts(props: {
  first: readonly Motion[];
  second: readonly Motion[];
  other: readonly Motion[];
  names: { first: string; second: string };
  band: Schemas["OwnBandOut"] | undefined;
  mirror: boolean;
}) {
  const { first, second, other, band, mirror } = props;
  const middles = [
    { of: median(first.map((m) => m.length_deg!)), name: props.names.first, hollow: true, n: first.length },
    { of: median(second.map((m) => m.length_deg!)), name: props.names.second, hollow: false, n: second.length },
  ];
  const side = mirror ? -1 : 1;
  const box = useRef<HTMLDivElement>(null);
  const [width, height] = useSize(box, [700, 400]);
  // words keep their size on a phone: there the shafts are shorter
  const scale = Math.min(width / WIDTH, height / 340);
  const text = scale < 0.98 ? 16 / scale : 16;
  const narrow = scale < 0.9;
  const R = narrow ? 200 : 280;
  return (
    <div ref={box} className="h-full w-full">
      <svg viewBox={mirror ? "-548 -250 564 340" : "-16 -250 564 340"} className="h-full w-full" role="img" aria-label={tr("Shaft at the top of each shot")}>
        {band ? (
          <path d={sector(band.low_deg, band.high_deg, R, mirror)} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.5}>
            <title>
              {tr("In the bay {lengthSaid} to {lengthSaid2}, the middle 80 % of {n} swings", {
                lengthSaid: lengthSaid(band.low_deg),
                lengthSaid2: lengthSaid(band.high_deg),
                n: band.n,
              })}
            </title>
          </path>
        ) : null}
        <path d={rim(LOWEST, STEEPEST, R, mirror)} fill="none" stroke="var(--hairline)" strokeWidth={1.5} />
        <line x1={0} y1={0} x2={side * (R + 24)} y2={0} stroke="var(--hairline)" strokeWidth={1.5} strokeDasharray="2 6" />
        <text x={side * (R - 4)} y={text + 6} fontSize={text} fill="var(--muted)" textAnchor={mirror ? "start" : "end"}>
          {tr("level")}
        </text>
        {[
          { shots: other, hollow: true, faint: true },
          { shots: first, hollow: true, faint: false },
          { shots: second, hollow: false, faint: false },
        ].map(({ shots, hollow, faint }, group) =>
          shots.map((m) => {
            const [x, y] = shaftEnd(m.length_deg!, R, mirror);
            return (
              <g key={`${group}-${m.number}`} opacity={faint ? 0.45 : 1}>
                <line x1={0.55 * x} y1={0.55 * y} x2={x} y2={y} stroke="var(--muted)" strokeWidth={1} />
                <circle cx={x} cy={y} r={6} fill={hollow ? "var(--paper)" : "var(--ink)"} stroke="var(--ink)" strokeWidth={2}>
                  <title>{`${m.hole ? tr("Hole {hole}: ", { hole: m.hole }) : ""}${lengthSaid(m.length_deg!)} ± ${Math.round(m.uncertainty_deg ?? 0)}°`}</title>
                </circle>
              </g>
            );
          }),
        )}
        {middles.map(({ of, name, hollow, n }, k) => {
          if (of === null) return null;
          const [x, y] = shaftEnd(of, R + 34, mirror);
          const apart = middles[0]!.of !== null && middles[1]!.of !== null && Math.abs(middles[0]!.of - middles[1]!.of) < 13;
          const push = apart ? (of >= middles[1 - k]!.of! ? -1.7 : 1.7) * text : 0;
          return (
            <g key={name}>
              <line x1={0} y1={0} x2={x} y2={y} stroke="var(--ink)" strokeWidth={hollow ? 6 : 5} strokeLinecap="round" />
              {hollow ? <line x1={0} y1={0} x2={x} y2={y} stroke="var(--paper)" strokeWidth={2.4} strokeLinecap="round" /> : null}
              <text x={x + side * 8} y={y + push} fontSize={text * 1.15} fontWeight={700} fill="var(--ink)" textAnchor={mirror ? "end" : "start"}>
                {narrow ? lengthDegrees(of) : lengthSaid(of)}
                {narrow ? <tspan fontSize={text} fontWeight={400} fill="var(--muted)">{` ${name}, ${n}`}</tspan> : null}
              </text>
              <text x={x + side * 8} y={y + push + 1.15 * text} fontSize={text} fill="var(--muted)" textAnchor={mirror ? "end" : "start"}>
                {narrow ? lengthWay(of) : `${name}, ${n}`}
              </text>
            </g>
          );
        })}
        <circle r={9} fill="var(--ink)" />
      </svg>
    </div>
  );
}
