import { DndContext, KeyboardSensor, PointerSensor, useDraggable, useSensor, useSensors, type KeyboardCoordinateGetter, type Modifier } from "@dnd-kit/core";
import { useEffect, useRef, useState, type RefObject } from "react";
import { clockWords } from "@/lib/dates";

import { closed, dayOf, lanes, minutesOf, nowThere, shownHours, slotLines, STEP, type Stretch } from "@/lib/diary";

import type { Slot, Span } from "./useDiary";
import { STATUS, wall } from "./words";
import { tr } from "@/lib/language";

const PX = 1.3; // of a minute: a lesson of 45 minutes is as high as a thumb needs
const NARROWEST = 58; // a lesson's strip, for a thumb
const HEAD = 44;

/** One column: a day of somebody, or somebody on a day. */
export interface Column {
  key: string;
  title: string;
  day: string;
  lessons: Slot[];
  busy: Span["busy"];
  /** When there is work; null where no hours are noted. */
  open: Stretch[] | null;
  holiday: string;
}

interface Props {
  columns: Column[];
  zone: string;
  label: string;
  /** Where something went: the column, and so many minutes later or earlier. */
  onMove: (lesson: Slot, column: Column, minutes: number) => void;
  onOpen: (lesson: Slot) => void;
  onBook: (column: Column, minutes: number) => void;
  /** Several stand where there is no room for them side by side: the day by itself. */
  onDay: (day: string) => void;
}

/** Days, or people on a day, side by side; time runs down. A lesson is dragged by pointer or keys, in quarters of an hour. */
export function Grid({ columns, zone, label, onMove, onOpen, onBook, onDay }: Props) {
  const { from, until } = shownHours([
    ...columns.flatMap((c) => c.lessons.map((l) => ({ begins: l.starts_at, ends: l.ends_at }))),
    ...columns.flatMap((c) => c.open ?? []),
  ]);
  const body = useRef<HTMLDivElement>(null);
  const across = useWidth(body);
  const widthOf = () => across / columns.length;
  const snap: Modifier = ({ transform }) => ({
    ...transform,
    x: Math.round(transform.x / widthOf()) * widthOf(),
    y: Math.round(transform.y / (STEP * PX)) * STEP * PX,
  });
  const keys: KeyboardCoordinateGetter = (event, { currentCoordinates: at }) => {
    const by: Record<string, [number, number]> = {
      ArrowUp: [0, -STEP * PX],
      ArrowDown: [0, STEP * PX],
      ArrowLeft: [-widthOf(), 0],
      ArrowRight: [widthOf(), 0],
    };
    const found = by[event.code];
    if (!found) return undefined;
    event.preventDefault();
    return { x: at.x + found[0], y: at.y + found[1] };
  };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 8 } }),
    useSensor(KeyboardSensor, { coordinateGetter: keys, keyboardCodes: { start: ["Space"], cancel: ["Escape"], end: ["Space", "Enter"] } }),
  );
  const scroller = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const there = nowThere(zone);
    const at = Math.min(...columns.flatMap((c) => c.lessons.map((l) => minutesOf(l.starts_at))), there.minutes);
    if (scroller.current) scroller.current.scrollTop = Math.max(0, (at - from - 30) * PX);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, where the day begins; later it stays where it was put
  }, [from]);
  const hours = Array.from({ length: (until - from) / 60 + 1 }, (_, k) => from + 60 * k);
  const height = (until - from) * PX;
  return (
    <DndContext
      sensors={sensors}
      modifiers={[snap]}
      onDragEnd={({ active, delta }) => {
        const column = columns.findIndex((c) => c.lessons.some((l) => `${c.key} ${l.id}` === active.id));
        const lesson = columns[column]?.lessons.find((l) => `${columns[column]!.key} ${l.id}` === active.id);
        const to = columns[Math.max(0, Math.min(columns.length - 1, column + Math.round(delta.x / widthOf())))];
        const minutes = Math.round(delta.y / (STEP * PX)) * STEP;
        if (lesson && to && (minutes !== 0 || to !== columns[column])) onMove(lesson, to, minutes);
      }}
      accessibility={{
        screenReaderInstructions: {
          draggable: tr("Space takes the lesson, arrows move it by a quarter of an hour or a column, space puts it down, escape puts it back."),
        },
        announcements: {
          onDragStart: () => tr("Held."),
          onDragMove: () => undefined,
          onDragOver: () => undefined,
          onDragEnd: () => tr("Put down."),
          onDragCancel: () => tr("Put back."),
        },
      }}
    >
      <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto" role="region" aria-label={label} tabIndex={0}>
        <div className="grid grid-cols-[64px_1fr]">
          <div className="sticky top-0 z-20 col-span-2 grid grid-cols-[64px_1fr] border-b border-hairline bg-paper" style={{ minHeight: HEAD }}>
            <span />
            <div className="grid" style={{ gridTemplateColumns: `repeat(${columns.length}, minmax(0, 1fr))` }}>
              {columns.map((c) => (
                <p key={c.key} className="self-center px-2 leading-tight font-bold">
                  {c.title}
                </p>
              ))}
            </div>
          </div>
          <div className="relative" style={{ height }} aria-hidden="true">
            {hours.slice(0, -1).map((h) => (
              <span key={h} className="tabular absolute right-2 text-base text-muted" style={{ top: (h - from) * PX + 1 }}>
                {clockWords(h)}
              </span>
            ))}
          </div>
          <div ref={body} className="relative grid" style={{ height, gridTemplateColumns: `repeat(${columns.length}, minmax(0, 1fr))` }}>
            {hours.map((h) => (
              <span
                key={h}
                aria-hidden="true"
                className="pointer-events-none absolute right-0 left-0 border-t border-hairline"
                style={{ top: (h - from) * PX }}
              />
            ))}
            {columns.map((c) => (
              <OneColumn
                key={c.key}
                column={c}
                width={across / columns.length}
                from={from}
                until={until}
                zone={zone}
                onOpen={onOpen}
                onBook={onBook}
                onDay={onDay}
              />
            ))}
          </div>
        </div>
      </div>
    </DndContext>
  );
}

