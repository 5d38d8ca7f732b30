import { bounds, cap, jointOf, moved, person, seen, type Eye, type Flat, type Place, type Pose } from "@/lib/pictures";
import { PICTURES } from "@/lib/generated/pictures";
import { MeasureGauge } from "@/shared/figure/BodyGauge";
import { Gauge } from "@/shared/figure/Gauge";
import POSES from "@/shared/figure/poses.json";

import { THINGS, WITHOUT_CLUB } from "./things";

type Poses = Record<string, Pose>;
const poses = POSES as unknown as Poses;
const address = poses.address!;

interface Arrow {
  at: string;
  to: string;
}
interface FigurePicture {
  shows: "figure";
  pose: string;
  eye: Eye;
  things: readonly string[];
  arrows: readonly Arrow[];
}
interface HandPicture {
  shows: "hand";
  drawing: "cup" | "hinge";
  value: number;
  low: number | null;
  high: number | null;
  thing: string;
}
interface FeetPicture {
  shows: "feet";
  value: number;
  low: number;
  high: number;
}
interface BeatPicture {
  shows: "beat";
  beats: number;
}
interface PutterPicture {
  shows: "putter";
  eye: "above" | "front";
  thing: "gate" | "rail" | "ladder" | "button" | "peg";
}
export type Picture = { label: string } & (FigurePicture | HandPicture | FeetPicture | BeatPicture | PutterPicture);
export const pictures = PICTURES as unknown as Record<string, Picture>;

/** What a drill looks like: the person, the hand or the feet in the drill's place. Nothing for a name without a picture. */
export function DrillPicture({ name, mirror, className }: { name: string; mirror: boolean; className?: string }) {
  const picture = pictures[name];
  if (!picture) return null;
  const { box, drawn } = drawing(picture);
  return (
    <svg xmlns="http://www.w3.org/2000/svg" viewBox={box.join(" ")} className={className} role="img" aria-label={picture.label}>
      <g transform={mirror ? `translate(${2 * box[0] + box[2]},0) scale(-1,1)` : undefined}>{drawn}</g>
    </svg>
  );
}

type Box = [number, number, number, number];

function drawing(picture: Picture): { box: Box; drawn: React.ReactNode } {
  switch (picture.shows) {
    case "hand":
      return { box: [-165, -110, 330, 220], drawn: <Hand {...picture} /> };
    case "feet":
      return {
        box: [-160, -125, 320, 250],
        drawn: <MeasureGauge metric="lead_share" drawing="feet" value={picture.value} low={picture.low} high={picture.high} out={false} mirror={false} />,
      };
    case "beat":
      return { box: [-130, -130, 260, 260], drawn: <Beat beats={picture.beats} /> };
    case "putter":
      return { box: [-170, -125, 340, 250], drawn: picture.eye === "above" ? <PutterHead thing={picture.thing} /> : <WholePutter thing={picture.thing} /> };
    case "figure":
      return figure(picture);
  }
}

function Hand({ drawing: kind, value, low, high, thing }: HandPicture) {
  return (
    <>
      <Gauge metric={kind === "cup" ? "lead_wrist_extension" : "lead_wrist_radial_deviation"} value={value} low={low} high={high} out={false} mirror={false} />
      {thing === "peg" ? <path d="M-14,-24 L-14,-86 M-24,-86 L-4,-86" {...thingLook(6)} /> : null}
      {thing === "handle" ? (
        <g transform={`rotate(${-value})`}>
          <path d="M62,-96 L70,96" {...thingLook(15)} strokeOpacity={0.85} />
        </g>
      ) : null}
    </>
  );
}

const thingLook = (width: number) => ({ fill: "none", stroke: "var(--sea)", strokeWidth: width, strokeLinecap: "round", strokeLinejoin: "round" }) as const;

const inkLook = (width: number) => ({ fill: "none", stroke: "var(--ink)", strokeWidth: width, strokeLinecap: "round", strokeLinejoin: "round" }) as const;

