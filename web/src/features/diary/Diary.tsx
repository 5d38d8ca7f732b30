import { useQuery } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect, useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { clockOf, dayOf, minutesOf, mondayOf, plusDays } from "@/lib/diary";
import { Button, Choice, ErrorLine, Loading } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { TopLine } from "@/shared/ui/TopLine";

import { BookSheet, type Draft } from "./BookSheet";
import { CalendarsSheet } from "./CalendarsSheet";
import { Grid, type Column } from "./Grid";
import { HoursSheet } from "./HoursSheet";
import { LessonSheet } from "./LessonSheet";
import { Refusal } from "./Places";
import { useChanges, useSpan, type Move, type Place, type Slot, type Span } from "./useDiary";
import { WaitingSheet } from "./WaitingSheet";
import { longDay, shortDay, STATUS, wall, weekDay } from "./words";
import { tr } from "@/lib/language";

type Layout = "week" | "people" | "bays";
type Panel = "" | "waiting" | "hours" | "calendars";
const EVERYBODY = "all";

/** Week and day by instructor and bay: who is where when, and what is free. */
export function Diary() {
  const search = useSearch({ from: "/signed-in/diary" });
  const navigate = useNavigate();
  const go = (to: Partial<typeof search>) => void navigate({ to: "/diary", search: { ...search, ...to }, replace: true });
  const layout: Layout = search.by ?? "week";
  const day = search.day ?? null;
  const span = useSpan(layout === "week" && day ? mondayOf(day) : day, layout === "week" ? 7 : 1);
  const [panel, setPanel] = useState<Panel>("");
  const [draft, setDraft] = useState<Draft | null>(null);
  const [open, setOpen] = useState<Slot | null>(null);
  const [freed, setFreed] = useState<Slot | null>(null);
  const [said, setSaid] = useState<{ words: string; undo?: () => void } | null>(null);
  const [held, setHeld] = useState<{ lesson: Slot; to: Move } | null>(null);
  const changes = useChanges();
  const me =
    useQuery<Schemas["Me"]>({ queryKey: keys.me, queryFn: ({ signal }) => data(api.GET("/api/me", { signal })), staleTime: Infinity }).data?.instructor_id ??
    "";
  const narrow = useNarrow();
  const here = span.data;
  const who = search.who ?? (here?.instructors.some((i) => i.id === me) ? me : EVERYBODY); // one's own week first
  const shift = (by: number) => here && go({ day: plusDays(here.first, by * (layout === "week" ? 7 : 1)) });
  useKeys({
    ArrowLeft: () => shift(-1),
    ArrowRight: () => shift(1),
    b: () => here && setDraft(draftOf(here, who === EVERYBODY ? me : who)),
    t: () => go({ day: undefined }),
  });

  const put = (lesson: Slot, to: Move) => {
    setHeld({ lesson, to });
    changes.move.mutate(
      { id: lesson.id, to },
      {
        onSuccess: (made) => {
          setHeld(null);
          const back = { starts_at: lesson.starts_at, instructor_id: lesson.instructor_id, bay: lesson.bay, anyway: true };
          setSaid({
            words: `${lesson.player}: ${longDay(dayOf(made.starts_at))} ${wall(made.starts_at)}, ${made.bay}, ${made.instructor}.`,
            undo: () => changes.move.mutate({ id: lesson.id, to: back }, { onSuccess: () => setSaid({ words: tr("Put back.") }) }),
          });
        },
      },
    );
  };
  const onMove = (lesson: Slot, column: Column, minutes: number) => {
    const at = minutesOf(lesson.starts_at) + minutes;
    const to: Move = { starts_at: `${column.day}T${clockOf(Math.max(0, Math.min(1425, at)))}:00` };
    if (layout === "people") to.instructor_id = column.key;
    if (layout === "bays") to.bay = column.key;
    put(lesson, to);
  };
  const title = here
    ? layout === "week"
      ? tr("{shortDay} to {shortDay2}", { shortDay: shortDay(here.first), shortDay2: shortDay(here.last) })
      : longDay(here.first)
    : "";
  const columns = here ? columnsOf(here, layout, who) : [];
  const cancelled = here?.lessons.filter((l) => l.status === "cancelled") ?? [];

  return (
    <div className="flex h-full flex-col">
      <TopLine title={tr("Diary")} context={here ? tr("by the clock of {time_zone}", { time_zone: here.time_zone }) : undefined} />
      <div className="flex flex-none flex-wrap items-center gap-x-4 border-b border-hairline px-7 max-[1100px]:px-4">
        <div className="flex items-center">
          <button type="button" className="min-h-14 min-w-14 text-xl" onClick={() => shift(-1)} aria-label={tr("Earlier")}>
            ←
          </button>
          <button type="button" className="min-h-14 min-w-[190px] px-2 text-lg font-semibold" onClick={() => go({ day: undefined })}>
            {title || tr("Today")}
          </button>
          <button type="button" className="min-h-14 min-w-14 text-xl" onClick={() => shift(1)} aria-label={tr("Later")}>
            →
          </button>
        </div>
        <Choice<Layout>
          label={tr("What is shown")}
          value={layout}
          onChange={(by) => go({ by })}
          options={[
            { id: "week", label: tr("Week") },
            { id: "people", label: tr("Day") },
            { id: "bays", label: tr("Bays") },
          ]}
        />
        {here && layout === "week" ? (
          <select className="min-h-14 bg-paper text-lg" aria-label={tr("Whose week")} value={who} onChange={(e) => go({ who: e.target.value })}>
            <option value={EVERYBODY}>{tr("Everybody")}</option>
            {here.instructors.map((i) => (
              <option key={i.id} value={i.id}>
                {i.name}
              </option>
            ))}
            {here.bays.map((b) => (
              <option key={b} value={b}>
                {b}
              </option>
            ))}
          </select>
        ) : null}
      </div>
      {span.isPending ? <Loading what={tr("Opening the diary")} /> : null}
      {span.error ? (
        <div className="p-7">
          <ErrorLine error={span.error} />
        </div>
      ) : null}
      {here ? (
        <main className="flex min-h-0 flex-1 flex-col px-4 max-[700px]:px-0">
          {narrow ? (
            <Agenda columns={columns} onOpen={setOpen} />
          ) : (
            <Grid
              columns={columns}
              zone={here.time_zone}
              label={tr("The diary, {title}", { title })}
              onMove={onMove}
              onOpen={setOpen}
              onDay={(on) => go({ day: on, by: "people" })}
              onBook={(c, minutes) => setDraft({ ...draftOf(here, who === EVERYBODY ? me : who), day: c.day, time: clockOf(minutes), ...ofColumn(c, layout) })}
            />
          )}
          {held && changes.move.error ? (
            <div className="border-t-2 border-rust px-3 py-3">
              <Refusal
                error={changes.move.error}
                busy={changes.move.isPending}
                onTake={(p: Place) => put(held.lesson, { starts_at: p.starts_at, instructor_id: p.instructor_id, bay: p.bay })}
                onAnyway={() => put(held.lesson, { ...held.to, anyway: true })}
              />
              <Button
                tone="quiet"
                onClick={() => {
                  setHeld(null);
                  changes.move.reset();
                }}
              >
                {tr("Leave it where it was")}
              </Button>
            </div>
          ) : null}
          <div className="flex flex-none flex-wrap items-center gap-3 border-t border-hairline py-2 max-[700px]:gap-2 max-[700px]:px-4">
            <Button tone="solid" hint="b" className="max-[700px]:px-3" onClick={() => setDraft(draftOf(here, who === EVERYBODY ? me : who))}>
              {tr("Book")}
            </Button>
            <Button className="max-[700px]:px-3" onClick={() => setPanel("waiting")}>
              {tr("Waiting")}
            </Button>
            <Button className="max-[700px]:px-3" onClick={() => setPanel("hours")}>
              {tr("Hours")}
            </Button>
            <Button className="max-[700px]:px-3" onClick={() => setPanel("calendars")}>
              {tr("Calendars")}
            </Button>
            <p className="min-w-0 flex-1 text-lg leading-tight" aria-live="polite">
              {said?.words ?? (cancelled.length ? tr("{length} cancelled", { length: cancelled.length }) : "")}
              {said?.undo ? (
                <button
                  type="button"
                  className="min-h-14 px-3 underline"
                  onClick={() => {
                    said.undo?.();
                    setSaid(null);
                  }}
                >
                  {tr("Undo")}
                </button>
              ) : null}
            </p>
          </div>
          {draft ? (
            <BookSheet
              span={here}
              draft={draft}
              onClose={() => setDraft(null)}
              onDone={(words) => {
                setSaid({ words });
                setDraft(null);
              }}
            />
          ) : null}
          {open ? (
            <LessonSheet
              key={open.id}
              span={here}
              lesson={here.lessons.find((l) => l.id === open.id) ?? open}
              onClose={() => setOpen(null)}
              onDone={(words, undo) => {
                setSaid(undo ? { words, undo } : { words });
                setOpen(null);
              }}
              onFreed={(lesson) => {
                setFreed(lesson);
                setPanel("waiting");
              }}
            />
          ) : null}
          {panel === "waiting" ? (
            <WaitingSheet
              span={here}
              freed={freed}
              onClose={() => {
                setPanel("");
                setFreed(null);
              }}
              onDone={(words) => {
                setSaid({ words });
                setPanel("");
                setFreed(null);
              }}
            />
          ) : null}
          {panel === "hours" ? <HoursSheet span={here} onClose={() => setPanel("")} /> : null}
          {panel === "calendars" ? <CalendarsSheet span={here} me={me} onClose={() => setPanel("")} /> : null}
        </main>
      ) : null}
    </div>
  );
}

