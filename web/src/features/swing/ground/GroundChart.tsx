import { useMemo, useRef, useState, type PointerEvent } from "react";

import type { Schemas } from "@/api/client";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import type { Spot } from "@/lib/labels";
import { footName } from "@/lib/mat";
import type { Traces } from "@/lib/traces";
import { useSelected } from "@/shared/ui/useSelected";
import { useSize } from "@/shared/ui/useSize";
import { MomentName } from "@/shared/charts/MomentName";
import { namesUnder } from "@/shared/charts/names";
import { CursorLine, type Ghost } from "@/shared/charts/TraceChart";
import { groundLabels, SIDES } from "./groundLabels";
import { Bands, Legend, Moments, returned } from "./GroundParts";
import { groundPicture, TOP, type Panel } from "./groundPicture";
import { tr } from "@/lib/language";

export type { Panel } from "./groundPicture";

export const PANELS: { id: Panel; name: string }[] = [
  { id: "between", name: tr("Between the feet") },
  { id: "along", name: tr("Heel to toe") },
  { id: "force", name: tr("Push") },
  { id: "body", name: tr("With the body") },
];

const SMALL = 16;
const SHOWN = ["address", "arm_level_back", "top", "impact"];

interface Props {
  panel: Panel;
  traces: Traces;
  ground: Schemas["GroundOut"];
  judged: Schemas["JudgedOut"][];
  checkpoints: Checkpoint[];
  cursor: Cursor;
  ghost: Ghost | null;
  reference: Schemas["GroundReference"] | null;
  mirror: boolean;
  onSelect: (name: string) => void;
  /** A checkpoint was dragged to another instant. */
  onMove: (name: string, time: number) => void;
}