const HATCH = { backgroundImage: "repeating-linear-gradient(135deg, var(--hairline) 0 1px, transparent 1px 8px)" };

function OneColumn(props: {
  column: Column;
  width: number;
  from: number;
  until: number;
  zone: string;
  onOpen: Props["onOpen"];
  onBook: Props["onBook"];
  onDay: Props["onDay"];
}) {
  const { column: c, from, until } = props;
  const shut = c.open === null ? [] : closed(c.open, c.day, from, until);
  const now = useNow(props.zone);
  const items = lanes(
    c.lessons.map((lesson) => ({
      lesson,
      from: minutesOf(lesson.starts_at),
      until: dayOf(lesson.ends_at) > dayOf(lesson.starts_at) ? 1440 : minutesOf(lesson.ends_at),
    })),
  );
  return (
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions -- a short way to *Book*, which keys reach by its button
    <div
      className="relative border-l border-hairline"
      data-testid="column"
      onClick={(e) => {
        if (e.target !== e.currentTarget) return;
        const at = from + (e.clientY - e.currentTarget.getBoundingClientRect().top) / PX;
        props.onBook(c, Math.floor(at / STEP) * STEP);
      }}
    >
      {shut.map(([a, b]) => (
        <span key={a} aria-hidden="true" className="pointer-events-none absolute inset-x-0" style={{ ...HATCH, top: (a - from) * PX, height: (b - a) * PX }} />
      ))}
      {c.holiday ? <p className="pointer-events-none absolute inset-x-0 top-1 px-2 leading-tight">{c.holiday}</p> : null}
      {c.busy.map((b) => (
        <span
          key={b.begins}
          className="pointer-events-none absolute inset-x-1 overflow-hidden border-l-4 border-hairline bg-paper px-2 text-base leading-tight text-muted"
          style={{ top: (Math.max(from, dayOf(b.begins) < c.day ? from : minutesOf(b.begins)) - from) * PX, height: busyHeight(b, c.day, from, until) }}
        >
          {slotLines(props.width - 30, busyHeight(b, c.day, from, until), tr("Busy"), [b.calendar]).name}
          <span className="sr-only">{tr(", {calendar}, {wall} to {wall2}", { calendar: b.calendar, wall: wall(b.begins), wall2: wall(b.ends) })}</span>
        </span>
      ))}
      {now.day === c.day && now.minutes >= from && now.minutes <= until ? (
        <span className="pointer-events-none absolute inset-x-0 border-t-[3px] border-ink" style={{ top: (now.minutes - from) * PX }}>
          <span className="sr-only">{tr("Now")}</span>
        </span>
      ) : null}
      {crowds(items, props.width).map((crowd) => (
        <Crowd key={crowd.key} crowd={crowd} from={from} onDay={() => props.onDay(c.day)} />
      ))}
      {items
        .filter((x) => props.width / x.of >= NARROWEST)
        .map((x) => (
          <OneLesson
            key={x.lesson.id}
            id={`${c.key} ${x.lesson.id}`}
            lesson={x.lesson}
            column={props.width}
            top={(x.from - from) * PX}
            height={(x.until - x.from) * PX}
            lane={x.lane}
            of={x.of}
            onOpen={props.onOpen}
          />
        ))}
    </div>
  );
}