/** The columns of a layout: the days of somebody's week, or the instructors or bays of a day. */
function columnsOf(span: Span, layout: Layout, who: string): Column[] {
  const standing = span.lessons.filter((l) => l.status !== "cancelled");
  const holidayOn = (day: string, of: string | null) =>
    span.holidays.find((h) => h.first <= day && day <= h.last && (h.instructor_id === null || h.instructor_id === of))?.name ?? "";
  if (layout === "week")
    return Array.from({ length: 7 }, (_, k) => plusDays(span.first, k)).map((day) => {
      const person = span.instructors.some((i) => i.id === who) ? who : null;
      const mine = (l: Slot) => who === EVERYBODY || l.instructor_id === who || l.bay === who;
      return {
        key: day,
        title: weekDay(day),
        day,
        lessons: standing.filter((l) => dayOf(l.starts_at) === day && mine(l)),
        busy: person ? span.busy.filter((b) => b.instructor_id === person && dayOf(b.begins) <= day && dayOf(b.ends) >= day) : [],
        open: openOf(span, day, person),
        holiday: holidayOn(day, person),
      };
    });
  const columns =
    layout === "people"
      ? span.instructors.map((i) => ({ key: i.id, title: i.name, person: i.id as string | null }))
      : span.bays.map((b) => ({ key: b, title: b, person: null }));
  return columns.map((c) => ({
    key: c.key,
    title: c.title,
    day: span.first,
    lessons: standing.filter((l) => (layout === "people" ? l.instructor_id === c.key : l.bay === c.key)),
    busy: c.person ? span.busy.filter((b) => b.instructor_id === c.person) : [],
    open: openOf(span, span.first, c.person),
    holiday: holidayOn(span.first, c.person),
  }));
}

