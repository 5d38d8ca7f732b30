import { getRouteApi } from "@tanstack/react-router";
import { useMemo, useState } from "react";

import { useLesson, useUndo } from "@/api/hooks";
import { useCourses, usePutting, type Putting as Read, type Step } from "@/api/putting";
import { makeCursor } from "@/lib/cursor";
import { distanceWords, sameDistance, STEPS, STEP_NAMES, stepBy, type StepId, type Unit } from "@/lib/putts";
import { type Vocabulary } from "@/lib/words";
import { Button, ErrorLine, Loading, useSettings } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";

import { NotesSheet } from "./NotesSheet";
import { Nothing } from "./Nothing";
import { Picture } from "./Picture";
import { PutterSheet } from "./PutterSheet";
import { SetSheet } from "./SetSheet";
import { tr, trn } from "@/lib/language";

const route = getRouteApi("/signed-in/lessons/$lessonId/putting");

/** The putts of a lesson, read in seven steps: one question a screen, one sentence, one key to the next. */
export function Putting() {
  const { lessonId } = route.useParams();
  const { step = "address", far, putt: puttId, rate, piece } = route.useSearch();
  const navigate = route.useNavigate();
  const lesson = useLesson(lessonId);
  const putting = usePutting(lessonId);
  const courses = useCourses(lessonId, putting.data?.putts);
  const { words, bar } = useSettings();
  const [sheet, setSheet] = useState<"" | "set" | "notes" | "putter">(piece ? "set" : "");
  const { undo, redo } = useUndo(lessonId);
  const cursor = useMemo(() => makeCursor(0), []);

  const rows = useMemo(() => putting.data?.rows.filter((r) => r.putts.length > 0) ?? [], [putting.data]);
  const row = rows.find((r) => sameDistance(r.distance_m, far === "none" ? null : (far ?? -1))) ?? rows[0];
  const putts = useMemo(() => {
    const known = new Map(putting.data?.putts.map((p) => [p.id, p]));
    return (row?.putts ?? []).flatMap((id) => known.get(id) ?? []);
  }, [putting.data, row]);

  const show = (to: Partial<{ step: StepId; far: number | "none"; putt: string; rate: boolean }>) =>
    void navigate({ search: (now) => ({ ...now, ...to }), replace: true });
  const goTo = (next: StepId) => next !== step && show({ step: next });
  const nextRow = () => {
    const next = rows[(rows.indexOf(row!) + 1) % rows.length];
    if (next && next !== row) show({ far: next.distance_m ?? "none", putt: "" });
  };
  const drawn = putts.filter((p) => courses.data?.get(p.id)?.columns["head_along"]);
  const chosen = putts.find((p) => p.id === puttId) ?? drawn.find((p) => p.counts) ?? putts.find((p) => p.counts) ?? putts[0];
  const chooseBy = (by: number) => {
    const next = putts[putts.indexOf(chosen!) + by];
    if (next) show({ putt: next.id });
  };
  const scrub = (by: number) => {
    const course = chosen && courses.data?.get(chosen.id);
    if (course) cursor.set(Math.min(course.time.at(-1)!, Math.max(course.time[0]!, cursor.get() + by * 0.02)));
  };
  const capture = () => void navigate({ to: "/lessons/$lessonId/capture", params: { lessonId } });
  const back = () => goTo(stepBy(step, -1));
  const on = () => goTo(stepBy(step, 1));
  useKeys({
    PageDown: on,
    PageUp: back,
    Enter: on,
    " ": on,
    ...Object.fromEntries(STEPS.map((s, k) => [String(k + 1), () => goTo(s)])),
    f: nextRow,
    r: () => show({ rate: !rate }),
    ArrowRight: () => scrub(1),
    ArrowLeft: () => scrub(-1),
    ArrowDown: () => chooseBy(1),
    ArrowUp: () => chooseBy(-1),
    h: () => setSheet((s) => (s === "set" ? "" : "set")),
    n: () => setSheet((s) => (s === "notes" ? "" : "notes")),
    v: () => step === "putter" && setSheet((s) => (s === "putter" ? "" : "putter")),
    z: () => putting.data?.can_undo && undo.mutate(),
    Z: () => putting.data?.can_redo && redo.mutate(),
    Escape: () => (sheet ? setSheet("") : capture()),
  });

  if (lesson.isPending || putting.isPending) return <Loading what={tr("Opening the putts")} />;
  const error = lesson.error ?? putting.error ?? courses.error;
  if (error || !putting.data || !lesson.data)
    return (
      <div className="p-8">
        <ErrorLine error={error} />
      </div>
    );
  if (!row) return <Nothing lessonId={lessonId} />;
  const read = putting.data;
  const told = step === "distances" ? read.across : row.steps.find((s) => s.step === step)!;
  const unit = read.plan.unit as Unit;
  const at = STEPS.indexOf(step);
  const next = STEPS[at + 1];
  const rated = step === "extension" || step === "deviation" || step === "rotation";
  return (
    <div className="flex h-full flex-col">
      <nav
        aria-label={tr("Steps")}
        className="flex flex-none flex-wrap items-center gap-x-1 border-b border-hairline px-7 max-[1180px]:px-4 max-[700px]:gap-x-0"
      >
        {STEPS.map((s, k) => (
          <StepButton key={s} n={k + 1} name={STEP_NAMES[s][words]} here={s === step} tone={toneOf(read, row.steps, s)} onClick={() => goTo(s)} />
        ))}
        <span className="flex-1" />
        {step === "distances" ? null : (
          <span role="radiogroup" aria-label={tr("Distance")} className="flex items-center">
            {rows.map((r) => {
              const here = r === row;
              return (
                <button
                  key={r.distance_m ?? "none"}
                  type="button"
                  role="radio"
                  aria-checked={here}
                  onClick={() => show({ far: r.distance_m ?? "none", putt: "" })}
                  className={`min-h-14 min-w-14 px-3 text-xl ${here ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
                >
                  {r.distance_m === null ? tr("not noted") : distanceWords(r.distance_m, unit)}
                </button>
              );
            })}
          </span>
        )}
      </nav>
      <main className="flex min-h-0 flex-1 flex-col px-7 pt-3 max-[1180px]:px-4">
        {read.notes.map((note) => (
          <p key={note} className="text-lg">
            {note}
          </p>
        ))}
        <Sentence step={told} words={words} />
        <Facts step={told} words={words} />
        <Picture
          lessonId={lessonId}
          step={step}
          read={read}
          row={row}
          putts={putts}
          courses={courses.data}
          chosen={chosen}
          cursor={cursor}
          rate={Boolean(rate)}
          words={words}
          mirror={lesson.data.player.handedness === "left"}
          onChoose={(id) => show({ putt: id })}
        />
      </main>
      <footer
        className={`flex flex-none items-center gap-2 border-t border-hairline px-7 py-2 max-[1180px]:px-4 max-[700px]:gap-1.5 ${bar === "left" ? "flex-row-reverse" : ""}`}
      >
        <Button tone="solid" onClick={next ? on : capture} hint={next ? tr("Page Down") : "Esc"} className="whitespace-nowrap max-[700px]:px-3">
          <span>
            {next ? tr("Next") : tr("To the putts")}
            {next ? <span className="max-[900px]:hidden">: {STEP_NAMES[next][words].toLowerCase()}</span> : null}
          </span>
        </Button>
        <Button onClick={back} disabled={at === 0}>
          {tr("Back")}
        </Button>
        <span className="flex-1" />
        {step === "putter" && read.noted ? (
          <Button aria-haspopup="dialog" onClick={() => setSheet("putter")} hint="v" className="max-[700px]:px-3">
            {tr("Pivot")}
          </Button>
        ) : null}
        {rated ? (
          <Button aria-pressed={Boolean(rate)} onClick={() => show({ rate: !rate })} hint="r" className="max-[700px]:px-3">
            {rate ? tr("Angles") : tr("Rates")}
          </Button>
        ) : null}
        <Button aria-haspopup="dialog" onClick={() => setSheet("set")} hint="h" className="whitespace-nowrap max-[700px]:px-3">
          <span className="max-[700px]:hidden">{tr("Before changing")}</span>
          <span className="min-[700px]:hidden">{tr("Before")}</span>
        </Button>
        <Button aria-haspopup="dialog" onClick={() => setSheet("notes")} hint="n" className="max-[700px]:px-3">
          {tr("Notes")}
        </Button>
      </footer>
      <SetSheet open={sheet === "set"} onClose={() => setSheet("")} row={row} unit={unit} words={words} first={piece ?? ""} />
      {read.noted ? <PutterSheet open={sheet === "putter"} onClose={() => setSheet("")} lessonId={lessonId} noted={read.noted} /> : null}
      <NotesSheet open={sheet === "notes"} onClose={() => setSheet("")} lessonId={lessonId} read={read} row={row} putts={putts} chosen={chosen} />
    </div>
  );
}

function toneOf(read: Read, steps: readonly Step[], step: StepId): Step["tone"] {
  return step === "distances" ? read.across.tone : (steps.find((s) => s.step === step)?.tone ?? "unseen");
}

/** A step by its number; the one that is open by its name. Where to look is marked by shape. */
function StepButton({ n, name, here, tone, onClick }: { n: number; name: string; here: boolean; tone: Step["tone"]; onClick: () => void }) {
  return (
    <button
      type="button"
      aria-current={here ? "step" : undefined}
      aria-label={`${n} ${name}${tone === "look" ? tr(", look here") : tone === "unseen" ? tr(", not seen") : ""}`}
      onClick={onClick}
      className={`relative min-h-14 min-w-14 px-3 text-xl whitespace-nowrap ${here ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
    >
      {n}
      <span className={here ? "max-[700px]:hidden" : "hidden"}> {name}</span>
      {tone === "look" ? <span aria-hidden className="absolute bottom-0 left-1/2 h-1 w-5 -translate-x-1/2 bg-rust" /> : null}
    </button>
  );
}

const saidIn = (said: { text: string; plain: string }, words: Vocabulary) => (words === "plain" ? said.plain : said.text);

function Sentence({ step, words }: { step: Step; words: Vocabulary }) {
  const text = saidIn(step.said, words);
  return (
    <h2 className={`leading-[1.12] font-bold ${text.length > 84 ? "text-[34px] max-[700px]:text-[22px]" : "text-[40px] max-[700px]:text-[28px]"}`}>{text}</h2>
  );
}

/** The values beside the sentence, and how each is told. */
function Facts({ step, words }: { step: Step; words: Vocabulary }) {
  if (!step.facts.length) return null;
  const kinds = [...new Set(step.facts.map((f) => f.told).filter(Boolean))];
  const common = kinds.length === 1 ? kinds[0]! : "";
  const over = `${step.step === "distances" ? tr("over") : tr("middle of")} ${trn("{count} putt", "{count} putts", step.over)}`;
  return (
    <p className="mt-1 text-lg leading-snug text-muted max-[700px]:hidden">
      {step.facts.map((f) => (
        <span key={f.name.text + f.words.text} className="mr-5 inline-block">
          {saidIn(f.name, words)} <b className="text-ink">{saidIn(f.words, words)}</b>
          {common || !f.told ? "" : ` ${TOLD[f.told] ?? f.told}`}
        </span>
      ))}
      <span className="inline-block">{[common ? (TOLD_LONG[common] ?? common) : "", over, step.note].filter(Boolean).join(" · ")}</span>
    </p>
  );
}

const TOLD: Record<string, string> = { relative: tr("from address"), absolute: tr("absolute"), noted: tr("noted") };
const TOLD_LONG: Record<string, string> = { relative: tr("relative to address"), absolute: tr("absolute"), noted: tr("as noted") };