/** The head at the ball from above, the target to the right, the player below; what the drill needs beside it. */
function PutterHead({ thing }: { thing: PutterPicture["thing"] }) {
  return (
    <>
      <path d="M60,0 L150,0 M132,-14 L150,0 L132,14" {...inkLook(4)} />
      {thing === "rail" ? <path d="M-155,-78 L155,-78" {...thingLook(10)} /> : null}
      {thing === "ladder" ? [40, 68, 96, 124, 152].map((x) => <path key={x} d={`M${x},34 L${x},58`} {...thingLook(9)} />) : null}
      <path d="M-22,20 L-40,112" {...inkLook(9)} />
      <rect x={-40} y={-52} width={36} height={104} rx={9} fill="var(--paper)" stroke="var(--ink)" strokeWidth={6} />
      <path d="M-36,0 L-8,0" {...inkLook(4)} />
      <circle cx={20} cy={0} r={19} fill="var(--paper)" stroke="var(--ink)" strokeWidth={6} />
      {thing === "gate" ? [-78, 78].map((y) => <circle key={y} cx={-22} cy={y} r={11} fill="var(--sea)" />) : null}
    </>
  );
}

/** The whole putter at the ball from in front, the ground beneath; what the drill needs beside it. */
function WholePutter({ thing }: { thing: PutterPicture["thing"] }) {
  return (
    <>
      <path d="M-155,108 L155,108" stroke="var(--hairline)" strokeWidth={5} />
      <path d="M-34,-52 L-92,88" stroke="var(--hairline)" strokeWidth={7} strokeLinecap="round" />
      <path d="M0,-46 L0,96" {...inkLook(8)} />
      <path d="M0,-46 L0,6" {...inkLook(17)} />
      <rect x={-27} y={92} width={54} height={14} rx={5} fill="var(--ink)" />
      <circle cx={46} cy={92} r={14} fill="var(--paper)" stroke="var(--ink)" strokeWidth={6} />
      {thing === "button" ? (
        <>
          <path d="M0,-58 L0,-88" {...thingLook(5)} strokeDasharray="3 11" />
          <circle cx={0} cy={-104} r={13} fill="none" stroke="var(--sea)" strokeWidth={7} />
        </>
      ) : (
        <>
          <path d="M-34,-44 L-34,80" {...thingLook(5)} strokeDasharray="3 11" />
          <path d="M-34,88 L-34,108 M-44,86 L-24,86" {...thingLook(8)} />
        </>
      )}
    </>
  );
}

const BEAT_R = 96;

/** Beats at even steps along the arc going back, one at the strike. */
function Beat({ beats }: { beats: number }) {
  const at = (deg: number, r: number) => [-r * Math.sin((deg * Math.PI) / 180), r * Math.cos((deg * Math.PI) / 180)] as const;
  const TOP = 225;
  const path = (r: number) =>
    Array.from({ length: 46 }, (_, k) =>
      at((TOP * k) / 45, r)
        .map((v) => v.toFixed(1))
        .join(","),
    ).join(" ");
  return (
    <>
      <polyline points={path(BEAT_R)} fill="none" stroke="var(--ink)" strokeWidth={5} strokeLinecap="round" />
      <polyline points={path(BEAT_R - 20)} fill="none" stroke="var(--ink)" strokeWidth={3} strokeLinecap="round" />
      {Array.from({ length: beats }, (_, k) => {
        const [x, y] = at((TOP * (k + 1)) / beats, BEAT_R);
        return <circle key={k} cx={x} cy={y} r={12} fill="var(--paper)" stroke="var(--ink)" strokeWidth={5} />;
      })}
      <circle cx={0} cy={BEAT_R - 20} r={13} fill="var(--ink)" />
    </>
  );
}

const LINE = 15;
const MARGIN = 70;
const GROUND: Record<Eye, boolean> = { front: true, line: true, above: false };
const WAYS: Record<string, Place> = { target: [0, 1, 0], away: [0, -1, 0], ball: [1, 0, 0], back: [-1, 0, 0], up: [0, 0, 1], down: [0, 0, -1] };
const ARROW = { from: 130, to: 420, head: 74 };
const BALL = 30;

const to = ([x, y]: Flat) => `${Math.round(x)},${Math.round(-y)}`;
const closed = (points: readonly Flat[]) => `M${points.map(to).join("L")}Z`;
const open = (points: readonly Flat[]) => `M${points.map(to).join("L")}`;