function busyHeight(b: Stretch, day: string, from: number, until: number): number {
  const begins = dayOf(b.begins) < day ? from : Math.max(from, minutesOf(b.begins));
  const ends = dayOf(b.ends) > day ? until : Math.min(until, minutesOf(b.ends));
  return Math.max(0, ends - begins) * PX;
}

interface Placed {
  lesson: Slot;
  from: number;
  until: number;
  of: number;
  group: number;
}

/** Those that stand side by side where there is no room for it. */
function crowds(items: Placed[], width: number) {
  const tight = items.filter((x) => width / x.of < NARROWEST);
  return [...new Set(tight.map((x) => x.group))].map((group) => {
    const mine = tight.filter((x) => x.group === group);
    return {
      key: group,
      from: Math.min(...mine.map((x) => x.from)),
      until: Math.max(...mine.map((x) => x.until)),
      lessons: mine.map((x) => x.lesson),
    };
  });
}

/** Several lessons in one place: a tap shows the day, where each has a column. */
function Crowd({ crowd, from, onDay }: { crowd: ReturnType<typeof crowds>[number]; from: number; onDay: () => void }) {
  return (
    <button
      type="button"
      className="absolute inset-x-1 rounded-md border-2 border-ink bg-paper text-left"
      style={{ top: (crowd.from - from) * PX, height: Math.max(30, (crowd.until - crowd.from) * PX - 2) }}
      onClick={onDay}
    >
      <b className="block px-1 leading-tight">{crowd.lessons.length}</b>
      <span className="sr-only">{tr(" lessons: {lessons}", { lessons: crowd.lessons.map((l) => `${wall(l.starts_at)} ${l.player}`).join(", ") })}</span>
    </button>
  );
}

/** How wide the columns are together, also when the window changes. */
function useWidth(of: RefObject<HTMLDivElement | null>): number {
  const [width, setWidth] = useState(700);
  useEffect(() => {
    const at = of.current;
    if (!at) return;
    const seen = new ResizeObserver(() => setWidth(at.clientWidth || 700));
    seen.observe(at);
    return () => seen.disconnect();
  }, [of]);
  return width;
}

/** The academy's clock, every half minute. */
function useNow(zone: string) {
  const [now, setNow] = useState(() => nowThere(zone));
  useEffect(() => {
    const timer = setInterval(() => setNow(nowThere(zone)), 30_000);
    return () => clearInterval(timer);
  }, [zone]);
  return now;
}

function OneLesson(props: { id: string; lesson: Slot; column: number; top: number; height: number; lane: number; of: number; onOpen: Props["onOpen"] }) {
  const { lesson, lane, of } = props;
  const width = props.column / of - 22; // the strip's margins, lines and padding
  const height = Math.max(30, props.height - 2);
  const fixed = lesson.status !== "planned";
  const { setNodeRef, listeners, attributes, transform, isDragging } = useDraggable({ id: props.id, disabled: fixed });
  const said = STATUS[lesson.status];
  const details = [wall(lesson.starts_at), lesson.bay, lesson.sensor_set, lesson.markers ? tr("markers") : "", said].filter(Boolean);
  const lines = slotLines(width, height - 6, lesson.player, details);
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      {...attributes}
      onClick={() => props.onOpen(lesson)}
      className={`absolute touch-none overflow-hidden rounded-md border-2 bg-paper px-2 py-0.5 text-left leading-[1.15] ${isDragging ? "z-30 outline-4 outline-sea" : ""} ${
        lesson.status === "no_show" ? "border-dashed border-muted" : fixed ? "border-hairline text-muted" : "border-ink"
      }`}
      style={{
        top: props.top,
        height,
        left: `calc(${(100 * lane) / of}% + 1px)`,
        width: `calc(${100 / of}% - 2px)`,
        ...(transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : {}),
      }}
    >
      {lines.name.map((line) => (
        <b key={line} className="block whitespace-nowrap">
          {line}
        </b>
      ))}
      {lines.details ? <span className="block text-base whitespace-nowrap text-muted">{lines.details}</span> : null}
      <span className="sr-only">
        {tr(", {player}, {wall} to {wall2}, {what}, {instructor}", {
          player: lesson.player,
          wall: wall(lesson.starts_at),
          wall2: wall(lesson.ends_at),
          what: details.slice(1).join(", "),
          instructor: lesson.instructor,
        })}
      </span>
    </button>
  );
}
