import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { dayWords, timeWords } from "@/lib/dates";
import { limitWords, playsWords, term } from "@/lib/terms";

import { api, data, type Schemas } from "@/api/client";
import { useBackup, useMe } from "@/api/hooks";
import { keys } from "@/api/keys";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";
import { TopLine } from "@/shared/ui/TopLine";

import { StartNow } from "./StartNow";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";

type Entry = Schemas["DiaryEntry"];

/** Times come by the academy's clock: what stands in them is what hangs on its wall. */

const STATUS: Record<Entry["status"], string> = {
  planned: "",
  running: tr("running"),
  closed: tr("closed"),
  cancelled: tr("cancelled"),
  no_show: tr("did not come"),
};

const isOver = (entry: Entry, now: number) => Date.parse(entry.ends_at) <= now;

/** Who comes next by the clock: the lesson that runs, else the first planned one whose time is not over, else one that was not begun. */
export function nextUp(entries: Entry[], now: number): Entry | undefined {
  const planned = entries.filter((e) => e.status === "planned");
  return entries.find((e) => e.status === "running") ?? planned.find((e) => !isOver(e, now)) ?? planned[0];
}

/** Who is next, with limits and last priorities; the day by time. */
export function Today() {
  const [chosen, setDay] = useState<string | null>(null); // null: today, whatever day that is
  const [walkIn, setWalkIn] = useState(false);
  const navigate = useNavigate();
  const client = useQueryClient();
  const diary = useQuery({
    queryKey: keys.diary(chosen ?? "today"),
    refetchInterval: 60_000, // who is next is told by the clock
    queryFn: ({ signal }) => data(api.GET("/api/diary", { params: { query: chosen ? { day: chosen } : {} }, signal })),
  });
  const day = diary.data?.day ?? chosen ?? "";
  const shift = (days: number) => {
    const d = new Date(`${day}T12:00:00Z`);
    d.setUTCDate(d.getUTCDate() + days);
    setDay(d.toISOString().slice(0, 10));
  };
  const reopen = useMutation({
    mutationFn: (id: string) => data(api.POST("/api/lessons/{lesson_id}/reopen", { params: { path: { lesson_id: id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.diary() }),
  });
  const open = (entry: Entry) => void navigate({ to: "/lessons/$lessonId", params: { lessonId: entry.id } });
  const isToday = chosen === null || chosen === diary.data?.today;
  const next = diary.data ? nextUp(diary.data.lessons, diary.dataUpdatedAt) : undefined;

  return (
    <div className="flex h-full flex-col">
      <TopLine title={isToday ? tr("Today") : dayWords(day, "weekdayLong")} context={isToday && day ? dayWords(day, "weekdayLong") : undefined} />
      {diary.isPending ? <Loading what={tr("Opening the diary")} /> : null}
      {diary.error ? (
        <div className="p-7">
          <ErrorLine error={diary.error} />
        </div>
      ) : null}
      {diary.data ? (
        <main className="panes min-h-0 flex-1 grid-cols-[1fr_560px] max-[1100px]:grid-cols-[1fr_480px]">
          <section className="flex min-h-0 flex-col overflow-y-auto border-r border-hairline px-7 py-7">
            {next ? (
              <NextUp entry={next} missed={isToday && isOver(next, diary.dataUpdatedAt)} onOpen={() => open(next)} />
            ) : (
              <div>
                <p className="text-[44px] leading-tight font-bold">{diary.data.lessons.length ? tr("The day is done.") : tr("Nobody is booked.")}</p>
                <p className="mt-2 text-xl text-muted">{tr("Book a lesson, or start now with a walk-in.")}</p>
              </div>
            )}
            <div className="mt-auto flex flex-wrap gap-3 pt-6">
              <Button tone={next ? "line" : "solid"} onClick={() => setWalkIn(true)}>
                {tr("Start now")}
              </Button>
              <Button onClick={() => void navigate({ to: "/diary", search: { day, by: "people" } })}>{tr("Book a lesson")}</Button>
            </div>
          </section>
          <section className="flex min-h-0 flex-col">
            <div className="flex items-center justify-between border-b border-hairline px-6">
              <button type="button" className="min-h-14 min-w-14 text-xl" onClick={() => shift(-1)} aria-label={tr("The day before")}>
                ←
              </button>
              <button type="button" className="min-h-14 px-4 text-lg font-semibold" onClick={() => setDay(null)}>
                {isToday ? tr("Today") : tr("Back to today")}
              </button>
              <button type="button" className="min-h-14 min-w-14 text-xl" onClick={() => shift(1)} aria-label={tr("The day after")}>
                →
              </button>
            </div>
            <ol className="min-h-0 flex-1 overflow-y-auto">
              {diary.data.lessons.map((entry) => (
                <li key={entry.id} className="border-b border-hairline">
                  <div className="flex items-center gap-4 px-6">
                    <button type="button" onClick={() => open(entry)} className="flex min-h-[76px] min-w-0 flex-1 items-center gap-5 text-left">
                      <span className="tabular text-2xl font-bold">{timeWords(entry.starts_at)}</span>
                      <span className="min-w-0 flex-1">
                        <span className={`block text-xl leading-tight ${entry.id === next?.id ? "font-bold" : ""}`}>{entry.player.name || tr("Walk-in")}</span>
                        <span className="block leading-tight text-muted">
                          {entry.bay} · {entry.instructor}
                          {entry.player.consent ? "" : tr(" · no consent yet")}
                          {entry.limits.length ? tr(" · limit: {what}", { what: entry.limits.map((l) => term(l.area)).join(", ") }) : ""}
                        </span>
                      </span>
                      <span className="text-muted">{STATUS[entry.status]}</span>
                    </button>
                    {entry.status === "closed" ? (
                      <button type="button" className="min-h-14 px-2 underline" onClick={() => reopen.mutate(entry.id)}>
                        {tr("Reopen")}
                      </button>
                    ) : null}
                  </div>
                </li>
              ))}
              {diary.data.lessons.length === 0 ? <li className="px-6 py-8 text-xl text-muted">{tr("No lessons on this day.")}</li> : null}
            </ol>
            <Beside diary={diary.data} />
          </section>
          <StartNow open={walkIn} onClose={() => setWalkIn(false)} bays={diary.data.bays} />
        </main>
      ) : null}
    </div>
  );
}

/** What is put on: the booked set, cameras, and what was worn last time. */
const fitted = (entry: Entry) => [entry.sensor_set, ...entry.fit, entry.markers && !entry.fit.includes(tr("markers")) ? tr("markers") : ""].filter(Boolean);

/** What was done since the last lesson, and whether a retest is due. */
function Since({ entry }: { entry: Entry }) {
  const { practised: p, retest } = entry;
  if (p?.stopped)
    return (
      <p role="alert" className="mt-4 border-l-4 border-rust pl-4 text-2xl">
        {p.stopped}
      </p>
    );
  const due = retest
    ? retest <= entry.starts_at.slice(0, 10)
      ? tr("Retest due.")
      : tr("Retest from {dayWords}.", { dayWords: dayWords(retest, "weekdayLong") })
    : "";
  if (!p && !due) return null;
  const felt = p?.felt.length ? tr(", felt {what} of 5", { what: p.felt.slice(-3).join(", ") }) : "";
  return (
    <p className="mt-4 text-2xl">
      {p
        ? p.done
          ? tr("Practised {done} of {blocks} times{felt}. ", { done: p.done, blocks: p.blocks, felt })
          : tr("Nothing of {blocks} times practised was ticked. ", { blocks: p.blocks })
        : ""}
      <b>{due}</b>
    </p>
  );
}

/** What else the day asks: places that are free, lessons that nobody ended. */
function Beside({ diary }: { diary: Schemas["Diary"] }) {
  const { free, left_open: left } = diary;
  const me = useMe();
  const backup = useBackup(me !== undefined && may(me, "own")).data;
  const lost = backup !== undefined && backup.late && (backup.made_at !== null || backup.trouble !== "");
  if (!free.length && !left.length && !lost) return null;
  return (
    <div className="flex-none border-t-2 border-hairline px-6 text-lg">
      {free.length ? (
        <p className="flex flex-wrap items-center gap-x-4">
          <span className="text-muted">{tr("Free:")}</span>
          {free.map((p) => (
            <Link key={`${p.starts_at}${p.bay}`} className="grid min-h-14 place-items-center underline" to="/diary" search={{ day: diary.today, by: "people" }}>
              {`${timeWords(p.starts_at)} ${p.instructor.split(" ")[0]}, ${p.bay}`}
            </Link>
          ))}
        </p>
      ) : null}
      {lost ? (
        <p role="alert">
          <Link to="/people" className="flex min-h-14 items-center border-l-4 border-rust pl-3 font-semibold underline">
            {tr("No backup was verified for more than a day.")}
          </Link>
        </p>
      ) : null}
      {left.length ? (
        <p className="flex flex-wrap items-center gap-x-4">
          <span className="text-muted">{tr("Left open:")}</span>
          {left.slice(0, 4).map((l) => (
            <Link key={l.id} className="grid min-h-14 place-items-center underline" to="/diary" search={{ day: l.starts_at.slice(0, 10), by: "people" }}>
              {`${l.player}, ${dayWords(l.starts_at, "weekdayShort")}`}
            </Link>
          ))}
          {left.length > 4 ? <span className="text-muted">{tr("and {what} more", { what: left.length - 4 })}</span> : null}
        </p>
      ) : null}
    </div>
  );
}

function NextUp({ entry, missed, onOpen }: { entry: Entry; missed: boolean; onOpen: () => void }) {
  const teaches = may(useMe(), "teach");
  return (
    <div>
      <p className="text-xl text-muted">
        {entry.status === "running" ? tr("Running") : missed ? tr("Not begun") : tr("Next")} · {timeWords(entry.starts_at)} · {entry.bay}
      </p>
      <p className="mt-1 text-[56px] leading-tight font-bold max-[700px]:text-[32px]">{entry.player.name || tr("Walk-in")}</p>
      <p className="text-xl text-muted">
        {playsWords(entry.player)}
        {entry.course ? tr(" · {name}: {left} of {lessons} left", { name: entry.course.name, left: entry.course.left, lessons: entry.course.lessons }) : ""}
      </p>
      {entry.player.consent ? null : (
        <p className="mt-4 border-l-4 border-ink pl-4 text-2xl">
          <b>{entry.player.population === "junior" ? tr("No parent or guardian has consented yet.") : tr("Nobody has consented yet.")}</b>{" "}
          {tr("Without it everything captured is erased when the lesson ends.")}
        </p>
      )}
      {entry.limits.length ? (
        <div className="mt-6 border-l-4 border-ink pl-4">
          {entry.limits.map((l) => (
            <p key={l.id} className="text-2xl">
              <b>{tr("Limit: {what}.", { what: limitWords(l) })}</b> {l.note}
            </p>
          ))}
        </div>
      ) : null}
      {fitted(entry).length ? (
        <p className="mt-4 text-2xl">
          <span className="text-muted">{tr("Fit:")} </span>
          {fitted(entry).join(", ")}
        </p>
      ) : null}
      {teaches ? <h2 className="mt-5 text-xl text-muted">{tr("Last time")}</h2> : null}
      {!teaches ? null : entry.last_priorities.length ? (
        <ol className="mt-1 space-y-1">
          {entry.last_priorities.map((p) => (
            <li key={p.rank} className="text-[28px] leading-snug">
              {p.label}
              {p.drill_label ? <span className="text-muted"> · {p.drill_label}</span> : null}
            </li>
          ))}
        </ol>
      ) : (
        <p className="text-2xl">{tr("No priorities noted.")}</p>
      )}
      <Since entry={entry} />
      <Button tone="solid" className="mt-6 px-8 text-xl" onClick={onOpen}>
        {entry.status === "running" ? tr("Continue the lesson") : tr("Start the lesson")}
      </Button>
    </div>
  );
}