function figure(picture: FigurePicture): { box: Box; drawn: React.ReactNode } {
  const pose = poses[picture.pose]!;
  const { eye } = picture;
  const flat = seen[eye];
  const things = picture.things.map((t) => THINGS[t]!(pose, address));
  const club = picture.things.every((t) => !WITHOUT_CLUB.has(t));
  const outlines = person(pose, eye);
  const peak = cap(pose, eye);
  const arrows = picture.arrows.map(({ at, to: way }) => {
    const from = jointOf(pose, at);
    return [moved(from, WAYS[way]!, ARROW.from), moved(from, WAYS[way]!, ARROW.to)].map(flat) as [Flat, Flat];
  });
  const all = [
    ...outlines.flatMap((o) => o.paths.flat()),
    ...peak.flat(),
    ...things.flatMap((t) => [...t.lines.flat(), ...t.balls.map((b) => b.at)]).map(flat),
    ...arrows.flat(),
    ...(club ? [flat(pose.club_head!)] : []),
    ...(eye === "above" ? [] : ([flat([0, 0, 0])] as Flat[])),
  ];
  const { left, bottom, width, height } = bounds(all, MARGIN);
  return {
    box: [left, -(bottom + height), width, height].map(Math.round) as Box,
    drawn: (
      <>
        {GROUND[eye] ? (
          <path
            d={open([
              [left + 20, 0],
              [left + width - 20, 0],
            ])}
            stroke="var(--hairline)"
            strokeWidth={10}
          />
        ) : null}
        {things
          .filter((t) => !t.over)
          .map((t, k) => (
            <ThingShape key={k} thing={t} flat={flat} />
          ))}
        <Ball flat={flat} />
        {club && eye !== "front" ? <Club pose={pose} flat={flat} /> : null}
        {outlines.map(({ name, paths }, k) => (
          <g key={k} strokeLinejoin="round">
            {paths.map((p, i) => (
              <path key={i} d={closed(p)} fill="var(--ink)" stroke="var(--ink)" strokeWidth={2 * LINE} />
            ))}
            {paths.map((p, i) => (
              <path key={i} d={closed(p)} fill={FILLS[name] ?? "var(--paper)"} />
            ))}
            {name === "head" ? peak.map((p, i) => <path key={`cap${i}`} d={closed(p)} fill="var(--ink)" />) : null}
          </g>
        ))}
        {club && eye === "front" ? <Club pose={pose} flat={flat} /> : null}
        {things
          .filter((t) => t.over)
          .map((t, k) => (
            <ThingShape key={k} thing={t} flat={flat} />
          ))}
        {arrows.map(([from, tip], k) => (
          <ArrowShape key={k} from={from} tip={tip} />
        ))}
      </>
    ),
  };
}

const FILLS: Record<string, string> = { trousers: "var(--hairline)", shoe: "var(--ink)" };

function Club({ pose, flat }: { pose: Pose; flat: (p: Place) => Flat }) {
  return (
    <g fill="none" stroke="var(--ink)" strokeLinecap="round">
      <path d={open([flat(pose.grip_end!), flat(pose.club_head!)])} strokeWidth={20} />
      <circle cx={flat(pose.club_head!)[0]} cy={-flat(pose.club_head!)[1]} r={34} fill="var(--ink)" stroke="none" />
    </g>
  );
}

function Ball({ flat }: { flat: (p: Place) => Flat }) {
  const [x, y, z] = address.club_head!;
  const [px, py] = flat([x + 10, y + 40, z]);
  return <circle cx={Math.round(px)} cy={Math.round(-py)} r={BALL} fill="var(--paper)" stroke="var(--ink)" strokeWidth={LINE} />;
}

function ThingShape({ thing, flat }: { thing: { lines: Place[][]; balls: { at: Place; r: number }[] }; flat: (p: Place) => Flat }) {
  return (
    <>
      {thing.lines.map((l, k) => (
        <path key={k} d={open(l.map(flat))} {...thingLook(26)} />
      ))}
      {thing.balls.map(({ at, r }, k) => (
        <circle key={k} cx={Math.round(flat(at)[0])} cy={Math.round(-flat(at)[1])} r={r} fill="var(--band)" stroke="var(--sea)" strokeWidth={20} />
      ))}
    </>
  );
}

function ArrowShape({ from, tip }: { from: Flat; tip: Flat }) {
  const [dx, dy] = [tip[0] - from[0], tip[1] - from[1]];
  const length = Math.hypot(dx, dy) || 1;
  const [ux, uy] = [dx / length, dy / length];
  const barb = (side: number): Flat => [tip[0] - ARROW.head * (ux + 0.8 * side * -uy), tip[1] - ARROW.head * (uy + 0.8 * side * ux)];
  return (
    <g fill="none" strokeLinecap="round" strokeLinejoin="round">
      <path d={`${open([from, tip])} ${open([barb(1), tip, barb(-1)])}`} stroke="var(--paper)" strokeWidth={62} />
      <path d={`${open([from, tip])} ${open([barb(1), tip, barb(-1)])}`} stroke="var(--sea)" strokeWidth={30} />
    </g>
  );
}
