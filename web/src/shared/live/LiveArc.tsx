import type { ReactNode } from "react";

import { arcMap, arcPath, laneRadius, point } from "@/lib/arc";
import { tr } from "@/lib/language";

const CENTRE: [number, number] = [260, 256];
const RADII: [number, number] = [236, 208];
/** The live movement's own time: 0 at address, 1 at the top, 2 at impact, 3 at the finish. */
const MAP = arcMap(
  [
    { name: "address", time: 0 },
    { name: "top", time: 1 },
    { name: "impact", time: 2 },
    { name: "finish", time: 3 },
  ],
  0,
  3,
);

/** Where a phase lies on the arc. */
export const PHASE_SPANS: Record<string, [number, number]> = {
  way_back: [0, 1],
  to_shaft_level: [0, 0.4],
  at_top: [0.9, 1.05],
  transition: [1, 1.4],
  impact: [1.93, 2],
  always: [0, 2],
};

/** The arc with the bead where the player is now; `phase`: the stretch in which a band holds. */
export function LiveArc({ along, mirror, phase, out, children }: { along: number; mirror: boolean; phase?: string; out?: boolean; children?: ReactNode }) {
  const lane = MAP.place(along).lane;
  const [x, y] = point(...CENTRE, laneRadius(MAP, along, RADII, lane), MAP.place(along).angle, mirror);
  const path = (from: number, to: number) => arcPath(MAP, from, to, CENTRE, RADII, mirror);
  const span = phase ? PHASE_SPANS[phase] : undefined;
  return (
    <svg viewBox="0 0 520 520" className="h-full max-h-full min-h-0 w-full" role="img" aria-label={tr("Where the swing is now")}>
      <path d={path(0, 2)} fill="none" stroke="var(--ink)" strokeWidth={5} strokeLinecap="round" />
      <path d={path(2, 3)} fill="none" stroke="var(--hairline)" strokeWidth={5} strokeLinecap="round" />
      {span ? (
        <>
          <path d={path(...span)} fill="none" stroke="var(--sea)" strokeWidth={17} strokeLinecap="round" />
          <path d={path(...span)} fill="none" stroke="var(--band)" strokeWidth={12} strokeLinecap="round" />
        </>
      ) : null}
      <g transform="translate(266,262) scale(1.12)">{children}</g>
      <circle cx={x} cy={y} r={17} fill={out ? "var(--rust)" : "var(--paper)"} stroke="var(--ink)" strokeWidth={6} />
    </svg>
  );
}
