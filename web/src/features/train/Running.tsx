import { useEffect, useRef, useState } from "react";
import { useMutation } from "@tanstack/react-query";

import { api, data, type Schemas } from "@/api/client";
import type { Feed, Now, Repetition } from "@/lib/feed";
import { change as changeSettings } from "@/lib/settings";
import { pitchOf, TONES, TrainerTone, WHENS, type Tone, type When } from "@/lib/tones";
import { direction, type MetricWords, type Vocabulary } from "@/lib/words";
import { TrainerStage } from "@/shared/live/TrainerStage";
import { Button, Choice, ErrorLine, useSettings } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { Sheet } from "@/shared/ui/Sheet";

import type { useTraining } from "./useTraining";
import { tr } from "@/lib/language";

interface Props {
  lessonId: string;
  feed: Feed;
  now: Now;
  running: Schemas["TrainingOut"];
  metric: MetricWords;
  training: ReturnType<typeof useTraining>;
  mirror: boolean;
}

const GUESSES = ["much_less", "less", "same", "more", "much_more"] as const;
type Guess = (typeof GUESSES)[number];

/** A guess in the words of the measure. */
function guessWords(guess: Guess, metric: MetricWords, words: Vocabulary): string {
  if (guess === "same") return tr("As wanted");
  const way = direction(metric, guess.endsWith("less") ? -1 : 1, words);
  const very = guess.startsWith("much") ? tr("Much too") : tr("Too");
  return way ? `${very} ${way}` : guess.endsWith("less") ? tr("{very} little", { very }) : tr("{very} much", { very });
}

/** What was felt against what was, in words. */
function saysFelt(r: Repetition, metric: MetricWords, words: Vocabulary): string {
  const real = Math.max(-2, Math.min(2, GUESSES.indexOf(r.felt as Guess) - 2 - (r.felt_steps ?? 0)));
  return tr("It felt: {words}. It was: {words2}.", {
    words: guessWords(r.felt as Guess, metric, words).toLowerCase(),
    words2: guessWords(GUESSES[real + 2]!, metric, words).toLowerCase(),
  });
}