/** When there is work on a day: somebody's hours, or anybody's; null where none are noted. */
function openOf(span: Span, day: string, person: string | null) {
  if (!span.open.length && !span.holidays.some((h) => h.first <= day && day <= h.last)) return null;
  const known = span.open.filter((s) => person === null || s.instructor_id === person);
  return known.filter((s) => dayOf(s.begins) === day);
}

function draftOf(span: Span, who?: string): Draft {
  const day = span.first <= span.today && span.today <= span.last ? span.today : span.first;
  const person = span.instructors.find((i) => i.id === who)?.id;
  const bay = span.bays.find((b) => b === who);
  return { day, time: "16:00", ...(person ? { instructor: person } : {}), ...(bay ? { bay } : {}) };
}

const ofColumn = (c: Column, layout: Layout): Partial<Draft> => (layout === "people" ? { instructor: c.key } : layout === "bays" ? { bay: c.key } : {});

/** Where there is no room for columns: the lessons one after the other. */
function Agenda({ columns, onOpen }: { columns: Column[]; onOpen: (lesson: Slot) => void }) {
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-4" role="region" aria-label={tr("The diary as a list")} tabIndex={0}>
      {columns.map((c) => (
        <section key={c.key} aria-label={c.title}>
          <h2 className="border-b border-hairline pt-4 pb-1 text-xl font-bold">
            {c.title}
            {c.holiday ? <span className="font-normal text-muted"> · {c.holiday}</span> : null}
          </h2>
          <ol>
            {c.lessons.map((l) => (
              <li key={l.id} className="border-b border-hairline">
                <button type="button" className="flex min-h-16 w-full items-center gap-4 text-left" onClick={() => onOpen(l)}>
                  <b className="tabular text-xl">{wall(l.starts_at)}</b>
                  <span className="flex-1 text-lg leading-tight">
                    {l.player}
                    <span className="block text-base text-muted">{[l.bay, l.instructor, l.sensor_set, STATUS[l.status]].filter(Boolean).join(" · ")}</span>
                  </span>
                </button>
              </li>
            ))}
          </ol>
          {c.lessons.length ? null : <p className="py-2 text-muted">{tr("Nobody.")}</p>}
        </section>
      ))}
    </div>
  );
}

function useNarrow(): boolean {
  const [narrow, setNarrow] = useState(() => window.matchMedia("(max-width: 760px)").matches);
  useEffect(() => {
    const query = window.matchMedia("(max-width: 760px)");
    const tell = () => setNarrow(query.matches);
    query.addEventListener("change", tell);
    return () => query.removeEventListener("change", tell);
  }, []);
  return narrow;
}
