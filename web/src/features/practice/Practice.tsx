/** @jsxImportSource preact */
import { useEffect, useRef, useState } from "preact/hooks";
import { dayWords } from "@/lib/dates";

import { answered, dayHere, firstOf, type Answer, type Block, type Page, type Plan } from "./answers";
import { Keeper, type State } from "./kept";
import { hearManner } from "./manner";
import { tr } from "@/lib/language";

const WHERE = [tr("lower back"), tr("neck"), tr("shoulder"), tr("elbow"), tr("wrist"), tr("hip"), tr("knee"), tr("somewhere else")];
const FEELS = [1, 2, 3, 4, 5];
const LINE = "border-b border-hairline";
const BUTTON = "min-h-14 rounded-full border-2 border-ink px-5 text-lg font-semibold";

const dayOf = (iso: string) => dayWords(iso, "weekdayLong");
const shortDay = (iso: string) => dayWords(iso, "weekdayShort");
const titleOf = (block: Block) => block.drills.map((d) => d.label).join(tr(", then ")) || tr("wait for your instructor");

/** Days that keep the plan's rules first, each kind in order of time. */
const byRules = (days: Page["days"][string]) => [...days].sort((a, b) => Number(a.breaks.length > 0) - Number(b.breaks.length > 0));

function feedbackWords(share: number): string {
  if (share === 0) return tr("No feedback in this one: no mirror, no film, no screen.");
  return share === 1
    ? tr("Look at the result each time.")
    : tr("Look at the result on {share} of 100 repetitions; feel the rest.", { share: Math.round(share * 100) });
}

/** The player's own page: today's block, a tick, how it felt, any pain. It works without a connection. */
export function Practice({ token }: { token: string }) {
  const [state, setState] = useState<State>({ at: "opening" });
  const keeperRef = useRef<Keeper | null>(null);
  const told = state.at === "here" ? state.page.manner : undefined;
  useEffect(() => {
    if (told) hearManner(token, told);
  }, [token, told]);
  useEffect(() => {
    const made = new Keeper(token, setState);
    keeperRef.current = made;
    setState(made.state);
    const meet = () => void made.meet();
    meet();
    window.addEventListener("online", meet);
    document.addEventListener("visibilitychange", meet);
    return () => {
      window.removeEventListener("online", meet);
      document.removeEventListener("visibilitychange", meet);
      made.end();
    };
  }, [token]);
  if (state.at === "opening") return <Words title={tr("Opening your practice …")} />;
  if (state.at === "gone")
    return <Words title={tr("This link opens nothing any more.")} more={tr("Ask your instructor for a new one. What was here is gone from this phone.")} />;
  if (state.at === "nothing")
    return <Words title={tr("Not connected.")} more={tr("Open this page once with a connection; after that it works without one.")} />;
  const say = (...answers: Answer[]) => keeperRef.current?.say(...answers);
  return (
    <main class="mx-auto flex min-h-full max-w-[560px] flex-col px-4 pt-4 pb-6">
      <Told page={state.page} waiting={state.waiting} online={state.online} words={state.words} />
      {state.page.plan ? (
        <Planned page={state.page} plan={state.page.plan} token={token} say={say} />
      ) : (
        <Words title={tr("There is no plan now.")} more={tr("Your instructor makes the next one.")} />
      )}
    </main>
  );
}

function Words({ title, more }: { title: string; more?: string }) {
  return (
    <div class="p-4">
      <h1 class="text-3xl font-bold">{title}</h1>
      {more ? <p class="mt-2 text-xl">{more}</p> : null}
    </div>
  );
}

function Told({ page, waiting, online, words }: { page: Page; waiting: number; online: boolean; words: string }) {
  const kept = waiting ? tr("What you said is kept here and goes through later.") : tr("What is here is from your last visit.");
  return (
    <div aria-live="polite">
      <p class="text-muted">{page.player ? tr("{player}'s practice", { player: page.player }) : tr("Practice")}</p>
      {online ? null : <p class="mt-1 border-l-4 border-ink pl-3">{tr("Not connected. {kept}", { kept })}</p>}
      {words ? <p class="mt-1 border-l-4 border-rust pl-3">{words}</p> : null}
    </div>
  );
}

