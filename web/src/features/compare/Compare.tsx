import { useCanGoBack, useNavigate, useParams, useRouter, useSearch } from "@tanstack/react-router";
import { useEffect, useMemo, useState } from "react";

import type { Schemas } from "@/api/client";
import { useCatalogue, useLesson } from "@/api/hooks";
import { makeCursor } from "@/lib/cursor";
import { measureById, sides } from "@/lib/measures";
import { label, moment, type MetricWords, type Vocabulary } from "@/lib/words";
import { Button, ErrorLine, Loading, useSettings } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { useSelected } from "@/shared/ui/useSelected";

import { CompareChart } from "./CompareChart";
import { DifferenceArc, DifferenceLine } from "./DifferenceArc";
import { Pictures } from "./Pictures";
import { beyond, checkpointsOf } from "./laid";
import { Said } from "./Said";
import { TableSheet } from "./TableSheet";
import { useChoices, useCompared, useCurves } from "./useCompare";
import { WithSheet } from "./WithSheet";
import { sideDetail, sideName } from "./words";
import { tr } from "@/lib/language";

type Compared = Schemas["CompareOut"];

/** How two differ: one measure, one sentence each, the courses over each other; the rest on demand. */
export function Compare() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/compare" });
  const search = useSearch({ from: "/signed-in/lessons/$lessonId/compare" });
  const navigate = useNavigate();
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const newest = lesson.data?.swings.filter((s) => s.kind === "normal" || s.kind === "test").at(-1);
  const a = search.a ?? (newest ? `swing:${newest.id}` : "");
  const swingId = a.startsWith("swing:") ? a.slice("swing:".length) : undefined;
  const choices = useChoices(lessonId, swingId);
  const b = search.b ?? choices.data?.[0]?.key ?? "";
  const found = useCompared({ a, b, metric: search.metric ?? "", moment: search.moment ?? "" });
  const [sheet, setSheet] = useState<"" | "with" | "table">("");
  const [figures, setFigures] = useState(false);
  const go = (to: Partial<typeof search>) =>
    void navigate({ to: "/lessons/$lessonId/compare", params: { lessonId }, search: { a, b, ...search, ...to }, replace: true });
  const [router, canGoBack] = [useRouter(), useCanGoBack()];
  const back = () =>
    canGoBack
      ? router.history.back()
      : swingId
        ? void navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId } })
        : void navigate({ to: "/lessons/$lessonId/plan", params: { lessonId } });
  const offered = (kind: string) => choices.data?.find((c) => c.kind === kind)?.key;
  const [previous, last] = [offered("previous"), offered("last_lesson")];
  const next = (data: Compared | undefined) => {
    if (!data) return;
    const ids = clearestFirst(data).map(([metric]) => metric);
    const to = ids[(ids.indexOf(data.metric) + 1) % ids.length];
    if (to) go({ metric: to, moment: "" });
  };
  const toggle = (name: typeof sheet) => setSheet((open) => (open === name ? "" : name));
  useKeys({
    p: () => previous && go({ b: previous }),
    l: () => last && go({ b: last }),
    m: () => next(found.data),
    n: () => toggle("table"),
    c: () => toggle("with"),
    x: () => setFigures((f) => !f),
    Escape: back,
  });
  if (lesson.isPending || catalogue.isPending || choices.isPending) return <Loading what={tr("Looking for what can be compared")} />;
  const error = lesson.error ?? catalogue.error ?? choices.error;
  if (error) return <ErrorLine error={error} />;
  if (!a)
    return (
      <div className="p-8 text-2xl">
        <p>{tr("No swing that counts yet. Capture one, then compare it with the last lesson or a reference.")}</p>
      </div>
    );
  return (
    <div className="flex h-full flex-col">
      {found.error ? (
        <div className="flex-1 p-8">
          <ErrorLine error={found.error} />
        </div>
      ) : found.data && found.data.metric ? (
        <Pair
          data={found.data}
          catalogue={catalogue.data!}
          mirror={lesson.data!.player.handedness === "left"}
          figures={figures}
          onWith={() => setSheet("with")}
          onNotes={() => setSheet("table")}
          onMeasure={(metric) => go({ metric, moment: "" })}
        />
      ) : (
        <div className="flex-1">
          <Loading what={tr("Laying one over the other")} />
        </div>
      )}
      <footer className="flex flex-none items-center gap-2 border-t border-hairline px-7 py-2 max-[1100px]:px-4 max-[700px]:gap-1.5 max-[700px]:px-3">
        <Button onClick={back} className="max-[700px]:px-3">
          {tr("Back")}
        </Button>
        <Button
          onClick={() => previous && go({ b: previous })}
          disabled={!previous}
          aria-pressed={b === previous}
          tone={b === previous ? "solid" : "line"}
          hint="p"
          className="max-[1000px]:hidden"
        >
          {tr("Previous swing")}
        </Button>
        <Button
          onClick={() => last && go({ b: last })}
          disabled={!last}
          aria-pressed={b === last}
          tone={b === last ? "solid" : "line"}
          hint="l"
          className="max-[1000px]:hidden"
        >
          {tr("Last lesson")}
        </Button>
        <Button onClick={() => setSheet("with")} aria-haspopup="dialog" className="max-[700px]:px-3">
          {tr("With…")}
        </Button>
        <span className="flex-1" />
        <Button onClick={() => setFigures((f) => !f)} aria-pressed={figures} tone={figures ? "solid" : "line"} className="max-[700px]:px-3">
          {tr("Pictures")}
        </Button>
        <Button onClick={() => setSheet("table")} aria-haspopup="dialog" className="max-[700px]:px-3">
          {tr("Values")}
        </Button>
      </footer>
      <WithSheet
        open={sheet === "with"}
        onClose={() => setSheet("")}
        choices={choices.data ?? []}
        catalogue={catalogue.data!}
        chosen={b}
        onChoose={(key) => {
          setSheet("");
          go({ b: key });
        }}
      />
      {found.data ? (
        <TableSheet
          open={sheet === "table"}
          onClose={() => setSheet("")}
          data={found.data}
          catalogue={catalogue.data!}
          onChoose={(metric, at) => {
            setSheet("");
            go({ metric, moment: at });
          }}
        />
      ) : null}
    </div>
  );
}