/** The pressure's course over time, with bands of both schools, a skilled reference and the player's previous swing. */
export function GroundChart(props: Props) {
  const { panel, traces, ground, checkpoints, cursor, ghost, reference, mirror } = props;
  const frame = useRef<HTMLDivElement>(null);
  const [W, H] = useSize(frame, [640, 190]); // letters keep their size, whatever room there is
  const BOTTOM = H - 58;
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ name: string; time: number; moved: boolean } | null>(null);
  const selected = useSelected(cursor, checkpoints);
  const at = (name: string) => checkpoints.find((b) => b.name === name)?.time;
  const start = (at("takeaway") ?? at("address") ?? traces.time[0]!) - 0.2;
  const end = Math.min(traces.time[traces.n - 1]!, (at("impact") ?? traces.time[traces.n - 1]!) + 0.3);
  const lead = footName("lead", mirror);
  const trail = footName("trail", mirror);
  const { lines, ...picture } = useMemo(
    () => groundPicture({ panel, traces, checkpoints, ghost, reference, lead, trail, start, end, bottom: BOTTOM, width: W }),
    [panel, traces, checkpoints, ghost, reference, lead, trail, start, end, BOTTOM, W],
  );
  const { x, y } = picture;
  const top = at("top");
  const back = returned(props.judged)?.band;
  const wanted = top !== undefined && back?.low != null && back.high != null ? { low: top + back.low, high: top + back.high } : null;
  const [above, below] =
    panel === "between"
      ? [`${lead} ↑`, `${trail} ↓`]
      : panel === "along"
        ? [tr("toes ↑"), tr("heels ↓")]
        : panel === "force"
          ? [tr("100 % is standing"), ""]
          : [tr("toward the target ↑"), tr("away ↓")];
  const spots =
    panel === "between"
      ? groundLabels({ ground, traces, wanted, impact: at("impact"), x, y, start, end, width: W, bottom: BOTTOM, sides: [above!, below!] })
      : new Map<string, Spot>();

  const timeOf = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return Math.min(end, Math.max(start, start + ((event.clientX - box.left) / box.width) * (end - start)));
  };
  const shown = checkpoints.filter((b) => SHOWN.includes(b.name));
  const names = namesUnder(shown, selected, x, BOTTOM + 35, W, H, SMALL);

  return (
    <div ref={frame} className="relative min-h-0 w-full flex-1">
      <svg
        ref={svg}
        viewBox={`0 0 ${W} ${H}`}
        className="absolute inset-0 h-full w-full touch-none select-none"
        role="img"
        aria-label={tr("{name} over the swing", { name: PANELS.find((p) => p.id === panel)!.name })}
        onPointerDown={(e) => cursor.set(timeOf(e))}
        onPointerMove={(e) => {
          if (drag) setDrag({ ...drag, time: timeOf(e), moved: drag.moved || Math.abs(timeOf(e) - drag.time) > 0.004 });
          else if (e.buttons > 0) cursor.set(timeOf(e));
        }}
        onPointerUp={() => {
          if (drag?.moved) props.onMove(drag.name, drag.time);
          setDrag(null);
        }}
      >
        <Bands panel={panel} ground={ground} judged={props.judged} at={at} x={x} y={y} bottom={BOTTOM} start={start} spots={spots} />
        {panel === "between" || panel === "along" ? <line x1={0} x2={W} y1={y(50)} y2={y(50)} stroke="var(--hairline)" strokeWidth={1} /> : null}
        {panel === "force" ? <line x1={0} x2={W} y1={y(100)} y2={y(100)} stroke="var(--hairline)" strokeWidth={1} /> : null}
        {shown.map((b) => (
          <line key={b.name} x1={x(b.time)} x2={x(b.time)} y1={TOP - 8} y2={BOTTOM + 4} stroke="var(--hairline)" strokeWidth={1.5} />
        ))}
        {picture.skilled.map((d, k) => (
          <path key={`s${k}`} d={d} fill="none" stroke="var(--sea)" strokeWidth={2} strokeDasharray="10 5" />
        ))}
        {picture.ghost.map((d, k) => (
          <path key={`g${k}`} d={d} fill="none" stroke="var(--muted)" strokeWidth={2.6} strokeDasharray="2 6" strokeLinecap="round" />
        ))}
        {picture.own.map((d, k) => (
          <path
            key={lines[k]!.id}
            d={d}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={k === 0 ? 3.2 : 2.4}
            strokeDasharray={lines[k]!.dash}
            strokeLinejoin="round"
          />
        ))}
        {panel === "between" ? <Moments ground={ground} traces={traces} judged={props.judged} x={x} y={y} spots={spots} /> : null}
        <CursorLine cursor={cursor} x={x} from={TOP - 12} to={BOTTOM + 8} />
        <text x={SIDES.x} y={SIDES.above} fontSize={16} fill="var(--muted)">
          {above}
        </text>
        <text x={SIDES.x} y={BOTTOM - SIDES.below} fontSize={16} fill="var(--muted)">
          {below}
        </text>
        {shown.map((b) => {
          const bx = x(drag?.name === b.name ? drag.time : b.time);
          const spot = names.get(b.name);
          const shift = bx - x(b.time);
          const chosen = b.name === selected;
          return (
            <g
              key={`h-${b.name}`}
              className="cursor-ew-resize"
              onPointerDown={(e) => {
                e.stopPropagation();
                svg.current!.setPointerCapture?.(e.pointerId);
                props.onSelect(b.name);
                setDrag({ name: b.name, time: b.time, moved: false });
              }}
            >
              <rect x={bx - 28} y={BOTTOM} width={56} height={44} fill="transparent" />
              <path d={`M${bx},${BOTTOM + 6} l7,10 h-14 z`} fill={chosen ? "var(--ink)" : "var(--paper)"} stroke="var(--ink)" strokeWidth={2} />
              {spot ? (
                <text x={spot.x + shift} y={spot.y} fontSize={SMALL} textAnchor={spot.anchor} fill="var(--muted)" fontWeight={chosen ? 700 : 400}>
                  <MomentName name={b.name} x={spot.x + shift} />
                </text>
              ) : null}
            </g>
          );
        })}
        {lines.length > 1 ? <Legend lines={lines} width={W} /> : null}
      </svg>
    </div>
  );
}
