import { SOLE } from "@/lib/mat";
import type { Drawing } from "@/lib/measures";

import { Gauge } from "./Gauge";
import { Marks, type Mark } from "./Marks";

interface Props {
  metric: string;
  drawing: Drawing;
  value: number | null;
  low: number | null;
  high: number | null;
  out: boolean;
  mirror: boolean;
  /** Values that stand beside the band. */
  marks?: readonly Mark[] | undefined;
}

interface Shape {
  low: number | null;
  high: number | null;
  out: boolean;
  marks?: readonly Mark[] | undefined;
}

const D = Math.PI / 180;
/** A place at `deg` clockwise from straight up. */
const above = (deg: number, r: number) => [r * Math.sin(deg * D), -r * Math.cos(deg * D)] as const;
const up = (deg: number, r: number): string =>
  above(deg, r)
    .map((v) => v.toFixed(1))
    .join(",");

function sector(low: number, high: number, inner: number, outer: number): string {
  const large = high - low > 180 ? 1 : 0;
  return `M${up(low, inner)} L${up(low, outer)} A${outer},${outer} 0 ${large} 1 ${up(high, outer)} L${up(high, inner)} A${inner},${inner} 0 ${large} 0 ${up(low, inner)} Z`;
}

const bandLook = { fill: "var(--band)", stroke: "var(--sea)", strokeWidth: 2 };

/** Seen from above, ball up: the segment turned, the band as a sector in front of it. */
function Turned({ value, low, high, out, head, marks }: Shape & { value: number; head: boolean }) {
  return (
    <>
      {low !== null && high !== null ? <path d={sector(low, high, 92, 128)} {...bandLook} /> : null}
      <line x1={0} x2={0} y1={-86} y2={-132} stroke="var(--sea)" strokeWidth={1.5} strokeDasharray="3 4" />
      <g data-moves transform={`rotate(${value})`} fill="var(--paper)" stroke={out ? "var(--rust)" : "var(--ink)"} strokeWidth={4.5} strokeLinejoin="round">
        <path d="M-112,-8 C-112,-34 -60,-42 0,-42 C60,-42 112,-34 112,-8 C112,22 64,34 0,34 C-64,34 -112,22 -112,-8 Z" />
        {head ? <ellipse cx={0} cy={-10} rx={27} ry={33} /> : <path d="M-62,-30 C-40,-14 -20,-10 0,-10 C20,-10 40,-14 62,-30" fill="none" strokeWidth={3} />}
        <path d={head ? "M-9,-40 L0,-60 L9,-40" : "M-9,-42 L0,-62 L9,-42"} />
      </g>
      <Marks marks={marks} at={(v, ring) => above(v, 140 + 14 * ring)} />
    </>
  );
}

/** A spine tilted as seen from the side the movement lies in; zero is `zero` degrees from upright. */
function Tilted({ value, low, high, out, marks, lean }: Shape & { value: number; lean: (v: number) => number }) {
  const bounds = low !== null && high !== null ? [lean(low), lean(high)].sort((a, b) => a - b) : null;
  return (
    <g transform="translate(-20,84)">
      {bounds ? <path d={sector(bounds[0]!, bounds[1]!, 128, 168)} {...bandLook} /> : null}
      <line x1={-70} x2={120} y1={0} y2={0} stroke="var(--hairline)" strokeWidth={2} />
      <line x1={0} x2={0} y1={0} y2={-172} stroke="var(--sea)" strokeWidth={1.5} strokeDasharray="3 4" />
      <g
        data-moves
        transform={`rotate(${lean(value)})`}
        stroke={out ? "var(--rust)" : "var(--ink)"}
        fill="var(--paper)"
        strokeWidth={4.5}
        strokeLinecap="round"
        strokeLinejoin="round"
      >
        <path d="M-24,6 C-30,-30 -30,-86 -20,-112 C-12,-122 14,-122 22,-112 C32,-86 30,-30 24,6 Z" />
        <line x1={0} x2={0} y1={0} y2={-112} strokeWidth={3} />
        <circle cx={4} cy={-146} r={22} />
      </g>
      <Marks marks={marks} at={(v, ring) => above(lean(v), 180 + 14 * ring)} />
    </g>
  );
}

/** How far something went: a rule in centimetres with the band on it. */
function Moved({ value, low, high, out, marks }: Shape & { value: number }) {
  const far = Math.max(12, ...[value, low ?? 0, high ?? 0, ...(marks ?? []).map((m) => m.value)].map((v) => Math.abs(v) + 3));
  const x = (v: number) => (140 * v) / far;
  const ticks = Array.from({ length: 2 * Math.floor(far / 5) + 1 }, (_, k) => 5 * (k - Math.floor(far / 5)));
  return (
    <g transform="translate(0,20)">
      {low !== null && high !== null ? <rect x={x(low)} y={-34} width={Math.max(3, x(high) - x(low))} height={54} {...bandLook} /> : null}
      <line x1={-150} x2={150} y1={20} y2={20} stroke="var(--ink)" strokeWidth={3} />
      {ticks.map((t) => (
        <line key={t} x1={x(t)} x2={x(t)} y1={20} y2={t === 0 ? 42 : 32} stroke="var(--ink)" strokeWidth={t === 0 ? 4 : 2} />
      ))}
      <g transform={`translate(${x(value)},0)`} stroke={out ? "var(--rust)" : "var(--ink)"} fill="var(--paper)" strokeWidth={4.5}>
        <circle cx={0} cy={-14} r={24} />
        <line x1={0} x2={0} y1={10} y2={20} />
      </g>
      <circle cx={0} cy={-14} r={24} fill="none" stroke="var(--muted)" strokeWidth={1.5} strokeDasharray="3 4" />
      <Marks marks={marks} at={(v, ring) => [x(v), -48 - 14 * ring]} />
    </g>
  );
}