/** Measures with how far their clearest value is beyond its uncertainty, the clearest first. */
function clearestFirst(data: Compared): [string, number][] {
  const clear = (m: Compared["metrics"][number]) => Math.max(0, ...m.values.map((v) => Math.abs(v.difference) / Math.max(v.uncertainty, 1e-9)));
  return data.metrics.map((m): [string, number] => [m.metric, clear(m)]).sort((x, y) => y[1] - x[1]);
}

interface PairProps {
  data: Compared;
  catalogue: Schemas["Catalogue"];
  mirror: boolean;
  figures: boolean;
  onWith: () => void;
  onNotes: () => void;
  onMeasure: (metric: string) => void;
}

function Pair({ data, catalogue, mirror, figures, onWith, onNotes, onMeasure }: PairProps) {
  const { words } = useSettings();
  const metric = catalogue.metrics.find((m) => m.id === data.metric) as MetricWords | undefined;
  const groups = data.a.swings >= 3 && data.b.swings >= 3 && data.b.kind !== "band";
  const curves = useCurves({ a: data.a.key, b: data.b.key, metric: data.metric }, groups);
  const checkpoints = useMemo(() => (data.laid ? checkpointsOf(data.laid) : []), [data.laid]);
  const cursor = useMemo(() => makeCursor(0), []);
  const opened = data.moment.split("..").at(-1)!;
  const start = checkpoints.find((c) => c.name === opened) ?? checkpoints.find((c) => c.name === "top");
  useEffect(() => {
    if (start) cursor.set(start.time);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only another pair or measure moves the cursor
  }, [data.a.key, data.b.key, data.metric, data.moment, cursor]);
  const selected = useSelected(cursor, checkpoints);
  const select = (name: string) => {
    const to = checkpoints.find((c) => c.name === name);
    if (to) cursor.set(to.time);
  };
  const step = (way: 1 | -1) => {
    const on = checkpoints.filter((c) => (way > 0 ? c.time > cursor.get() + 1e-6 : c.time < cursor.get() - 1e-6));
    const to = way > 0 ? on[0] : on.at(-1);
    if (to) cursor.set(to.time);
  };
  useKeys({ ArrowLeft: () => step(-1), ArrowRight: () => step(1) });
  const stretches = curves.data?.stretches ?? null;
  const differs = useMemo<[number, number][]>(
    () => (groups ? (stretches ?? []).map((s) => [s.first, s.last]) : data.laid ? beyond(data.laid) : []),
    [groups, stretches, data.laid],
  );
  const [nameA, nameB] = [sideName(data.a), sideName(data.b)];
  const named = metric ? label(metric, words) : data.metric;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-none flex-wrap items-center gap-x-6 border-b border-hairline px-7 py-1.5 max-[1100px]:px-4">
        <h2 className="text-[26px] leading-tight font-bold max-[700px]:text-xl">{named}</h2>
        <button
          type="button"
          className="flex min-h-14 flex-wrap items-center gap-x-5 text-left text-xl"
          onClick={onWith}
          title={tr("Compare with something else")}
        >
          <SideLine name={nameA} detail={sideDetail(data.a, data.b)} />
          <SideLine name={nameB} detail={sideDetail(data.b, data.a)} drawn={data.b.kind === "band" ? "band" : "dashed"} />
        </button>
        {data.notes.length ? (
          <>
            <p className="min-w-[280px] flex-1 text-base leading-tight text-muted max-[700px]:hidden">{data.notes.join(" ")}</p>
            <button type="button" className="hidden min-h-14 text-base text-muted underline underline-offset-4 max-[700px]:block" onClick={onNotes}>
              {data.notes.length === 1 ? tr("Something to know") : tr("{length} things to know", { length: data.notes.length })}
            </button>
          </>
        ) : null}
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,44fr)_minmax(0,56fr)] gap-x-6 px-7 pb-2 max-[1100px]:px-4 max-[900px]:grid-cols-1 max-[900px]:grid-rows-[minmax(0,3fr)_minmax(0,4fr)] max-[700px]:flex max-[700px]:flex-col">
        <div className={figures ? "min-h-0 max-[700px]:flex-1" : "min-h-0 max-[700px]:hidden"}>
          {figures ? (
            <Pictures data={data} checkpoints={checkpoints} cursor={cursor} mirror={mirror} />
          ) : data.laid && metric ? (
            <DifferenceArc
              laid={data.laid}
              checkpoints={checkpoints}
              cursor={cursor}
              selected={selected}
              differs={differs}
              mirror={mirror}
              metric={metric}
              words={words}
              onSelect={select}
            />
          ) : null}
        </div>
        <div className="flex min-h-0 flex-col max-[700px]:flex-1">
          <Said data={data} metric={metric} words={words} stretches={stretches} waiting={groups && curves.isPending}>
            {data.laid && metric ? (
              <div className="hidden max-[700px]:block">
                <DifferenceLine laid={data.laid} cursor={cursor} selected={selected} metric={metric} words={words} />
              </div>
            ) : null}
            <DiffersMost data={data} catalogue={catalogue} onMeasure={onMeasure} />
          </Said>
          {data.laid && metric ? (
            <CompareChart
              laid={data.laid}
              checkpoints={checkpoints}
              cursor={cursor}
              selected={selected}
              differs={differs}
              {...ways(metric, words)}
              names={[nameA, nameB]}
              onSelect={select}
            />
          ) : (
            <p className="mt-4 text-xl text-muted">
              {tr("{named} has no course to lay over another: it is read at {moment}.", { named, moment: moment(data.moment) })}
            </p>
          )}
        </div>
      </div>
    </div>
  );
}

