import { useState, useSyncExternalStore, type ReactNode } from "react";

import { type Schemas } from "@/api/client";
import { useCatalogue, useGroundReferences, useMat } from "@/api/hooks";
import { shownValue, valueWords } from "@/lib/values";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { alongWord, footName, leftToRight, type Side } from "@/lib/mat";
import { isDark } from "@/lib/settings";
import { valueAt, type Traces } from "@/lib/traces";
import { moment, type MetricWords, type Vocabulary } from "@/lib/words";
import { ArcNavigator } from "@/shared/arc/ArcNavigator";
import type { Ghost } from "@/shared/charts/TraceChart";
import { MatPicture } from "@/shared/ground/MatPicture";
import { ErrorLine, Loading, useSettings } from "@/shared/ui/controls";

import { AboutMat } from "./AboutMat";
import { chosenLook, Opening } from "../Opening";
import { GroundChart, PANELS, type Panel } from "./GroundChart";
import { AskGuess, FeelAndReal } from "./Guess";
import { useStateFrom } from "@/shared/ui/useStateFrom";
import { number, tr } from "@/lib/language";

interface Props {
  swing: Schemas["SwingOut"];
  ground: Schemas["GroundOut"];
  traces: Traces;
  checkpoints: Checkpoint[];
  cursor: Cursor;
  ghost: Ghost | null;
  mirror: boolean;
  words: Vocabulary;
  selected: string | null;
  verdicts: Record<string, string>;
  bar: "left" | "right";
  chooser: ReactNode;
  /** Which measure of the group the keys have chosen. */
  measure: string;
  onSelect: (name: string) => void;
  onMove: (name: string, time: number) => void;
  onGuess: (side: string, foot: string) => void;
  onSplit: (splitM: number | null) => void;
  onShift: (shift: number | null) => void;
  busy: boolean;
  error: unknown;
}

/** Side by side, or one over the other where the screen stands upright. */
const GRID = ["grid-cols-[540px_1fr] max-[1180px]:grid-cols-[400px_1fr]", "grid-cols-[1fr_540px] max-[1180px]:grid-cols-[1fr_400px]"] as const;
const UPRIGHT = "grid-rows-[minmax(0,1fr)] portrait:grid-cols-[minmax(0,1fr)] portrait:grid-rows-[minmax(0,44fr)_minmax(0,56fr)]";

const PANEL_OF: Record<string, Panel> = { lead_heel_toe: "along", vertical_force: "force" };

/** What the ground's own findings say of this swing, else where the pressure was at impact. */
function sentences(s: Schemas["SwingOut"], ground: Schemas["GroundOut"], metrics: readonly MetricWords[], words: Vocabulary): { main: string; also: string } {
  const finding = s.findings.find((f) => /share|stance|heel_toe|return_time|push_off|trail_peak/.test(f.metric) && f.severity >= 0.12);
  const says = finding ? `${words === "plain" ? finding.player_says : finding.says} ${finding.tends}` : "";
  if (ground.sentence) return { main: ground.sentence, also: says };
  const at = shownValue(s, "stance_position", "impact");
  const place = at
    ? tr("At impact: {valueWords}.", {
        valueWords: valueWords(
          at,
          metrics.find((m) => m.id === "stance_position"),
          words,
        ),
      })
    : tr("The way of the pressure is shown.");
  const place2 =
    at && s.events.some((e) => e.name === "impact" && e.method === "vertical-force-peak")
      ? tr("{place} Impact is taken from the push, ±{uncertainty_s} s.", {
          place,
          uncertainty_s: number(s.events.find((e) => e.name === "impact")!.uncertainty_s, 2),
        })
      : place;
  return {
    main: finding ? (words === "plain" ? finding.player_says : finding.says) : place,
    also: [finding ? place2 : place2.slice(place.length).trim(), ground.no_sentence].filter(Boolean).join(" "),
  };
}

/** Stretches of the swing in which the pressure is outside its band: from where it should have started back to where it did, and impact. */
function outSpans(s: Schemas["SwingOut"], checkpoints: Checkpoint[]): [number, number][] {
  const at = (n: string) => checkpoints.find((b) => b.name === n)?.time;
  const out: [number, number][] = [];
  const back = shownValue(s, "return_time", "top");
  const top = at("top");
  if (back?.judged && /high/.test(back.judged.verdict) && back.judged.band?.high != null && top !== undefined)
    out.push([top + back.judged.band.high, top + back.value]);
  const place = shownValue(s, "stance_position", "impact")?.judged;
  const impact = at("impact");
  if (place && /low|high/.test(place.verdict) && impact !== undefined) out.push([impact - 0.03, impact + 0.01]);
  return out;
}