/** A training under way: sound, shape and words, and what the player felt before it is shown. */
export function Running({ lessonId, feed, now, running, metric, training, mirror }: Props) {
  const { words, trainerTone, trainerWhen, trainerVolume, guessFirst, sound } = useSettings();
  const [more, setMore] = useState(false);
  const [asked, setAsked] = useState<number | null>(null);
  const [last, setLast] = useState<Repetition | null>(null);
  const [muted, setMuted] = useState(true);
  const tone = useRef<TrainerTone | null>(null);
  const when = useRef<When>(trainerWhen);
  const guess = useRef(guessFirst);
  useEffect(() => {
    when.current = sound && !muted ? trainerWhen : "never";
    guess.current = guessFirst;
    tone.current?.change(trainerTone, trainerVolume);
  }, [trainerWhen, trainerTone, trainerVolume, guessFirst, muted, sound]);
  useEffect(() => {
    const made = new TrainerTone(trainerTone, trainerVolume);
    tone.current = made;
    const end = feed.listen((seen, told) => {
      if (told.type === "now") made.sound(pitchOf(when.current, seen.decision));
      if (told.type === "repetition") {
        const repetition = told as unknown as Repetition;
        if (guess.current && !seen.trainer?.test) setAsked(repetition.number);
      }
    });
    return () => {
      end();
      made.stop();
      tone.current = null;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- tone and volume are changed in place, without a break in the sound
  }, [feed]);
  const ask = useMutation({
    mutationFn: (count: number) => data(api.POST("/api/lessons/{lesson_id}/stand-in/swings", { params: { path: { lesson_id: lessonId } }, body: { count } })),
  });
  const toggleSound = () => {
    tone.current?.wake();
    if (!sound) changeSettings({ sound: true });
    setMuted((m) => (sound ? !m : false));
  };
  const say = (g: Guess) => {
    if (asked === null) return;
    training.felt.mutate({ number: asked, guess: g }, { onSuccess: (page) => setLast(page.running?.repetitions.find((r) => r.number === asked) ?? null) });
    setAsked(null);
  };
  const test = () => training.change.mutate({ test: true });
  useKeys({
    s: toggleSound,
    t: () => running.kind === "drill" && test(),
    e: () => training.end.mutate(),
    ...Object.fromEntries(GUESSES.map((g, k) => [String(k + 1), () => say(g)])),
  });
  if (!now.trainer)
    return (
      <div className="grid h-full content-center gap-5 px-7 max-[700px]:px-4">
        <p className="text-[56px] leading-tight font-bold max-[700px]:text-[34px]">{now.going ? tr("One moment") : tr("Fit and calibrate first.")}</p>
        <p className="text-2xl text-muted">{words === "plain" ? running.plain_words : running.words}</p>
        <div>
          <Button onClick={() => training.end.mutate()}>{tr("Choose another band")}</Button>
        </div>
      </div>
    );
  const silent = muted || !sound || trainerWhen === "never";
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        <TrainerStage now={now} metric={metric} words={words} mirror={mirror} hidden={asked}>
          {asked !== null ? (
            <div className="mt-4 flex flex-wrap gap-2" role="group" aria-label={tr("What did you feel?")}>
              {GUESSES.map((g, k) => (
                <Button key={g} hint={String(k + 1)} onClick={() => say(g)}>
                  {guessWords(g, metric, words)}
                </Button>
              ))}
            </div>
          ) : last && running.kind === "drill" ? (
            <p className="mt-3 text-2xl max-[700px]:text-lg">{saysFelt(last, metric, words)}</p>
          ) : null}
        </TrainerStage>
      </div>
      <Feel made={running.repetitions} />
      <div className="flex flex-none flex-wrap items-center gap-3 border-t border-hairline px-7 py-3 max-[700px]:gap-2 max-[700px]:px-4">
        <Button tone={silent ? "line" : "solid"} aria-pressed={!silent} onClick={toggleSound} hint="s">
          {silent ? tr("Sound off") : tr("Sound on")}
        </Button>
        {running.kind === "drill" ? (
          <Button onClick={test} disabled={training.change.isPending} hint="t">
            {tr("Test it")}
          </Button>
        ) : null}
        <Button onClick={() => training.end.mutate()} disabled={training.end.isPending} hint="e">
          {tr("End")}
        </Button>
        <Button onClick={() => ask.mutate(1)} disabled={ask.isPending}>
          {running.club === "putter" ? tr("Stand-in: putt") : tr("Stand-in: swing")}
        </Button>
        <Button aria-haspopup="dialog" onClick={() => setMore(true)}>
          {tr("More")}
        </Button>
        <span className="flex-1" />
        <span className="text-lg text-muted">{tr("Stop if it hurts.")}</span>
        <ErrorLine error={training.change.error ?? training.end.error ?? training.felt.error ?? ask.error} />
      </div>
      <Sheet open={more} onClose={() => setMore(false)} title={tr("Trainer")}>
        <div className="grid gap-4 text-lg">
          <div>
            <p className="text-muted">{tr("The tone sounds")}</p>
            <Choice
              label={tr("The tone sounds")}
              value={trainerWhen}
              onChange={(w) => changeSettings({ trainerWhen: w })}
              options={(Object.keys(WHENS) as When[]).map((id) => ({ id, label: WHENS[id] }))}
            />
          </div>
          <div>
            <p className="text-muted">{tr("Tone")}</p>
            <Choice
              label={tr("Tone")}
              value={trainerTone}
              onChange={(t) => changeSettings({ trainerTone: t })}
              options={(Object.keys(TONES) as Tone[]).map((id) => ({ id, label: TONES[id] }))}
            />
          </div>
          <label className="block">
            <span className="block text-muted">{tr("Volume")}</span>
            <input
              type="range"
              min={0.05}
              max={0.8}
              step={0.05}
              value={trainerVolume}
              onChange={(e) => changeSettings({ trainerVolume: Number(e.target.value) })}
              className="h-14 w-full accent-[var(--ink)]"
            />
          </label>
          <Switch on={guessFirst} onChange={(on) => changeSettings({ guessFirst: on })} says={tr("Ask what was felt before it is shown")} />
          <Switch on={running.fades} onChange={(fades) => training.change.mutate({ fades, test: false })} says={tr("Less feedback with success")} />
          <Switch on={running.locked} onChange={(locked) => training.change.mutate({ locked, test: false })} says={tr("Keep the band as wide as it is")} />
        </div>
      </Sheet>
    </div>
  );
}

function Switch({ on, onChange, says }: { on: boolean; onChange: (on: boolean) => void; says: string }) {
  return (
    <label className="flex min-h-14 items-center gap-4">
      <input type="checkbox" className="size-7 accent-[var(--ink)]" checked={on} onChange={(e) => onChange(e.target.checked)} />
      {says}
    </label>
  );
}

/** The error of feel over the block: on the line is felt right, above it more was felt than was there. */
function Feel({ made }: { made: Schemas["TrainingOut"]["repetitions"] }) {
  const felt = made.filter((r) => r.felt_steps != null);
  if (felt.length < 2) return null;
  const x = (k: number) => 20 + (k * 560) / Math.max(1, felt.length - 1);
  const y = (steps: number) => 36 - 8 * Math.max(-4, Math.min(4, steps));
  return (
    <div className="flex flex-none items-center gap-4 px-7 max-[700px]:hidden">
      <span className="text-lg text-muted">{tr("Feel against what was")}</span>
      <svg
        viewBox="0 0 600 72"
        className="h-[60px] flex-1"
        role="img"
        aria-label={tr("Error of feel over {length} repetitions", { length: felt.length })}
        preserveAspectRatio="none"
      >
        <line x1={0} x2={600} y1={36} y2={36} stroke="var(--hairline)" strokeWidth={2} />
        <polyline points={felt.map((r, k) => `${x(k)},${y(r.felt_steps!)}`).join(" ")} fill="none" stroke="var(--ink)" strokeWidth={2.5} />
        {felt.map((r, k) => (
          <circle
            key={r.number}
            cx={x(k)}
            cy={y(r.felt_steps!)}
            r={5}
            fill={r.felt_steps === 0 ? "var(--ink)" : "var(--paper)"}
            stroke="var(--ink)"
            strokeWidth={2.5}
          />
        ))}
      </svg>
    </div>
  );
}