/** What more and less of a measure are called beside its course. */
function ways(metric: MetricWords, words: Vocabulary): { up: string; down: string } {
  const measure = measureById(metric.id);
  const { up, down } = measure
    ? sides(measure, metric, words)
    : words === "plain"
      ? { up: metric.plain_positive, down: metric.plain_negative }
      : { up: metric.positive, down: metric.negative };
  return up === down ? { up: tr("more"), down: tr("less") } : { up, down };
}

/** A clear difference is at least so many standard uncertainties. */
const CLEAR = 3;

/** Where another measure differs more clearly than the one looked at, that is said. */
function DiffersMost({ data, catalogue, onMeasure }: Pick<PairProps, "data" | "catalogue" | "onMeasure">) {
  const { words } = useSettings();
  const [most] = clearestFirst(data);
  if (!most || most[0] === data.metric || most[1] < CLEAR) return null;
  const metric = catalogue.metrics.find((m) => m.id === most[0]) as MetricWords | undefined;
  if (!metric) return null;
  return (
    <button type="button" className="min-h-14 text-left text-lg text-muted" onClick={() => onMeasure(metric.id)}>
      {tr("Differs most clearly:")} <span className="underline decoration-dotted underline-offset-4">{label(metric, words).toLowerCase()}</span>
    </button>
  );
}

/** A side with how it is drawn. */
function SideLine({ name, detail, drawn = "line" }: { name: string; detail: string; drawn?: "line" | "dashed" | "band" }) {
  const dashed = drawn === "dashed";
  return (
    <span className="flex items-center gap-2">
      <svg width={44} height={16} aria-hidden>
        {drawn === "band" ? (
          <rect x={1} y={1} width={42} height={14} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.6} />
        ) : (
          <line x1={1} x2={43} y1={8} y2={8} stroke="var(--ink)" strokeWidth={dashed ? 2.6 : 3.4} strokeDasharray={dashed ? "9 7" : undefined} />
        )}
      </svg>
      <b>{name}</b>
      {detail ? <span className="text-lg text-muted">{detail}</span> : null}
    </span>
  );
}
