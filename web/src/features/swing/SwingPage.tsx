import { useMutation, useQueries, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { lazy, Suspense, useCallback, useEffect, useMemo, useState, useSyncExternalStore } from "react";

import { api, data, type Schemas } from "@/api/client";
import { swingQuery, tracesQuery, useCatalogue, useChangeGround, useChangeLesson, useChangeSwing, useFigure, useLesson, useOverlay, useReferences, useRefresh, useSwing, useTraces, useUndo, type Measuring } from "@/api/hooks";
import type { Checkpoint } from "@/lib/arc";
import { makeCursor } from "@/lib/cursor";
import { checkpointOf, groupOf, GROUPS, measureById, MEASURES, measureOf, sides, type Group } from "@/lib/measures";
import { change as changeSettings, isDark } from "@/lib/settings";
import { ballOfKey, ballWords } from "@/lib/sides";
import type { Overlay } from "@/lib/figure";
import { withBands } from "@/lib/bands";
import { outOfBand, valueAt, type Traces } from "@/lib/traces";
import { differing as differingWords, measures, shownValue } from "@/lib/values";
import { amount, direction, inWords, KINDS, label, moment, spread, type MetricWords, type Vocabulary } from "@/lib/words";
import { ArcNavigator } from "@/shared/arc/ArcNavigator";
import { TraceChart, type Ghost } from "@/shared/charts/TraceChart";
import { MeasureGauge } from "@/shared/figure/BodyGauge";
import { Button, ErrorLine, Loading, useSettings } from "@/shared/ui/controls";
import { useLive } from "@/shared/ui/live";

import { BallSheet, ClubSheet, KindSheet } from "./MarkSheets";
import { MeasureChooser } from "./MeasureChooser";
import { Numbers } from "./Numbers";
import { Sequence } from "./Sequence";
import { Strip } from "./Strip";
import { Training } from "./Training";
import { GroundStage } from "./ground/GroundStage";
import { Unseen } from "./Unseen";
import { useSwingKeys } from "./useSwingKeys";
import { Why } from "./Why";

const Figure3D = lazy(() => import("@/shared/figure/Figure3D"));

type SheetName = "" | "kind" | "ball" | "club" | "numbers" | "why";

interface View {
  measure: string;
  checkpoint: string | null;
  figure: boolean;
  over: string;
}

const stored = (lessonId: string): Partial<View> => {
  try {
    return JSON.parse(sessionStorage.getItem(`view-${lessonId}`) ?? "{}") as Partial<View>;
  } catch {
    return {};
  }
};

/** What the figure's overlays show at an instant, in words. */
function overlayWords(metrics: readonly MetricWords[], t: Traces, now: number, words: Vocabulary): Partial<Record<Overlay, string>> {
  const say = (id: string, name: string) => {
    const metric = metrics.find((m) => m.id === id);
    const value = valueAt(t, id, now);
    return metric && value !== null ? `${name} ${inWords(metric, value, words)}` : "";
  };
  const join = (...parts: string[]) => parts.filter(Boolean).join(", ");
  return {
    turn: join(say("pelvis_turn", "pelvis"), say("thorax_turn", "upper body")),
    spine: join(say("spine_lean", "spine"), say("posture_from_ground", "spine")),
    pelvis: join(say("pelvis_sway", "pelvis"), say("pelvis_thrust", "")),
    hip: say("lead_hip_overhang", "lead hip"),
  };
}

/** One swing: arc, value, sentence, trace; the rest on demand. */
export function SwingPage() {
  const { lessonId, swingId } = useParams({ from: "/signed-in/lessons/$lessonId/swings/$swingId" });
  const lesson = useLesson(lessonId);
  const swing = useSwing(swingId);
  const shown: Measuring | undefined = swing.data ?? lesson.data?.swings.find((s) => s.id === swingId);
  const traces = useTraces(shown);
  const catalogue = useCatalogue();
  const { words, follow, bar } = useSettings();
  const navigate = useNavigate();
  const client = useQueryClient();
  const refresh = useRefresh(lessonId);
  const changeSwing = useChangeSwing(lessonId);
  const changeGround = useChangeGround(lessonId, swingId);
  const changeLesson = useChangeLesson(lessonId);
  const { undo, redo } = useUndo(lessonId);
  const { captured } = useLive();

  const [measure, setMeasure] = useState<string>(() => stored(lessonId).measure ?? "");
  const [checkpoint, setCheckpoint] = useState<string | null>(() => stored(lessonId).checkpoint ?? null);
  const [figure, setFigure] = useState<boolean>(() => stored(lessonId).figure ?? false);
  const [over, setOver] = useState<string>(() => stored(lessonId).over ?? "");
  const references = useReferences();
  const overlay = useOverlay(swingId, over);
  const [sheet, setSheet] = useState<SheetName>("");
  const [peek, setPeek] = useState(false);
  const cursor = useMemo(() => makeCursor(0), []);

  const swings = useMemo(() => lesson.data?.swings ?? [], [lesson.data]);
  const index = swings.findIndex((s) => s.id === swingId);
  const before = swings.slice(0, Math.max(index, 0)).filter((s) => !s.sensor_moved && s.kind !== "discard").at(-1);
  const neighbours = [swings[index - 1], swings[index + 1], before].filter((s) => s !== undefined);
  useQueries({ queries: neighbours.map((s) => tracesQuery(s)) });
  const ghostSwing = useSwing(peek ? before?.id : undefined);
  const ghostTraces = useTraces(before);
  const joints = useFigure(figure && swing.data?.figure ? swing.data : undefined);
  useEffect(() => {
    for (const s of neighbours) void client.prefetchQuery(swingQuery(s.id));
  }, [swingId, swings.length]);

  const banded = useMemo(() => traces.data && swing.data && withBands(traces.data, swing.data.bands), [traces.data, swing.data?.bands]);

  const headlineMeasure = swing.data ? measureOf(swing.data.headline.metric) : "lead_wrist_extension";
  const shownMeasure = measure || headlineMeasure;
  const group = groupOf(shownMeasure);
  const checkpoints: Checkpoint[] = useMemo(() => (swing.data?.events ?? []).map((e) => ({ name: e.name, time: e.time_s })), [swing.data]);
  const opened = checkpoint ?? (swing.data ? checkpointOf(swing.data.headline.moment) : null);

  // on a new swing: stay at the same checkpoint
  useEffect(() => {
    const at = checkpoints.find((b) => b.name === opened) ?? checkpoints.find((b) => b.name === "top") ?? checkpoints[0];
    if (at && opened !== "") cursor.set(at.time);
  }, [swing.data?.id, checkpoints]);
  useEffect(() => {
    sessionStorage.setItem(`view-${lessonId}`, JSON.stringify({ measure, checkpoint, figure, over }));
  }, [lessonId, measure, checkpoint, figure, over]);
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const selected = checkpoints.find((b) => Math.abs(b.time - now) < 1e-6)?.name ?? null;
  const select = useCallback(
    (name: string) => {
      const found = checkpoints.find((b) => b.name === name);
      if (!found) return;
      setCheckpoint(name);
      cursor.set(found.time);
    },
    [checkpoints, cursor],
  );
  const go = useCallback(
    (to: Schemas["SwingBrief"] | undefined) => to && void navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId: to.id }, replace: true }),
    [navigate, lessonId],
  );
  useEffect(() => {
    if (follow && captured && captured !== swingId && swings.at(-1)?.id === captured) go(swings.at(-1));
  }, [captured, follow, swings.length]);

  const pin = useMutation({
    mutationFn: (ids: string[]) => data(api.POST("/api/lessons/{lesson_id}/pin", { params: { path: { lesson_id: lessonId } }, body: { swing_ids: ids } })),
    onSuccess: refresh,
  });
  const block = useMutation({
    mutationFn: (body: Schemas["BlockIn"]) => data(api.POST("/api/lessons/{lesson_id}/blocks", { params: { path: { lesson_id: lessonId } }, body })),
    onSuccess: refresh,
  });
  const reference = useMutation({
    mutationFn: (body: Schemas["ReferenceIn"]) => data(api.POST("/api/references", { body })),
    onSuccess: () => client.invalidateQueries(),
  });
  const endBlock = useMutation({
    mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/blocks/end", { params: { path: { lesson_id: lessonId } } })),
    onSuccess: refresh,
  });

  const hand = lesson.data?.player.handedness ?? "right";
  const patch = (p: Schemas["SwingPatch"]) => changeSwing.mutate({ id: swingId, patch: p });
  const step = (way: 1 | -1) => {
    const sorted = checkpoints.filter((b) => (way > 0 ? b.time > now + 1e-6 : b.time < now - 1e-6));
    const to = way > 0 ? sorted[0] : sorted.at(-1);
    if (to) select(to.name);
  };
  const sample = (way: 1 | -1) => cursor.set(now + way * (traces.data ? traces.data.time[1]! - traces.data.time[0]! : 0.005));
  const nudge = (way: 1 | -1) => {
    const event = swing.data?.events.find((e) => e.name === opened);
    const dt = traces.data ? traces.data.time[1]! - traces.data.time[0]! : 0.005;
    if (event) patch({ reason: "", checkpoint: { name: event.name, time_s: event.time_s + way * dt } });
  };
  const togglePin = () => {
    const pinned = lesson.data?.pinned ?? [];
    pin.mutate(pinned.includes(swingId) ? pinned.filter((p) => p !== swingId) : [...pinned, swingId]);
  };
  const headline = swing.data?.headline;
  const train = () => {
    const info = catalogue.data?.findings.find((f) => f.id === headline?.finding);
    const metric = info?.metric ?? shownMeasure;
    const moment = info?.moment ?? opened ?? "top";
    block.mutate({ kind: "drill", finding: headline?.finding ?? "", metric, moment, drill: info?.drills[0] ?? "" });
  };
  const showIt = () => void navigate({ to: "/lessons/$lessonId/show/$swingId", params: { lessonId, swingId } });

  const toFigure = () => {
    if (group.id !== "ground") return setFigure((f) => !f);
    setMeasure(MEASURES.find((m) => groupOf(m.id).id !== "ground" && traces.data?.columns[m.id])?.id ?? "");
    setFigure(true);
  };
  const toGroup = (g: Group) => setMeasure(g.measures.find((m) => traces.data?.columns[m.id])?.id ?? g.id);

  useSwingKeys({
    step, sample, nudge,
    next: () => go(swings[index + 1]),
    previous: () => go(swings[index - 1]),
    peek: () => setPeek((p) => !p),
    mark: () => setSheet((s) => (s === "kind" ? "" : "kind")),
    ball: (key) => {
      const b = ballOfKey(key, hand);
      patch({ reason: "", ball_start: b.start, ball_curve: b.curve });
    },
    strike: () => setSheet((s) => (s === "ball" ? "" : "ball")),
    club: () => setSheet((s) => (s === "club" ? "" : "club")),
    measure: () => {
      const ids = group.measures.filter((m) => traces.data?.columns[m.id]).map((m) => m.id);
      setMeasure(ids[(ids.indexOf(shownMeasure) + 1) % Math.max(ids.length, 1)] ?? shownMeasure);
    },
    group: () => toGroup(GROUPS[(GROUPS.indexOf(group) + 1) % GROUPS.length]!),
    figure: toFigure,
    numbers: () => setSheet((s) => (s === "numbers" ? "" : "numbers")),
    why: () => setSheet((s) => (s === "why" ? "" : "why")),
    pin: togglePin,
    train,
    follow: () => changeSettings({ follow: !follow }),
    undo: () => undo.mutate(),
    redo: () => redo.mutate(),
    show: showIt,
  });

  if (lesson.isPending || swing.isPending || traces.isPending || catalogue.isPending) return <Loading what="Opening the swing" />;
  const trouble = lesson.error ?? swing.error ?? traces.error ?? catalogue.error;
  if (trouble) return <div className="p-8"><ErrorLine error={trouble} /></div>;
  const s = swing.data!;
  const l = lesson.data!;
  const t = banded!;
  const metric = catalogue.data!.metrics.find((m) => m.id === shownMeasure) as MetricWords | undefined;
  const view = t.columns[shownMeasure] ? measureById(shownMeasure) : undefined;
  const groupSeen = (g: Group) => (g.id === "sequence" ? catalogue.data!.metrics.some((c) => g.families.includes(c.family) && measures(s, c.id)) : g.measures.some((m) => t.columns[m.id]));
  const seen = groupSeen(group) && (group.measures.length === 0 || view !== undefined);
  const mirror = hand === "left";
  const summary = l.summaries.find((x) => x.club === s.club);
  const out = view ? outOfBand(t, shownMeasure) : [];
  const value = valueAt(t, shownMeasure, now);
  const entry = selected ? shownValue(s, shownMeasure, selected) : undefined;
  const band = entry?.judged?.band;
  const low = band?.low ?? valueAt(t, `${shownMeasure}_band_low`, now);
  const high = band?.high ?? valueAt(t, `${shownMeasure}_band_high`, now);
  const verdicts = Object.fromEntries(s.judged.filter((m) => m.metric === shownMeasure).map((m) => [m.moment, m.verdict]));
  const isOut = value !== null && ((high != null && value > high) || (low != null && value < low));
  const ghost: Ghost | null = before && ghostTraces.data ? { traces: ghostTraces.data, checkpoints: Object.entries(before.checkpoints).map(([name, time]) => ({ name, time })), label: `swing ${before.number}` } : null;
  const shownAmount = value === null ? "–" : metric ? amount(metric, value) : "";
  const shownWords = `${value === null || !metric ? "not seen here" : direction(metric, value, words)}${entry && metric ? ` · ±${spread(metric, entry.uncertainty)}` : ""}`;
  const ghostAt = ghostSwing.data && selected ? shownValue(ghostSwing.data, shownMeasure, selected)?.value : undefined;
  const ghostValue = ghostAt ?? (before && ghostTraces.data && selected && before.checkpoints[selected] !== undefined ? valueAt(ghostTraces.data, shownMeasure, before.checkpoints[selected]!) : null);
  const note = peek && ghostValue !== null && ghostValue !== undefined && metric ? `swing ${before!.number}: ${inWords(metric, ghostValue, words)}` : entry?.judged?.not_judged_reason ? "not judged: see Numbers" : "";
  const differing = entry && metric ? differingWords(entry, metric, words) : "";
  const leadFinding = summary?.findings.find((f) => f.finding === s.headline.finding) ?? summary?.findings[0];
  const headlineText = words === "plain" ? s.headline.plain_text : s.headline.text;
  const pinned = l.pinned.includes(s.id);
  const shown3d = figure && Boolean(s.figure) && group.id !== "ground";
  const grid = shown3d ? (bar === "left" ? "grid-cols-[620px_1fr]" : "grid-cols-[1fr_620px]") : bar === "left" ? "grid-cols-[1fr_500px]" : "grid-cols-[500px_1fr]";
  const chooser = (measures = true) => (
    <MeasureChooser group={measures ? group : { ...group, measures: [] }} measure={shownMeasure} seen={(m) => Boolean(t.columns[m.id])} groupSeen={groupSeen} onGroup={toGroup} onMeasure={setMeasure} />
  );
  const kindNote = s.kind === "normal" ? "" : s.kind === "discard" ? `discarded: ${s.discard_reason}` : KINDS[s.kind]!;

  return (
    <div className="flex h-full flex-col">
      <Strip
        swings={l.swings} chosen={s.id} measure={view?.id ?? "lead_wrist_extension"} mirror={mirror} onChoose={go}
        title={`${view?.name ?? "Cup"}, this lesson`}
        count={leadFinding ? `${leadFinding.shown} of ${leadFinding.assessed} swings` : summary && summary.counting > 0 ? `${summary.counting} swings` : ""}
        countNote={leadFinding ? (words === "plain" ? leadFinding.plain_label : leadFinding.label).toLowerCase() : summary && summary.counting > 0 ? "nothing to change" : "no swing counts yet"}
        follow={follow} onFollow={() => changeSettings({ follow: !follow })}
      />
      <Training lesson={l} onTest={(b) => block.mutate({ kind: "test", finding: b.finding, metric: b.metric, moment: b.moment, drill: b.drill })} onEnd={() => endBlock.mutate()} onPin={(ids) => pin.mutate(ids)} />
      {group.id === "ground" && seen && s.ground ? (
        <GroundStage
          swing={s} ground={s.ground} traces={t} checkpoints={checkpoints} cursor={cursor} ghost={ghost} mirror={mirror} words={words} selected={selected} verdicts={verdicts} bar={bar}
          chooser={chooser(false)} measure={shownMeasure} onSelect={select} onMove={(name, time) => patch({ reason: "", checkpoint: { name, time_s: time } })} onGuess={(side, foot) => changeGround.mutate({ guess: { side, foot } as Schemas["GuessIn"] })}
          onSplit={(y) => changeGround.mutate({ split: { split_m: y } })} onShift={(to) => changeGround.mutate({ clock: { shift_s: to } })} busy={changeGround.isPending} error={changeGround.error ?? undo.error}
        />
      ) : (
      <main className={`grid min-h-0 flex-1 gap-6 px-7 ${grid}`}>
        {shown3d ? (
          <div className={`min-h-0 py-1 ${bar === "left" ? "order-2" : ""}`}>
            <Suspense fallback={<Loading what="Drawing the figure" />}>
              {joints.data ? (
                <Figure3D
                  key={s.id} block={joints.data} traces={t} info={s.figure!} mirror={mirror} cursor={cursor} theme={isDark() ? "dark" : "light"}
                  addressS={checkpoints.find((b) => b.name === "address")?.time ?? t.time[0]!} startS={checkpoints.find((b) => b.name === "takeaway")?.time ?? t.time[0]!}
                  endS={(checkpoints.find((b) => b.name === "impact")?.time ?? t.time[t.n - 1]!) + 0.15} says={overlayWords(catalogue.data!.metrics, t, now, words)}
                />
              ) : joints.error ? <ErrorLine error={joints.error} /> : <Loading what="Drawing the figure" />}
            </Suspense>
          </div>
        ) : null}
        <div className={shown3d ? "flex min-h-0 flex-col" : "contents"}>
          <div className={shown3d ? "grid h-[248px] flex-none grid-cols-[330px_1fr] gap-2 pt-1" : `min-h-0 py-1 ${bar === "left" ? "order-2" : ""}`}>
            <ArcNavigator checkpoints={checkpoints} start={t.time[0]!} end={t.time[t.n - 1]!} cursor={cursor} out={out} mirror={mirror} selected={selected} verdicts={verdicts} onSelect={select} compact={shown3d}>
              {view ? (
                <>
                  <g transform={shown3d ? "translate(260,262) scale(1.2)" : "translate(262,176) scale(0.98)"} pointerEvents="none">
                    <MeasureGauge metric={shownMeasure} drawing={view.drawing} value={value} low={low ?? null} high={high ?? null} out={isOut} mirror={mirror} />
                  </g>
                  {shown3d ? null : (
                    <g pointerEvents="none" textAnchor="middle" fill="var(--ink)">
                      <text x={268} y={360} fontSize={shownAmount.length > 5 ? 92 : 124} fontWeight={700} className="figure">{shownAmount}</text>
                      <text x={260} y={398} fontSize={24}>{shownWords}</text>
                      {note ? <text x={260} y={428} fontSize={peek ? 22 : 20} fontWeight={peek ? 700 : 400}>{note}</text> : null}
                    </g>
                  )}
                </>
              ) : shown3d ? null : (
                <text x={260} y={276} fontSize={30} textAnchor="middle" fill="var(--muted)" pointerEvents="none">{group.name.toLowerCase()}</text>
              )}
            </ArcNavigator>
            {shown3d && view ? (
              <div className="self-center">
                <p className="text-lg text-muted">{metric ? label(metric, words) : view.name}{selected ? ` at ${selected === "top" ? "the top" : moment(selected)}` : ""}</p>
                <p className="figure text-[96px] leading-none font-bold">{shownAmount}</p>
                <p className="text-[26px] leading-tight">{shownWords}</p>
                {note ? <p className="text-lg">{note}</p> : null}
                {differing ? <p className="text-base leading-tight">{differing}</p> : null}
                <p className="mt-2 text-lg leading-tight text-muted">{headlineText}</p>
              </div>
            ) : null}
          </div>
          <div className="flex min-h-0 flex-col overflow-y-auto pt-3">
            {shown3d || (group.id === "sequence" && seen) ? null : (
              <>
                {s.sensor_moved ? null : kindNote ? <p className="text-lg text-muted">Swing {s.number} · {kindNote}{s.kind === "warm_up" || s.kind === "drill" ? ", does not count" : ""}</p> : null}
                <h2 className="text-[40px] leading-[1.12] font-bold">{headlineText}</h2>
                <p className="mt-2 text-xl leading-snug">{s.headline.tends}{s.warnings.filter((w) => w !== s.headline.text && !w.startsWith("The sensor may")).map((w) => ` ${w}`)}</p>
              </>
            )}
            {chooser()}
            {!seen ? (
              <Unseen group={group} swing={s} metrics={catalogue.data!.metrics} onBack={() => setMeasure(MEASURES.find((m) => t.columns[m.id])?.id ?? "")} />
            ) : group.id === "sequence" ? (
              <Sequence swing={s} traces={t} checkpoints={checkpoints} cursor={cursor} />
            ) : view && metric ? (
              <>
                <TraceChart
                  traces={t} metric={shownMeasure} checkpoints={checkpoints} ghost={ghost} over={overlay.data ?? null} cursor={cursor} out={out} selected={selected} onSelect={select}
                  {...sides(view, metric, words)} {...(shown3d ? { size: [600, 190] as [number, number] } : {})}
                  onMove={(name, time) => patch({ reason: "", checkpoint: { name, time_s: time } })}
                />
                <p className="flex flex-none flex-wrap items-center gap-x-5 text-base text-muted">
                  <span>— this swing</span>
                  {ghost ? <span>··· {ghost.label}</span> : null}
                  {out.length || t.columns[`${shownMeasure}_band_low`] ? <span><span className="inline-block h-3 w-6 border border-sea bg-band align-middle" /> {band ? `${band.by} (${band.range_id})` : "common among skilled adult players"}</span> : <span>no band for this measure here</span>}
                  <label className="flex items-center gap-2">
                    <span className={over && overlay.data?.columns[shownMeasure] ? "text-sea" : ""}>– –</span>
                    <select aria-label="Lay over" className="min-h-11 bg-paper text-base underline" value={over} onChange={(e) => setOver(e.target.value)}>
                      <option value="">no reference</option>
                      {(references.data ?? []).map((r) => <option key={r.id} value={r.id}>{r.name}</option>)}
                    </select>
                    {over && overlay.isSuccess && !overlay.data?.columns[shownMeasure] ? "does not carry this measure" : ""}
                  </label>
                  {differing && !shown3d ? <span>{differing}</span> : null}
                  {s.events.some((e) => e.corrected) ? (
                    <button type="button" className="min-h-11 underline" onClick={() => { const c = s.events.find((e) => e.corrected)!; patch({ reason: "", checkpoint: { name: c.name, time_s: null } }); }}>
                      {moment(s.events.find((e) => e.corrected)!.name)} moved by you; back to the detected one
                    </button>
                  ) : null}
                </p>
              </>
            ) : null}
            <ErrorLine error={changeSwing.error ?? block.error ?? undo.error ?? pin.error ?? changeLesson.error} />
          </div>
        </div>
      </main>
      )}
      <footer className={`flex flex-none items-center gap-2 border-t border-hairline px-7 py-2 ${bar === "left" ? "flex-row-reverse" : ""}`}>
        <Button className="px-3.5 whitespace-nowrap" tone="solid" onClick={train} disabled={l.blocks.some((b) => b.running)}>Train this</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={() => setSheet("why")}>Why?</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={() => setSheet("numbers")}>Numbers</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={toFigure} aria-pressed={shown3d} tone={shown3d ? "solid" : "line"} disabled={!s.figure} title="The whole figure">Figure</Button>
        <span className="flex-1" />
        {l.can_undo ? <Button className="px-3.5 whitespace-nowrap" tone="quiet" onClick={() => undo.mutate()} title={l.can_undo}>Undo</Button> : null}
        <Button className="px-3.5 whitespace-nowrap" onClick={() => setSheet("ball")} title="Ball flight and strike">{s.ball_start ? ballWords(s.ball_start, s.ball_curve, hand).split(",")[0]!.replace("starts ", "Ball ") : "Ball"}</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={() => setSheet("club")}>Club</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={() => setSheet("kind")}>Mark</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={togglePin} aria-pressed={pinned}>{pinned ? "Unpin" : "Pin"}</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={() => setPeek((p) => !p)} aria-pressed={peek} disabled={!before}>Before</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={() => go(swings[index - 1])} disabled={index <= 0} aria-label="Previous swing">←</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={() => go(swings[index + 1])} disabled={index < 0 || index >= swings.length - 1} aria-label="Next swing">→</Button>
        <Button className="px-3.5 whitespace-nowrap" onClick={showIt}>Show</Button>
      </footer>
      <KindSheet open={sheet === "kind"} onClose={() => setSheet("")} swing={s} onKind={(kind, reason) => { patch({ kind, reason }); setSheet(""); }} onTags={(tags) => patch({ reason: "", tags })} onReference={(form) => reference.mutate({ name: "", form, swing_ids: form === "best" && l.pinned.length ? l.pinned : [s.id] })} kept={reference.data?.form ?? ""} pinned={l.pinned.length} error={reference.error} />
      <BallSheet open={sheet === "ball"} onClose={() => setSheet("")} swings={l.swings} swing={s} hand={hand} onBall={(id, p) => changeSwing.mutate({ id, patch: p })} />
      <ClubSheet open={sheet === "club"} onClose={() => setSheet("")} swing={s} clubs={catalogue.data!.clubs} onClub={(club, next) => { patch({ reason: "", club }); if (next) changeLesson.mutate({ club }); setSheet(""); }} />
      <Numbers open={sheet === "numbers"} onClose={() => setSheet("")} swing={s} catalogue={catalogue.data!} words={words} summary={summary} />
      <Why open={sheet === "why"} onClose={() => setSheet("")} swing={s} summary={summary} catalogue={catalogue.data!} words={words} onGo={(m, e) => { setMeasure(measureOf(m)); select(checkpointOf(e)); setSheet(""); }} />
    </div>
  );
}
