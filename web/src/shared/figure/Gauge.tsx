import { Marks, type Mark } from "./Marks";

/** The wrist drawn as it is: the hand turned by the angle, the band as a sector in the plane of the movement.
 * Drawn for the lead arm pointing away from the player; a left-hander's is mirrored. */
interface Props {
  metric: string;
  value: number | null;
  low: number | null;
  high: number | null;
  out: boolean;
  mirror: boolean;
  marks?: readonly Mark[] | undefined;
}

const WRIST: [number, number] = [0, 0];

/** A place at `deg` counterclockwise from straight on. */
const round = (deg: number, r: number) => [r * Math.cos((deg * Math.PI) / 180), -r * Math.sin((deg * Math.PI) / 180)] as const;

function sector(low: number, high: number, inner: number, outer: number): string {
  const at = (deg: number, r: number) =>
    round(deg, r)
      .map((v) => v.toFixed(1))
      .join(",");
  const large = high - low > 180 ? 1 : 0;
  return `M${at(low, inner)} L${at(low, outer)} A${outer},${outer} 0 ${large} 0 ${at(high, outer)} L${at(high, inner)} A${inner},${inner} 0 ${large} 1 ${at(low, inner)} Z`;
}

function SideHand() {
  return (
    <g strokeLinejoin="round" strokeLinecap="round">
      <path d="M-4,-21 C16,-30 44,-36 68,-31 C86,-28 96,-19 97,-7 C98,7 92,19 82,24 C70,29 58,25 54,24 C40,26 16,25 -4,21 Z" />
      <path d="M60,24 C64,16 66,8 64,-2 M74,26 C80,16 81,6 79,-4 M46,24 C50,17 52,10 50,3" fill="none" strokeWidth={2.6} />
      <path d="M14,4 C26,-6 46,-8 62,-2 C68,2 66,10 58,11 C46,12 34,15 24,20" />
    </g>
  );
}

function TopHand() {
  return (
    <g strokeLinejoin="round" strokeLinecap="round">
      <path d="M-4,-20 C14,-26 40,-28 58,-26 C78,-28 92,-22 92,-14 C97,-8 97,0 92,4 C95,12 88,20 80,20 C74,26 62,26 56,24 C40,25 14,22 -4,20 Z" />
      <path d="M58,-26 C66,-20 78,-14 92,-14 M60,-8 L92,-2 M58,10 L86,12" fill="none" strokeWidth={2.6} />
      <path d="M10,-21 C22,-38 42,-46 58,-42 C64,-38 62,-31 54,-30 C46,-28 42,-27 38,-27" />
    </g>
  );
}

/** Hand against forearm, or the shaft against level. */
export function Gauge({ metric, value, low, high, out, mirror, marks }: Props) {
  const shaft = metric === "shaft_elevation";
  const roll = metric === "hand_roll";
  const top = metric === "lead_wrist_radial_deviation";
  const angle = value ?? 0;
  const ink = "var(--ink)";
  const stroke = out ? "var(--rust)" : ink;
  return (
    <g transform={`scale(${mirror ? -1 : 1},1)`}>
      {low !== null && high !== null ? (
        <path d={sector(low, high, shaft ? 40 : 104, shaft ? 128 : 138)} fill="var(--band)" stroke="var(--sea)" strokeWidth={2} />
      ) : null}
      {shaft || roll ? (
        <line x1={-120} x2={138} y1={0} y2={0} stroke="var(--hairline)" strokeWidth={2} />
      ) : (
        <line x1={100} x2={142} y1={0} y2={0} stroke="var(--sea)" strokeWidth={1.5} strokeDasharray="3 4" />
      )}
      {shaft ? (
        <g data-moves transform={`rotate(${-angle})`}>
          <line x1={-60} x2={118} y1={0} y2={0} stroke={ink} strokeWidth={6} strokeLinecap="round" />
          <path d="M118,-3 l16,0 l4,16 l-14,0 z" fill={ink} />
        </g>
      ) : roll ? (
        <g data-moves transform={`rotate(${angle})`} fill="var(--paper)" stroke={ink} strokeWidth={4.5}>
          <ellipse rx={34} ry={58} />
          <line x1={34} x2={70} y1={0} y2={0} />
          <path d="M-30,-24 C-52,-34 -60,-14 -46,-6" />
        </g>
      ) : (
        <>
          <path d="M-150,-25 L-8,-19 L-8,19 L-150,27 Z" fill="var(--paper)" stroke={ink} strokeWidth={4.5} strokeLinejoin="round" />
          <g data-moves transform={`rotate(${-angle})`} fill="var(--paper)" stroke={stroke} strokeWidth={4.5}>
            {top ? <TopHand /> : <SideHand />}
            <line x1={100} x2={142} y1={0} y2={0} strokeWidth={3} />
          </g>
          <circle cx={WRIST[0]} cy={WRIST[1]} r={10} fill="var(--paper)" stroke={ink} strokeWidth={4} />
        </>
      )}
      <Marks marks={marks} at={(v, ring) => round(v, (shaft ? 140 : 150) + 14 * ring)} />
    </g>
  );
}