function Planned({ page, plan, token, say }: { page: Page; plan: Plan; token: string; say: (...answers: Answer[]) => void }) {
  const today = dayHere();
  const [chosen, setChosen] = useState<number | null>(null);
  const [hurts, setHurts] = useState(false);
  const block = plan.blocks.find((b) => b.number === chosen) ?? firstOf(plan, today);
  const sayHere = (...answers: Answer[]) => {
    setChosen(block?.number ?? null); // once ticked it stays, with its questions
    say(...answers);
  };
  if (plan.stopped)
    return (
      <div role="alert" class="mt-4 border-l-4 border-rust pl-3">
        <h1 class="text-3xl font-bold">{tr("The plan has stopped.")}</h1>
        <p class="mt-2 text-xl">{plan.stopped}</p>
      </div>
    );
  return (
    <>
      {block ? (
        <OneBlock
          key={block.number}
          block={block}
          plan={plan}
          days={page.days[block.number] ?? []}
          today={today}
          say={sayHere}
          onHurts={() => setHurts(true)}
        />
      ) : (
        <Words title={tr("All of it is done.")} more={tr("The next plan comes with your next lesson.")} />
      )}
      {hurts ? <Hurts onSay={(where) => say(answered(plan, "pain", block, { where }))} onBack={() => setHurts(false)} /> : null}
      {plan.broken.map((b) => (
        <p key={b.words} class="mt-3 border-l-4 border-rust pl-3">
          {b.words}
        </p>
      ))}
      <h2 class="mt-7 text-xl font-bold">{tr("All days")}</h2>
      <ol>
        {plan.blocks.map((b) => (
          <li key={b.number} class={LINE}>
            <button
              type="button"
              class="grid min-h-14 w-full grid-cols-[1.6rem_1fr_auto] items-center gap-2 py-1 text-left"
              aria-current={b.number === block?.number ? "true" : undefined}
              onClick={() => {
                setChosen(b.number);
                window.scrollTo({ top: 0 });
              }}
            >
              <span aria-hidden="true" class="text-xl">
                {b.done ? "✓" : "○"}
              </span>
              <span>
                <span class={b.number === block?.number ? "font-bold" : ""}>{b.day === today ? tr("Today") : shortDay(b.day)}</span>
                <span class="block leading-tight text-muted">{titleOf(b)}</span>
              </span>
              <span class="text-right text-muted">{b.done ? tr("done") : b.day < today ? tr("not done") : tr("{minutes} min", { minutes: b.minutes })}</span>
            </button>
          </li>
        ))}
      </ol>
      <div class="mt-auto grid gap-3 pt-7 print:hidden">
        <p>{tr("Any pain: stop, and see a licensed health professional.")}</p>
        <div class="flex flex-wrap gap-3">
          <button type="button" class={BUTTON} onClick={() => setHurts(true)}>
            {tr("It hurts")}
          </button>
          <a class={`${BUTTON} inline-flex items-center`} href={`/api/p/${token}/calendar.ics`}>
            {tr("Into my calendar")}
          </a>
        </div>
      </div>
    </>
  );
}