/** When the pressure should start back, and when it does. */
function dueBack(s: Schemas["SwingOut"], checkpoints: Checkpoint[]): { from: number; to: number; at: number | null } | null {
  const back = shownValue(s, "return_time", "top");
  const top = checkpoints.find((b) => b.name === "top")?.time;
  const { low, high } = back?.judged?.band ?? {};
  return !back || low == null || high == null || top === undefined ? null : { from: top + low, to: top + high, at: top + back.value };
}

/** Lead of the pressure over the body, in words. */
function bodyWords(s: Schemas["SwingOut"], metrics: readonly MetricWords[], words: Vocabulary): string {
  const found = metrics.flatMap((m) => (m.id.startsWith("pressure_before_") ? [{ m, v: shownValue(s, m.id, "swing") }] : []));
  return found.flatMap(({ m, v }) => (v ? [tr("The pressure moves {valueWords}.", { valueWords: valueWords(v, m, words) })] : [])).join(" ");
}

/** Share of a foot and where along it, under its picture. */
function UnderFoot({ side, traces, cursor, mirror, veiled }: { side: Side; traces: Traces; cursor: Cursor; mirror: boolean; veiled: boolean }) {
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const lead = valueAt(traces, "lead_share", now);
  const share = lead === null ? null : side === "lead" ? lead : 100 - lead;
  const along = valueAt(traces, `${side}_heel_toe`, now);
  return (
    <div className="text-center">
      <p className="figure text-[96px] leading-none font-bold max-[1180px]:text-[72px] max-[700px]:text-[48px]">
        {veiled ? (
          "?"
        ) : share === null ? (
          "–"
        ) : (
          <>
            {Math.round(share)}
            <span className="text-[0.5em]"> %</span>
          </>
        )}
      </p>
      <p className="text-[22px] leading-tight max-[700px]:text-lg">
        {footName(side, mirror)}
        {veiled || along === null ? "" : ` · ${alongWord(along)}`}
      </p>
    </div>
  );
}

