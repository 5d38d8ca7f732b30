import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { keys } from "@/api/keys";
import { clubLabel } from "@/lib/clubs";
import { amount, direction, label, moment, type MetricWords, type Vocabulary } from "@/lib/words";
import { Choice, ErrorLine, Loading, useSettings } from "@/shared/ui/controls";
import { useSize } from "@/shared/ui/useSize";

import { apart, dayOf, drawn, EDGES } from "./progress";
import { SteadyDrawing, useSteady } from "./Steady";
import { tr } from "@/lib/language";

type Told = Schemas["ProgressOut"];

/** A measure over the player's lessons: one sentence, what each lesson's swings say, and what happened when. */
export function Progress({ playerId }: { playerId: string }) {
  const catalogue = useCatalogue();
  const [of, setOf] = useState<Schemas["ProgressOfferOut"] | null>(null);
  const asked = of ? { metric: of.metric, moment: of.moment, club: of.club } : {};
  const progress = useQuery({
    queryKey: keys.progress(playerId, asked),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      data(api.GET("/api/players/{player_id}/progress", { params: { path: { player_id: playerId }, query: asked }, signal })) as Promise<Told | null>,
  });
  if (progress.error) return <ErrorLine error={progress.error} />;
  const told = progress.data;
  const metric = catalogue.data?.metrics.find((m) => m.id === told?.metric) as MetricWords | undefined;
  if (!told || !metric || told.points.length === 0) return null;
  return <ProgressOf playerId={playerId} told={told} metric={metric} catalogue={catalogue.data!} onChoose={setOf} />;
}

interface Props {
  playerId: string;
  told: Told;
  metric: MetricWords;
  catalogue: Schemas["Catalogue"];
  onChoose: (of: Schemas["ProgressOfferOut"]) => void;
}

function ProgressOf({ playerId, told, metric, catalogue, onChoose }: Props) {
  const { words } = useSettings();
  const [shown, setShown] = useState<"where" | "steady">("where");
  const steady = useSteady(playerId, told, shown === "steady");
  const sentence = words === "plain" ? told.plain_sentence : told.sentence;
  const keyOf = (o: { metric: string; moment: string; club: string }) => `${o.metric} ${o.moment} ${o.club}`;
  const name = (o: Schemas["ProgressOfferOut"]) => nameOf(catalogue.metrics.find((m) => m.id === o.metric) as MetricWords | undefined, o.moment, words);
  const clubs = new Set(told.offered.map((o) => o.club)).size > 1;
  const club = (id: string) => clubLabel(catalogue.clubs, id);
  return (
    <figure className="mb-6">
      <figcaption>
        <p className="figure text-[30px] leading-[1.12] font-bold max-[700px]:text-2xl">
          {shown === "steady" ? (steady.data?.sentence ?? sentence) : sentence}
        </p>
        {told.offered.length > 1 ? (
          <label className="mt-1 flex flex-wrap items-center gap-x-3 text-lg text-muted">
            <span>{tr("of")}</span>
            <select
              aria-label={tr("Measure to follow")}
              className="min-h-14 max-w-full rounded-lg border-2 border-[var(--control)] bg-paper px-3 text-lg text-ink"
              value={keyOf(told)}
              onChange={(e) => {
                const to = told.offered.find((o) => keyOf(o) === e.target.value);
                if (to) onChoose(to);
              }}
            >
              {told.offered.map((o) => (
                <option key={keyOf(o)} value={keyOf(o)}>
                  {name(o)}
                  {clubs ? `, ${club(o.club)}` : ""}
                </option>
              ))}
            </select>
          </label>
        ) : (
          <span className="block text-lg text-muted">{nameOf(metric, told.moment, words)}</span>
        )}
        <Choice
          label={tr("What is shown")}
          value={shown}
          onChange={setShown}
          options={[
            { id: "where", label: tr("Where it is") },
            { id: "steady", label: tr("How steady") },
          ]}
        />
      </figcaption>
      {shown === "where" ? (
        <>
          <Drawing told={told} metric={metric} words={words} />
          <Beside told={told} metric={metric} words={words} />
        </>
      ) : (
        <>
          <ErrorLine error={steady.error} />
          {steady.data ? <SteadyDrawing points={steady.data.points} metric={metric} /> : steady.isPending ? <Loading what={tr("Reading the lessons")} /> : null}
        </>
      )}
    </figure>
  );
}

function nameOf(metric: MetricWords | undefined, at: string, words: Vocabulary): string {
  const where = at === "swing" ? "" : at.includes("..") ? `, ${moment(at)}` : tr(" at {what}", { what: at === "top" ? tr("the top") : moment(at) });
  return `${metric ? label(metric, words) : ""}${where}`;
}

const HEIGHT = 232;