function OneBlock(props: { block: Block; plan: Plan; days: Page["days"][string]; today: string; say: (...answers: Answer[]) => void; onHurts: () => void }) {
  const { block, plan, today, say } = props;
  const [moving, setMoving] = useState(false);
  const late = block.day < today && !block.done;
  return (
    <section class="mt-2" aria-label={tr("The block to practise")}>
      <h1 class="text-3xl leading-tight font-bold">
        {block.day === today ? tr("Today") : dayOf(block.day)}
        {late ? tr(" was missed") : ""}
      </h1>
      <p class="mt-1 text-xl">{tr("{minutes} minutes", { minutes: block.minutes })}</p>
      {block.drills.map((d) => (
        <div key={d.id} class="mt-4 border-t border-hairline pt-3">
          <h2 class="text-2xl leading-tight font-bold">{d.label}</h2>
          <p class="mt-1 text-lg">{d.how}</p>
          <p class="mt-2 text-lg">
            <b>{tr("Feel:")}</b> {d.feel}
          </p>
          {d.dose ? (
            <p class="text-lg">
              <b>{tr("How much:")}</b> {d.dose}
            </p>
          ) : null}
          {d.caution ? <p class="mt-2 border-l-4 border-ink pl-3">{d.caution}</p> : null}
        </div>
      ))}
      {block.drills.length ? null : <p class="mt-4 border-l-4 border-ink pl-3 text-xl">{tr("Leave this one out: your instructor looks at it again first.")}</p>}
      <p class="mt-3 text-muted">{feedbackWords(block.feedback)}</p>
      <details class="mt-2">
        <summary class="min-h-11 cursor-pointer py-2 text-muted underline">{tr("Why it stands here")}</summary>
        {block.why.map((w) => (
          <p key={w}>{w}</p>
        ))}
      </details>
      <div class="mt-3 flex flex-wrap gap-3">
        <button
          type="button"
          aria-pressed={block.done}
          class={`${BUTTON} flex-1 text-xl ${block.done ? "" : "bg-ink text-paper"}`}
          onClick={() => say(answered(plan, block.done ? "undone" : "done", block))}
        >
          {block.done ? tr("✓ Done. Take it back") : tr("Done")}
        </button>
        {block.done ? null : (
          <button type="button" class={BUTTON} aria-expanded={moving} onClick={() => setMoving(!moving)}>
            {tr("Another day")}
          </button>
        )}
      </div>
      {moving && !block.done ? (
        <ul class="mt-3" aria-label={tr("Days it can go to")}>
          {byRules(props.days).map((e) => (
            <li key={e.day} class={LINE}>
              <button
                type="button"
                class="min-h-14 w-full py-1 text-left text-lg"
                onClick={() => {
                  setMoving(false);
                  say(answered(plan, "moved", block, { to: e.day }));
                }}
              >
                {dayOf(e.day)}
                {e.breaks.map((w) => (
                  <span key={w} class="block text-base leading-tight text-muted">
                    {tr("Against the plan: {w}", { w })}
                  </span>
                ))}
              </button>
            </li>
          ))}
        </ul>
      ) : null}
      {block.done ? (
        <div class="mt-5">
          <h2 class="text-xl font-bold">{tr("How did it feel?")}</h2>
          <div class="mt-2 grid grid-cols-5 gap-2" role="group" aria-label={tr("How did it feel, 1 to 5")}>
            {FEELS.map((n) => (
              <button
                key={n}
                type="button"
                aria-pressed={block.feel === n}
                class={`min-h-14 rounded-lg border-2 border-ink text-xl font-bold ${block.feel === n ? "bg-ink text-paper" : ""}`}
                onClick={() => say(answered(plan, "felt", block, { feel: n }))}
              >
                {n}
              </button>
            ))}
          </div>
          <p class="flex justify-between text-muted">
            <span>{tr("strange")}</span>
            <span>{tr("by itself")}</span>
          </p>
          <h2 class="mt-4 text-xl font-bold">{tr("Any pain?")}</h2>
          <div class="mt-2 flex gap-3">
            <button
              type="button"
              aria-pressed={block.pain_free}
              class={`${BUTTON} flex-1 ${block.pain_free ? "bg-ink text-paper" : ""}`}
              onClick={() => say(answered(plan, "no_pain", block))}
            >
              {tr("No")}
            </button>
            <button type="button" class={`${BUTTON} flex-1`} onClick={props.onHurts}>
              {tr("Yes")}
            </button>
          </div>
        </div>
      ) : null}
    </section>
  );
}

function Hurts({ onSay, onBack }: { onSay: (where: string) => void; onBack: () => void }) {
  const here = useRef<HTMLDivElement>(null);
  useEffect(() => here.current?.scrollIntoView({ block: "nearest" }), []);
  return (
    <div ref={here} class="mt-5 border-l-4 border-rust pl-3" role="alert">
      <h2 class="text-2xl font-bold">{tr("Stop. Where does it hurt?")}</h2>
      <p>{tr("The plan stops, and your instructor is told. See a licensed health professional.")}</p>
      <div class="mt-3 flex flex-wrap gap-2">
        {WHERE.map((where) => (
          <button key={where} type="button" class={BUTTON} onClick={() => onSay(where === tr("somewhere else") ? "" : where)}>
            {where}
          </button>
        ))}
      </div>
      <button type="button" class="mt-3 min-h-14 underline" onClick={onBack}>
        {tr("No, it does not hurt")}
      </button>
    </div>
  );
}
