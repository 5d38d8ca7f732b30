import { scaleLinear } from "d3-scale";
import { useMemo, useSyncExternalStore, type PointerEvent } from "react";

import type { Schemas } from "@/api/client";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { SEQUENCE } from "@/lib/measures";
import { shownValue } from "@/lib/values";
import { indexAt, type Traces } from "@/lib/traces";
import { HALO } from "@/shared/charts/names";
import { number, tr } from "@/lib/language";

const W = 720;
const ROW = 60;
const LEFT = 128;
const PLOT = 430;

interface Props {
  swing: Schemas["SwingOut"];
  traces: Traces;
  checkpoints: Checkpoint[];
  cursor: Cursor;
}

const valueOf = (swing: Schemas["SwingOut"], metric: string) => shownValue(swing, metric, "swing");

/** Peak times count from impact backward. */
const beforeImpact = (s: number): string => tr("{s} s {what} impact", { s: number(Math.abs(s), 2), what: s >= 0 ? tr("before") : tr("after") });

/** How fast each part turns, one under the other in the order in which they should be fastest. */
export function Sequence({ swing, traces, checkpoints, cursor }: Props) {
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const at = (name: string) => checkpoints.find((b) => b.name === name)?.time;
  const top = at("top") ?? traces.time[0]!;
  const impact = at("impact") ?? traces.time[traces.n - 1]!;
  const start = top - 0.1;
  const end = impact + 0.12;
  const x = useMemo(() => scaleLinear([start, end], [LEFT, LEFT + PLOT]), [start, end]);
  const rows = useMemo(
    () =>
      SEQUENCE.map((part) => {
        const column = traces.columns[part.rate];
        if (!column) return { ...part, path: "", peak: null, time: null };
        const a = indexAt(traces.time, start);
        const b = indexAt(traces.time, end);
        const sign = part.rate.endsWith("turn_rate") ? -1 : 1;
        let most = 1;
        for (let k = a; k <= b; k++) if (Number.isFinite(column[k]!)) most = Math.max(most, sign * column[k]!);
        let path = "";
        for (let k = a; k <= b; k++) {
          const v = sign * column[k]!;
          if (Number.isFinite(v))
            path += `${path ? "L" : "M"}${x(traces.time[k]!).toFixed(1)},${(ROW - 12 - ((ROW - 22) * Math.max(v, -0.2 * most)) / most).toFixed(1)}`;
        }
        return { ...part, path, peak: valueOf(swing, part.peak), time: valueOf(swing, part.time) };
      }),
    [traces, swing, start, end, x],
  );
  const gap = valueOf(swing, "sequence_gap");
  const known = rows.filter((r) => r.time);
  const order = [...known].sort((a, b) => b.time!.value - a.time!.value).map((r) => r.name.toLowerCase());
  const inOrder = gap ? !/low/.test(gap.judged?.verdict ?? "") : null;
  const move = valueOf(swing, "start_of_move");
  const together = valueOf(swing, "move_together");
  const scrub = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const t = start + ((((event.clientX - box.left) / box.width) * W - LEFT) / PLOT) * (end - start);
    cursor.set(Math.min(end, Math.max(start, t)));
  };
  return (
    <section className="flex min-h-0 flex-1 flex-col" aria-label={tr("Order of the parts")}>
      <p className="text-[28px] leading-tight font-bold">
        {inOrder === null
          ? tr("The order cannot be told here.")
          : inOrder
            ? tr("In order: pelvis, upper body, lead arm, club.")
            : tr("Out of order: {order}.", { order: order.join(tr(", then ")) })}
      </p>
      <svg
        viewBox={`0 0 ${W} ${ROW * 4 + 26}`}
        className="mt-1 max-h-[300px] min-h-0 w-full flex-1 touch-none select-none"
        role="img"
        aria-label={tr("Speeds of turning between top and impact")}
        onPointerDown={scrub}
        onPointerMove={(e) => e.buttons > 0 && scrub(e)}
      >
        {rows.map((row, k) => (
          <g key={row.rate} transform={`translate(0,${k * ROW})`}>
            <line x1={LEFT} x2={LEFT + PLOT} y1={ROW - 12} y2={ROW - 12} stroke="var(--hairline)" strokeWidth={1.5} />
            <text x={0} y={ROW - 24} fontSize={18} fontWeight={700} fill="var(--ink)">
              {row.name}
            </text>
            {row.path ? (
              <path d={row.path} fill="none" stroke="var(--ink)" strokeWidth={3.2} strokeLinejoin="round" />
            ) : (
              <text x={LEFT + 8} y={ROW - 24} fontSize={16} fill="var(--muted)" {...HALO}>
                {tr("not measured by these sources")}
              </text>
            )}
            {row.time && row.peak ? (
              <>
                <line
                  x1={x(impact - row.time.value)}
                  x2={x(impact - row.time.value)}
                  y1={4}
                  y2={ROW - 6}
                  stroke="var(--sea)"
                  strokeWidth={2.5}
                  strokeDasharray="4 4"
                />
                <circle cx={x(impact - row.time.value)} cy={10} r={6} fill="var(--ink)" />
                <text x={LEFT + PLOT + 12} y={ROW - 32} fontSize={18} fontWeight={700} fill="var(--ink)">
                  {Math.round(row.peak.value)}°/s
                </text>
                <text x={LEFT + PLOT + 12} y={ROW - 12} fontSize={16} fill="var(--muted)">
                  {beforeImpact(row.time.value)}
                </text>
              </>
            ) : null}
          </g>
        ))}
        {[
          ["top", top],
          ["impact", impact],
        ].map(([name, t]) => (
          <g key={name}>
            <line x1={x(t as number)} x2={x(t as number)} y1={0} y2={ROW * 4} stroke="var(--hairline)" strokeWidth={1.5} />
            <text x={x(t as number)} y={ROW * 4 + 18} fontSize={17} textAnchor="middle" fill="var(--muted)">
              {name}
            </text>
          </g>
        ))}
        {now >= start && now <= end ? <line x1={x(now)} x2={x(now)} y1={0} y2={ROW * 4} stroke="var(--ink)" strokeWidth={3} /> : null}
      </svg>
      {move ? (
        <p className="text-lg">
          {tr("The move toward the target starts {what} s {what2} the top{what3}.", {
            what: number(Math.abs(move.value), 2),
            what2: move.value < 0 ? tr("before") : tr("after"),
            what3: together
              ? /low/.test(together.judged?.verdict ?? "")
                ? tr("; the upper body does not go with it")
                : tr("; the upper body goes with it")
              : "",
          })}
        </p>
      ) : null}
      <dl className="mt-1 grid flex-none grid-cols-[130px_1fr] gap-y-1 border-t border-hairline pt-2 text-lg [@container(height<440px)]:hidden">
        {swing.power.map((p) => (
          <div key={p.kind} className="contents">
            <dt className="font-bold">{p.label}</dt>
            <dd className={p.missing ? "text-muted" : ""}>{p.missing ?? p.says.join(", ")}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