/** The Ground view of a swing: the mat from above, what is on each foot, one sentence, the course over time. */
export function GroundStage(props: Props) {
  const { swing, ground, traces, checkpoints, cursor, ghost, mirror, words, bar } = props;
  const mat = useMat(swing);
  const references = useGroundReferences();
  const { askFirst } = useSettings();
  const [skipped, setSkipped] = useStateFrom(() => false, swing.id);
  const [editing, setEditing] = useState(false);
  const [panel, setPanel] = useStateFrom<Panel>(() => PANEL_OF[props.measure] ?? "between", props.measure);
  const veiled = askFirst && !ground.guess && !skipped && ground.real !== null;
  const impact = checkpoints.find((b) => b.name === "impact")?.time ?? traces.time[traces.n - 1]!;
  const address = checkpoints.find((b) => b.name === "address")?.time ?? traces.time[0]!;
  const chosen = ground.bands.find((b) => b.chosen);
  const reference = references.data?.find((r) => r.school === chosen?.school) ?? references.data?.[0] ?? null;
  const timed = checkpoints.some((b) => b.name === "top") && checkpoints.some((b) => b.name === "takeaway");
  const metrics = useCatalogue().data?.metrics ?? [];
  const told = sentences(swing, ground, metrics, words);
  const hasBody = Boolean(traces.columns["pelvis_sway"] ?? traces.columns["pelvis_turn"]);
  const panels = PANELS.filter((p) => p.id !== "body" || hasBody);
  const matNotes = [
    ...ground.feet.filter((f) => f.partly_off).map((f) => tr("{what} partly off the mat: not judged", { what: footName(f.side, mirror) })),
    ...(ground.feet.length === 1 ? [tr("Only one foot stands on the mat: stand with both on it.")] : []),
  ];

  return (
    <main className={`grid min-h-0 flex-1 gap-x-7 px-7 max-[1180px]:gap-x-4 max-[1180px]:px-4 ${bar === "left" ? GRID[1] : GRID[0]} ${UPRIGHT}`}>
      <section className={`flex min-h-0 flex-col pt-1 [container-type:size] ${bar === "left" ? "landscape:order-2" : ""}`} aria-label={tr("The mat")}>
        {mat.data ? (
          <MatPicture
            block={mat.data}
            ground={ground}
            cursor={cursor}
            mirror={mirror}
            theme={isDark() ? "dark" : "light"}
            veiled={veiled}
            editing={editing}
            startS={address}
            endS={impact + 0.3}
            onSplit={(y) => props.onSplit(Math.round(y * 10000) / 10000)}
          />
        ) : mat.error ? (
          <ErrorLine error={mat.error} />
        ) : (
          <Loading what={tr("Laying out the mat")} />
        )}
        {ground.feet.length === 2 || ground.feet.length === 0 ? (
          <div className="mt-1 grid flex-none grid-cols-2">
            {leftToRight(mirror).map((side) => (
              <UnderFoot key={side} side={side} traces={traces} cursor={cursor} mirror={mirror} veiled={veiled} />
            ))}
          </div>
        ) : null}
        {!veiled && told.also ? <p className="mt-2 flex-none text-xl leading-snug [@container(height<460px)]:hidden">{told.also}</p> : null}
        {matNotes.map((n) => (
          <p key={n} role="alert" className="mt-2 flex-none border-l-4 border-rust pl-3 text-lg">
            {n}
          </p>
        ))}
        <AboutMat ground={ground} editing={editing} onEditing={setEditing} onSplit={props.onSplit} onShift={props.onShift} busy={props.busy} />
      </section>
      <section className="flex min-h-0 flex-col [container-type:size]">
        <div className="grid h-[164px] flex-none grid-cols-[210px_1fr] items-center gap-4 pt-1 [@container(height<520px)]:h-[128px] [@container(height<440px)]:hidden">
          <ArcNavigator
            checkpoints={checkpoints}
            start={traces.time[0]!}
            end={traces.time[traces.n - 1]!}
            cursor={cursor}
            out={outSpans(swing, checkpoints)}
            due={veiled ? null : dueBack(swing, checkpoints)}
            mirror={mirror}
            selected={props.selected}
            verdicts={props.verdicts}
            onSelect={props.onSelect}
            compact
          />
          <div>
            <p className="text-[26px] font-bold">
              {props.selected ? tr("At {what}", { what: props.selected === "top" ? tr("the top") : moment(props.selected) }) : tr("In between")}
            </p>
            {veiled ? null : <FeelAndReal ground={ground} mirror={mirror} />}
            {!veiled && panel === "body" ? <p className="text-[22px] leading-snug">{bodyWords(swing, metrics, words)}</p> : null}
          </div>
        </div>
        {veiled ? (
          <>
            <AskGuess mirror={mirror} onGuess={props.onGuess} onSkip={() => setSkipped(true)} />
            <div className="mt-6 flex-none">{props.chooser}</div>
          </>
        ) : (
          <>
            <h2
              className={`figure flex-none leading-[1.1] font-bold max-[700px]:text-[28px] ${told.main.length > 84 ? "text-[34px]" : "text-[40px]"}`}
              data-testid="ground-sentence"
            >
              {told.main}
            </h2>
            <div className="mt-1 flex flex-none flex-wrap items-center">
              {props.chooser}
              <span className="mt-2 hidden [@container(width<600px)]:inline">
                <Opening
                  label={tr("Course: {name}", { name: panels.find((p) => p.id === panel)!.name })}
                  title={tr("Courses of the pressure")}
                  chosen={panel}
                  entries={panels.map((p) => ({ ...p, note: "" }))}
                  onChoose={(id) => setPanel(id as Panel)}
                >
                  {panels.find((p) => p.id === panel)!.name}
                </Opening>
              </span>
              {panels.map((p) => (
                <button
                  key={p.id}
                  type="button"
                  aria-pressed={p.id === panel}
                  onClick={() => setPanel(p.id)}
                  className={`min-h-14 min-w-14 px-2.5 text-lg [@container(width<600px)]:hidden ${p.id === panel ? chosenLook : "text-muted"}`}
                >
                  {p.name}
                </button>
              ))}
            </div>
            <GroundChart
              panel={panel}
              traces={traces}
              ground={ground}
              judged={swing.judged}
              checkpoints={checkpoints}
              cursor={cursor}
              ghost={ghost}
              reference={timed ? reference : null}
              mirror={mirror}
              onSelect={props.onSelect}
              onMove={props.onMove}
            />
            <p className="flex flex-none flex-wrap items-center gap-x-5 py-1 text-base leading-tight text-muted [@container(height<440px)]:hidden">
              {ghost || timed ? <span>{tr("— this swing")}</span> : null}
              {ghost && panel !== "body" ? <span>··· {ghost.label}</span> : null}
              {reference && timed && (panel === "between" || panel === "along") ? <span className="text-sea">{tr("– – skilled, synthetic")}</span> : null}
              {!timed ? <span>{tr("skilled course: needs the club")}</span> : null}
              {panel === "between" && chosen ? (
                <span>{tr("bands {what}", { what: chosen.provenance === "MEM" ? tr("quoted from memory") : tr("are house values") })}</span>
              ) : null}
            </p>
          </>
        )}
        {props.error ? <ErrorLine error={props.error as Error} /> : null}
      </section>
    </main>
  );
}