function Drawing({ told, metric, words }: { told: Told; metric: MetricWords; words: Vocabulary }) {
  const frame = useRef<HTMLDivElement>(null);
  const [width] = useSize(frame, [760, HEIGHT]);
  const { points, low, high, noise } = told;
  const { x, y, least, most } = drawn(told, width, HEIGHT);
  const [first, last] = [points[0]!, points.at(-1)!];
  const dated = apart(points.map((p) => x(p.on)));
  const says = `${nameOf(metric, told.moment, words)}: ${points.map((p) => tr("{amount} on {dayOf}", { amount: amount(metric, p.median), dayOf: dayOf(p.on) })).join(", ")}`;
  return (
    <div ref={frame} className="mt-1 w-full overflow-hidden" style={{ height: HEIGHT }}>
      <svg viewBox={`0 0 ${width} ${HEIGHT}`} width={width} height={HEIGHT} role="img" aria-label={says}>
        {low != null || high != null ? (
          <rect
            x={EDGES.left}
            width={width - EDGES.left - EDGES.right}
            y={y(high ?? most)}
            height={y(low ?? least) - y(high ?? most)}
            fill="var(--band)"
            stroke="var(--sea)"
            strokeWidth={1.2}
          />
        ) : null}
        {noise != null && points.length > 1 ? (
          <g stroke="var(--muted)" strokeWidth={1.5} strokeDasharray="6 5" data-part="noise">
            {[noise, -noise].map((d) => (
              <line key={d} x1={EDGES.left} x2={width - EDGES.right} y1={y(first.median + d)} y2={y(first.median + d)} />
            ))}
          </g>
        ) : null}
        <polyline points={points.map((p) => `${x(p.on)},${y(p.median)}`).join(" ")} fill="none" stroke="var(--muted)" strokeWidth={1.5} />
        {points.map((p, k) => {
          const out = (low != null && p.median < low) || (high != null && p.median > high);
          const ink = out ? "var(--rust)" : "var(--ink)";
          return (
            <g key={p.lesson_id} stroke={ink} strokeWidth={2.5}>
              <line x1={x(p.on)} x2={x(p.on)} y1={y(p.low)} y2={y(p.high)} />
              <circle cx={x(p.on)} cy={y(p.median)} r={6} fill="var(--paper)" />
              {out ? <circle cx={x(p.on)} cy={y(p.median)} r={2.5} fill={ink} stroke="none" /> : null}
              {p.test != null ? (
                <path d={`M${x(p.on) + 14},${y(p.test) - 8} l8,8 l-8,8 l-8,-8 z`} fill="var(--paper)" stroke="var(--ink)" data-part="test" />
              ) : null}
              {dated.has(k) ? (
                <text x={x(p.on)} y={HEIGHT - 8} fontSize={16} textAnchor={k === 0 ? "start" : "middle"} fill="var(--muted)" stroke="none">
                  {dayOf(p.on)}
                </text>
              ) : null}
            </g>
          );
        })}
        {[...new Set(told.events.map((e) => e.on))].map((on) => (
          <path key={on} d={`M${x(on)},${HEIGHT - EDGES.bottom + 4} l6,10 h-12 z`} fill="var(--ink)" data-part="event" />
        ))}
        <text x={width - EDGES.right + 30} y={y(last.median) + 6} fontSize={20} fontWeight={700} fill="var(--ink)">
          {amount(metric, last.median)}
        </text>
        <text x={width - EDGES.right + 30} y={y(last.median) + 24} fontSize={16} fill="var(--muted)">
          {direction(metric, last.median, words).split(" ").slice(0, 2).join(" ")}
        </text>
      </svg>
    </div>
  );
}

const WHAT: Record<string, string> = {
  priority: tr("priority"),
  drill: tr("drill"),
  school: tr("school"),
  limit: tr("limit"),
  sensors: tr("sensors"),
  club: tr("club"),
};

/** What the drawing's marks are, and what happened in which lesson. */
function Beside({ told, metric, words }: { told: Told; metric: MetricWords; words: Vocabulary }) {
  const days = [...new Set(told.events.map((e) => e.on))];
  const kept = told.points.filter((p) => p.kept);
  const each = told.per_week;
  return (
    <div className="text-lg leading-snug">
      <p className="text-muted">
        {told.low != null || told.high != null ? tr("Tint: the band. ") : ""}
        {told.noise != null
          ? tr("Dashed: {amount} about the first lesson, what scatter and calibration alone can do. ", { amount: amount(metric, told.noise) })
          : ""}
        {told.points.some((p) => p.test != null) ? tr("Diamond: its test.") : ""}
      </p>
      {each != null ? (
        <p>
          {tr("About {amount} more {direction} a week, over {length} lessons.", {
            amount: amount(metric, each),
            direction: direction(metric, each, words),
            length: told.points.length,
          })}
        </p>
      ) : null}
      {kept.map((p) => (
        <p key={p.lesson_id}>{tr("{dayOf}: what the test before had shown was {kept}.", { dayOf: dayOf(p.on), kept: p.kept })}</p>
      ))}
      {days.map((on) => (
        <p key={on}>
          <span aria-hidden>▲ </span>
          <b>{dayOf(on)}</b>{" "}
          {told.events
            .filter((e) => e.on === on)
            .map((e) => `${WHAT[e.kind]}: ${e.says}`)
            .join("; ")}
        </p>
      ))}
    </div>
  );
}
