import { useMemo, useRef, useState, useSyncExternalStore, type PointerEvent } from "react";

import type { Putt } from "@/api/putting";
import type { Cursor } from "@/lib/cursor";
import { pathOf } from "@/lib/putts";
import { valueAt, type Traces } from "@/lib/traces";
import { Choice } from "@/shared/ui/controls";
import { useSize } from "@/shared/ui/useSize";

import { Loupe } from "./Loupe";
import { EYES, type Eye, type PointNames } from "./eyes";
import { tr } from "@/lib/language";

interface Props {
  putt: Putt;
  course: Traces;
  cursor: Cursor;
  mirror: boolean;
  names: PointNames;
}

/** The putter and its free pendulum from three sides, true to scale; beneath, how far sweet spot and grip end are off it, enlarged. */
export function Pendulum({ putt, course, cursor, mirror, names }: Props) {
  const [chosenEye, setEye] = useState<Eye["id"]>("front");
  const { takeaway = course.time[0]!, impact = course.time.at(-1)! } = putt.at_s;
  const [from, to] = [takeaway, Math.min(impact + 0.25, course.time.at(-1)!)];
  const scrub = (e: PointerEvent<Element>) => {
    if (e.type !== "pointerdown" && e.buttons === 0) return;
    const box = e.currentTarget.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (e.clientX - box.left) / box.width));
    cursor.set(from + share * (to - from));
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="hidden flex-none portrait:block">
        <Choice label={tr("Seen")} value={chosenEye} onChange={setEye} options={EYES.map((e) => ({ id: e.id, label: e.short }))} />
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-3 gap-x-4 portrait:grid-cols-1" onPointerDown={scrub} onPointerMove={scrub}>
        {EYES.map((eye) => (
          <figure key={eye.id} className={`flex min-h-0 touch-none flex-col ${eye.id === chosenEye ? "" : "portrait:hidden"}`}>
            <FromEye eye={eye} putt={putt} course={course} cursor={cursor} mirror={mirror} names={names} from={from} to={to} />
            <div className="grid h-[150px] flex-none grid-cols-2 gap-x-1">
              <Loupe eye={eye} which="head" name={names.head} putt={putt} course={course} cursor={cursor} mirror={mirror} />
              <Loupe eye={eye} which="grip" name={names.grip} putt={putt} course={course} cursor={cursor} mirror={mirror} />
            </div>
          </figure>
        ))}
      </div>
      <TimeLine putt={putt} cursor={cursor} from={from} to={to} onScrub={scrub} />
    </div>
  );
}

interface EyeProps extends Props {
  eye: Eye;
  from: number;
  to: number;
}

const WHAT = ["head", "grip"] as const;

function FromEye({ eye, course, cursor, mirror, names, from, to }: EyeProps) {
  const frame = useRef<HTMLDivElement>(null);
  const [W, H] = useSize(frame, [390, 240]);
  const drawn = useMemo(() => {
    const side = mirror ? -1 : 1;
    const across = (name: string) => Array.from(course.columns[`${name}_${eye.across}`] ?? [], (v) => side * v);
    const up = (name: string) => Array.from(course.columns[`${name}_${eye.up}`] ?? []);
    const inside = (k: number) => course.time[k]! >= from && course.time[k]! <= to;
    const all = (pick: (name: string) => number[]) =>
      WHAT.flatMap((w) => [...pick(w), ...pick(`free_${w}`)].filter((v, k) => Number.isFinite(v) && inside(k % course.n)));
    const [xs, ys] = [all(across), all(up)];
    const [x0, x1, y0, y1] = [Math.min(...xs, -6), Math.max(...xs, 6), Math.min(...ys, -4), Math.max(...ys, 4)];
    const per = Math.min((W - 60) / (x1 - x0), (H - 30) / (y1 - y0));
    const x = (v: number) => W / 2 + (v - (x0 + x1) / 2) * per;
    const y = (v: number) => H / 2 - (v - (y0 + y1) / 2) * per;
    const line = (name: string) =>
      pathOf(
        across(name).map((v, k) => (inside(k) ? v : NaN)),
        up(name),
        x,
        y,
      );
    return { x, y, side, lines: { head: line("head"), grip: line("grip"), freeHead: line("free_head"), freeGrip: line("free_grip") } };
  }, [eye, course, mirror, from, to, W, H]);
  return (
    <div ref={frame} className="relative min-h-0 flex-1">
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="absolute inset-0 h-full w-full select-none"
        role="img"
        aria-label={tr("The putter {name}", { name: eye.name.toLowerCase() })}
      >
        <circle cx={drawn.x(0)} cy={drawn.y(0)} r={5} fill="none" stroke="var(--muted)" strokeWidth={1.6} />
        <path d={drawn.lines.freeHead} fill="none" stroke="var(--sea)" strokeWidth={5} strokeOpacity={0.4} />
        <path d={drawn.lines.freeGrip} fill="none" stroke="var(--sea)" strokeWidth={5} strokeOpacity={0.4} />
        <path d={drawn.lines.head} fill="none" stroke="var(--ink)" strokeWidth={2.4} />
        <path d={drawn.lines.grip} fill="none" stroke="var(--ink)" strokeWidth={2.4} strokeDasharray="8 5" />
        <Putter course={course} cursor={cursor} eye={eye} drawn={drawn} width={W} names={names} />
        <text y={18} fontSize={17} fill="var(--muted)" className="portrait:hidden">
          {eye.name}
        </text>
      </svg>
    </div>
  );
}

