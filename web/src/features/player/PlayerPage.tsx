import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { dayWords } from "@/lib/dates";
import { limitWords, playsWords, term } from "@/lib/terms";
import { heightWords } from "@/lib/units";

import { useCatalogue, useMe } from "@/api/hooks";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";
import { LimitForm } from "@/shared/forms/LimitForm";
import { Sheet } from "@/shared/ui/Sheet";
import { TopLine } from "@/shared/ui/TopLine";

import { AuthorsSheet } from "./AuthorsSheet";
import { OpenersSheet } from "./OpenersSheet";
import { ConsentSheet } from "@/shared/forms/ConsentSheet";
import { PlayerForm } from "./PlayerForm";
import { Progress } from "./Progress";
import { Courses } from "./Courses";
import { Rounds } from "./Rounds";
import { usePlayer, usePlayerChanges } from "./usePlayer";
import { tr, trn } from "@/lib/language";
import { may } from "@/lib/rights";

/** The day on the academy's calendar, which stands in the time itself. */
const day = (iso: string) => dayWords(iso, "full");

/** One player: goals, limits, school, and every lesson. */
export function PlayerPage() {
  const catalogue = useCatalogue();
  const me = useMe();
  const { playerId } = useParams({ from: "/signed-in/players/$playerId" });
  const [sheet, setSheet] = useState<"" | "edit" | "limit" | "erase" | "consent" | "authors" | "openers">("");
  const player = usePlayer(playerId);
  const { change, addLimit, removeLimit, erase, lessonNow } = usePlayerChanges(playerId, () => setSheet(""));
  if (player.isPending) return <Loading what={tr("Opening the player")} />;
  if (player.error)
    return (
      <div className="flex h-full flex-col">
        <TopLine title={tr("Player")} />
        <div className="p-8">
          <ErrorLine error={player.error} />
        </div>
      </div>
    );
  const p = player.data;
  return (
    <div className="flex h-full flex-col">
      <TopLine title={p.name || tr("Walk-in")} context={`${playsWords(p)}${p.height_m ? `, ${heightWords(p.height_m)}` : ""}`} />
      <main className="panes min-h-0 flex-1 grid-cols-[460px_1fr] max-[1100px]:grid-cols-[380px_1fr]">
        <section className="min-h-0 space-y-5 overflow-y-auto border-r border-hairline px-7 py-6">
          <div>
            <h2 className="text-muted">{tr("Goals")}</h2>
            <p className="text-2xl">{p.goals || tr("Not noted.")}</p>
          </div>
          <div>
            <h2 className="text-muted">{tr("Usual miss")}</h2>
            <p className="text-2xl">{p.usual_miss || tr("Not noted.")}</p>
          </div>
          <div>
            <h2 className="text-muted">{tr("Limits")}</h2>
            {p.limits.map((l) => (
              <div key={l.id} className="flex items-start justify-between gap-3 border-l-4 border-ink py-1 pl-3">
                <p className="text-xl">
                  <b>{limitWords(l)}</b>
                  {l.comfortable ? tr(", {comfortable}° in comfort", { comfortable: l.comfortable }) : ""}
                  {l.holds ? "" : tr(" (not now)")}
                  <br />
                  <span className="text-lg">{l.note}</span>
                </p>
                <button type="button" className="min-h-14 px-2 underline" onClick={() => removeLimit.mutate(l.id)}>
                  {tr("Remove")}
                </button>
              </div>
            ))}
            {p.limits.length === 0 ? <p className="text-xl">{tr("None noted.")}</p> : null}
          </div>
          <div>
            <h2 className="text-muted">{tr("School")}</h2>
            <p className="text-xl">
              {(catalogue.data?.schools ?? [])
                .map((s) => `${s.label}: ${(s.options.find((o) => o.id === p.schools[s.axis]) ?? s.options[0])?.label.toLowerCase()}`)
                .join(" · ")}
            </p>
          </div>
          <div>
            <h2 className="text-muted">{tr("Consent")}</h2>
            <p className="text-xl">{p.consent_at ? tr("by {consent_by}", { consent_by: p.consent_by }) : tr("Not given: nothing is kept past a lesson.")}</p>
            <div className="flex flex-wrap gap-x-6">
              <button type="button" className="min-h-14 text-lg underline" onClick={() => setSheet("consent")}>
                {p.consent_at ? tr("Who, when, take it back") : tr("Note it")}
              </button>
              {may(me, "teach") ? (
                <>
                  <button type="button" className="min-h-14 text-lg underline" onClick={() => setSheet("authors")}>
                    {tr("Who changed what")}
                  </button>
                  <button type="button" className="min-h-14 text-lg underline" onClick={() => setSheet("openers")}>
                    {tr("Who opens this player")}
                  </button>
                </>
              ) : null}
            </div>
          </div>
          <div className="flex flex-wrap gap-3 pt-2">
            <Button tone="solid" onClick={() => lessonNow.mutate(p.handedness)} disabled={lessonNow.isPending}>
              {tr("Lesson now")}
            </Button>
            <Button onClick={() => setSheet("edit")}>{tr("Edit")}</Button>
            <Button onClick={() => setSheet("limit")}>{tr("Add limit")}</Button>
            {may(me, "teach") ? (
              <a
                className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
                href={`/api/players/${p.id}/export`}
                download
              >
                {tr("Export")}
              </a>
            ) : null}
            {may(me, "own") ? (
              <Button tone="quiet" onClick={() => setSheet("erase")}>
                {tr("Erase …")}
              </Button>
            ) : null}
          </div>
          <ErrorLine error={lessonNow.error ?? removeLimit.error} />
        </section>
        <section className="min-h-0 overflow-y-auto px-7 py-6 portrait:contents max-[900px]:contents">
          <div className="portrait:order-first portrait:px-7 portrait:pt-6 max-[900px]:order-first max-[900px]:px-7 max-[900px]:pt-6">
            {may(me, "teach") ? <Progress playerId={playerId} /> : null}
          </div>
          <div className="portrait:px-7 portrait:pb-6 max-[900px]:px-7 max-[900px]:pb-6">
            <h2 className="text-2xl font-bold">{tr("Lessons")}</h2>
            <ol>
              {p.lessons.map((l, k) => (
                <li key={l.id} className="flex items-center gap-2 border-b border-hairline">
                  <Link
                    to="/lessons/$lessonId"
                    params={{ lessonId: l.id }}
                    className="grid min-h-[76px] min-w-0 flex-1 grid-cols-[200px_1fr_auto] max-[700px]:grid-cols-[1fr_auto] items-center gap-4 py-3"
                  >
                    <span className="text-xl font-bold">{day(l.starts_at)}</span>
                    <span>
                      <span className="block text-xl">
                        {l.priorities.length
                          ? l.priorities.map((x) => x.label).join("; ")
                          : l.status === "closed" && may(me, "teach")
                            ? tr("Nothing to change")
                            : term(l.status)}
                      </span>
                      {l.note ? <span className="block text-muted">{l.note}</span> : null}
                    </span>
                    <span className="text-muted">{trn("{count} swing", "{count} swings", l.swings)}</span>
                  </Link>
                  {may(me, "teach") && l.swings > 0 && p.lessons.slice(k + 1).some((x) => x.swings > 0) ? (
                    <Link
                      to="/lessons/$lessonId/compare"
                      params={{ lessonId: l.id }}
                      search={{ a: `lesson:${l.id}` }}
                      aria-label={tr("Compare the lesson of {day} with the one before", { day: day(l.starts_at) })}
                      className="inline-flex min-h-14 min-w-14 flex-none items-center justify-center px-2 text-lg underline decoration-dotted underline-offset-4"
                    >
                      {tr("Compare")}
                    </Link>
                  ) : null}
                </li>
              ))}
            </ol>
            {p.lessons.length === 0 ? <p className="mt-3 text-xl text-muted">{tr("No lessons yet. Start with “Lesson now”.")}</p> : null}
            <Courses playerId={playerId} />
            <Rounds playerId={playerId} day={day} />
          </div>
        </section>
      </main>
      <Sheet open={sheet === "edit"} onClose={() => setSheet("")} title={tr("Edit player")}>
        <PlayerForm
          initial={{
            name: p.name,
            handedness: p.handedness,
            height_m: p.height_m,
            population: p.population as "adult",
            goals: p.goals,
            usual_miss: p.usual_miss,
            words: p.words,
            language: p.language,
            lengths: p.lengths,
            distances: p.distances,
            clock: p.clock,
            schools: p.own_schools,
            consent_by: p.consent_by,
            consent_as: "",
          }}
          submit={tr("Save")}
          pending={change.isPending}
          error={change.error}
          onSubmit={(body, revision) => change.mutate({ body, revision: revision ?? p.revision })}
        />
      </Sheet>
      <Sheet open={sheet === "limit"} onClose={() => setSheet("")} title={tr("A limit of movement")}>
        <LimitForm areas={catalogue.data?.limit_areas ?? []} pending={addLimit.isPending} error={addLimit.error} onSubmit={(body) => addLimit.mutate(body)} />
      </Sheet>
      <ConsentSheet player={p} open={sheet === "consent"} onClose={() => setSheet("")} onErase={() => setSheet("erase")} />
      <AuthorsSheet playerId={p.id} open={sheet === "authors"} onClose={() => setSheet("")} />
      <OpenersSheet playerId={p.id} open={sheet === "openers"} onClose={() => setSheet("")} />
      <Sheet open={sheet === "erase"} onClose={() => setSheet("")} title={tr("Erase {name}?", { name: p.name })}>
        <p className="text-xl">
          {tr("This removes the player with {what}, every capture and every result. It cannot be undone. Export first if the data may be needed.", {
            what: p.lessons.length === 1 ? tr("the one lesson") : tr("all {length} lessons", { length: p.lessons.length }),
          })}
        </p>
        <ErrorLine error={erase.error} />
        <div className="mt-6 flex gap-3">
          <Button onClick={() => setSheet("")}>{tr("Keep")}</Button>
          <Button tone="solid" onClick={() => erase.mutate()} disabled={erase.isPending}>
            {tr("Erase everything")}
          </Button>
        </div>
      </Sheet>
    </div>
  );
}