/** Two links and the angle between them, 0 straight. */
function Bent({ value, low, high, out, marks }: Shape & { value: number }) {
  const stroke = out ? "var(--rust)" : "var(--ink)";
  return (
    <g transform="translate(-20,-8)">
      {low !== null && high !== null ? <path d={sector(180 - high, 180 - low, 92, 124)} {...bandLook} /> : null}
      <line x1={0} x2={0} y1={0} y2={118} stroke="var(--sea)" strokeWidth={1.5} strokeDasharray="3 4" />
      <path d="M-27,-118 L27,-118 L20,0 L-20,0 Z" fill="var(--paper)" stroke="var(--ink)" strokeWidth={4.5} strokeLinejoin="round" />
      <g data-moves transform={`rotate(${-value})`}>
        <path d="M-19,0 L19,0 L14,112 L-14,112 Z" fill="var(--paper)" stroke={stroke} strokeWidth={4.5} strokeLinejoin="round" />
      </g>
      <circle r={24} fill="var(--paper)" stroke="var(--ink)" strokeWidth={4.5} />
      <Marks marks={marks} at={(v, ring) => above(180 - v, 136 + 14 * ring)} />
    </g>
  );
}

/** The player's own soles from above, toes up, the lead foot on the left: where the pressure is between or along them. */
function Feet({ metric, value, low, high, out, marks }: Shape & { metric: string; value: number }) {
  const soles = { lead: -82, trail: 82 };
  const sole = (at: number, sign: number) => (
    <path transform={`translate(${at},6) rotate(${14 * sign}) scale(${sign},1)`} d={SOLE} fill="var(--paper)" stroke="var(--ink)" strokeWidth={4.5} />
  );
  const along = metric.endsWith("heel_toe");
  const own = metric.startsWith("trail") ? soles.trail : soles.lead;
  const x = (v: number) => soles.trail + ((soles.lead - soles.trail) * v) / 100;
  const y = (v: number) => 110 - 2.2 * v;
  return (
    <g>
      {sole(soles.lead, -1)}
      {sole(soles.trail, 1)}
      {low !== null && high !== null && !along ? <rect x={x(high)} width={Math.max(3, x(low) - x(high))} y={-32} height={64} {...bandLook} /> : null}
      {low !== null && high !== null && along ? <rect x={own - 15} width={30} y={y(high)} height={Math.max(3, y(low) - y(high))} {...bandLook} /> : null}
      {along ? null : <line x1={soles.lead} x2={soles.trail} y1={0} y2={0} stroke="var(--ink)" strokeWidth={2} strokeDasharray="3 5" />}
      <circle
        data-moves
        cx={along ? own : x(value)}
        cy={along ? y(value) : 0}
        r={17}
        fill="var(--ink)"
        stroke={out ? "var(--rust)" : "var(--paper)"}
        strokeWidth={out ? 7 : 4}
      />
      <Marks marks={marks} at={(v, ring) => (along ? [own + 24 + 14 * ring, y(v)] : [x(v), -26 - 14 * ring])} />
    </g>
  );
}

/** How far a spine leans to the right of its drawing, deg. */
function leanOf(metric: string): (v: number) => number {
  if (metric === "spine_lean" || metric.endsWith("side_bend")) return (v) => -v; // seen from in front: away from the target is to the left
  return metric === "posture_from_ground" ? (v) => 90 - v : (v) => v;
}

/** A measure drawn as what it is, in the plane of its movement. */
export function MeasureGauge({ metric, drawing, value, low, high, out, mirror, marks }: Props) {
  if (drawing === "cup" || drawing === "hinge" || drawing === "roll" || drawing === "shaft")
    return <Gauge metric={metric} value={value} low={low} high={high} out={out} mirror={mirror} marks={marks} />;
  const now = value ?? 0;
  const shape = { low, high, out, marks };
  return (
    <g transform={`scale(${mirror ? -1 : 1},1)`}>
      {drawing === "turn" ? <Turned value={now} head={metric !== "pelvis_turn"} {...shape} /> : null}
      {drawing === "tilt" ? <Tilted value={now} lean={leanOf(metric)} {...shape} /> : null}
      {drawing === "distance" ? (
        <g transform={metric.endsWith("lift") ? "rotate(-90)" : ""}>
          <Moved value={now} {...shape} />
        </g>
      ) : null}
      {drawing === "feet" ? <Feet metric={metric} value={now} {...shape} /> : null}
      {drawing === "joint" ? <Bent value={now} {...shape} /> : null}
    </g>
  );
}