interface PutterProps {
  course: Traces;
  cursor: Cursor;
  eye: Eye;
  drawn: { x: (v: number) => number; y: (v: number) => number; side: number };
  width: number;
  names: PointNames;
}

/** Where the putter is now, and where the free pendulum would have it. */
function Putter({ course, cursor, eye, drawn, width, names }: PutterProps) {
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const at = (name: string): [number, number] | null => {
    const [a, u] = [valueAt(course, `${name}_${eye.across}`, now), valueAt(course, `${name}_${eye.up}`, now)];
    return a === null || u === null ? null : [drawn.x(drawn.side * a), drawn.y(u)];
  };
  const [head, grip, freeHead, freeGrip] = [at("head"), at("grip"), at("free_head"), at("free_grip")];
  const beside = (p: [number, number]) => (p[0] > width * 0.6 ? { x: p[0] - 12, textAnchor: "end" as const } : { x: p[0] + 12, textAnchor: "start" as const });
  return (
    <g>
      {freeHead && freeGrip ? (
        <line
          x1={freeGrip[0]}
          y1={freeGrip[1]}
          x2={freeHead[0]}
          y2={freeHead[1]}
          stroke="var(--sea)"
          strokeWidth={2.4}
          strokeDasharray="2 5"
          strokeLinecap="round"
        />
      ) : null}
      {head && grip ? <line x1={grip[0]} y1={grip[1]} x2={head[0]} y2={head[1]} stroke="var(--ink)" strokeWidth={3.4} /> : null}
      {head ? (
        <g>
          <circle cx={head[0]} cy={head[1]} r={6} fill="var(--ink)" />
          <text
            {...beside(head)}
            y={head[1] + (eye.id === "above" ? 22 : -8)}
            fontSize={17}
            fill="var(--ink)"
            style={{ paintOrder: "stroke" }}
            stroke="var(--paper)"
            strokeWidth={4}
          >
            {names.head}
          </text>
        </g>
      ) : null}
      {grip ? (
        <g>
          <circle cx={grip[0]} cy={grip[1]} r={6} fill="var(--paper)" stroke="var(--ink)" strokeWidth={2.6} />
          <text {...beside(grip)} y={grip[1] + 6} fontSize={17} fill="var(--ink)" style={{ paintOrder: "stroke" }} stroke="var(--paper)" strokeWidth={4}>
            {names.grip}
          </text>
        </g>
      ) : null}
    </g>
  );
}

const PHASES: Record<Putt["phases"][number]["phase"], string> = {
  backstroke: tr("backstroke"),
  transition: tr("transition"),
  throughstroke: tr("through"),
  impact: tr("impact"),
  after: tr("after"),
};

const DARK: ReadonlySet<string> = new Set(["transition", "impact"]);

/** Time from takeaway past the ball, with its phases; drag anywhere. */
function TimeLine({ putt, cursor, from, to, onScrub }: { putt: Putt; cursor: Cursor; from: number; to: number; onScrub: (e: PointerEvent<Element>) => void }) {
  const share = (t: number) => `${(100 * (t - from)) / (to - from)}%`;
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const here = putt.phases.find((p) => now >= p.start_s && now < p.end_s)?.phase;
  return (
    <div
      className="relative h-14 w-full flex-none cursor-ew-resize touch-none text-lg text-muted select-none"
      role="slider"
      tabIndex={0}
      aria-label={tr("Time")}
      aria-valuemin={from}
      aria-valuemax={to}
      aria-valuenow={now}
      aria-valuetext={here ? PHASES[here] : undefined}
      onPointerDown={onScrub}
      onPointerMove={onScrub}
    >
      {putt.phases.map(({ phase, start_s, end_s }) => {
        const [start, end] = [Math.max(start_s, from), Math.min(end_s, to)];
        return end <= start ? null : (
          <span
            key={phase}
            className={`absolute top-0 flex flex-col items-center ${phase === here ? "font-semibold text-ink" : ""}`}
            style={{ left: share(start), width: `${(100 * (end - start)) / (to - from)}%` }}
          >
            <span aria-hidden className={`block h-7 w-full border-x border-paper ${DARK.has(phase) ? "bg-[var(--muted)]" : "bg-hairline"}`} />
            <span className={`whitespace-nowrap ${phase === here ? "" : "max-[700px]:hidden"}`}>{PHASES[phase]}</span>
          </span>
        );
      })}
      <span aria-hidden className="absolute top-0 h-8 w-1.5 -translate-x-1/2 bg-[var(--ink)]" style={{ left: share(now) }} />
    </div>
  );
}
