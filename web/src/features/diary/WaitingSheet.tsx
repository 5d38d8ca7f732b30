import { useState } from "react";
import { clockWords } from "@/lib/dates";

import { plusDays, readHours } from "@/lib/diary";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { PersonField } from "./fields";
import { Places } from "./Places";
import { useChanges, usePlayers, useWaiting, type Place, type Span, type Waiting } from "./useDiary";
import { longDay, shortDay, wall, WEEKDAYS } from "./words";
import { tr } from "@/lib/language";

interface Props {
  span: Span;
  /** A place that became free: those who would take it come first. */
  freed: { starts_at: string; ends_at: string } | null;
  onClose: () => void;
  onDone: (words: string) => void;
}

/** Who waits for a place, and which free ones would suit: a tap books it. */
export function WaitingSheet({ span, freed, onClose, onDone }: Props) {
  const waiting = useWaiting(true);
  const { book } = useChanges();
  const [adding, setAdding] = useState(false);
  const suits = (w: Waiting) =>
    freed !== null && w.places.some((p) => Date.parse(p.starts_at) < Date.parse(freed.ends_at) && Date.parse(freed.starts_at) < Date.parse(p.ends_at));
  const found = [...(waiting.found.data ?? [])].sort((a, b) => Number(suits(b)) - Number(suits(a)));
  const take = (w: Waiting, p: Place) =>
    book.mutate(
      {
        player_id: w.player_id,
        instructor_id: p.instructor_id,
        bay: p.bay,
        starts_at: p.starts_at,
        minutes: w.minutes,
        club: "7-iron",
        sensor_set: "",
        markers: false,
        anyway: false,
      },
      {
        onSuccess: () =>
          onDone(tr("Booked: {player}, {longDay} {wall}.", { player: w.player, longDay: longDay(p.starts_at.slice(0, 10)), wall: wall(p.starts_at) })),
      },
    );
  return (
    <Sheet open onClose={onClose} title={tr("Who waits")}>
      <div className="grid gap-4 text-lg">
        {freed ? (
          <p className="border-l-4 border-ink pl-3 text-xl">
            {tr("{longDay} {wall} is free again.", { longDay: longDay(freed.starts_at.slice(0, 10)), wall: wall(freed.starts_at) })}
          </p>
        ) : null}
        <ErrorLine error={waiting.found.error ?? waiting.drop.error ?? book.error} />
        {waiting.found.data?.length === 0 ? <p className="text-xl text-muted">{tr("Nobody waits.")}</p> : null}
        <ul>
          {found.map((w) => (
            <li key={w.id} className="grid gap-2 border-b border-hairline py-3">
              <p>
                <b className="text-xl">{w.player}</b>
                <span className="block text-muted">{wishWords(w, span)}</span>
                {w.note ? <span className="block">{w.note}</span> : null}
              </p>
              {w.places.length ? (
                <Places places={w.places} busy={book.isPending} onTake={(p) => take(w, p)} />
              ) : (
                <p className="text-muted">{tr("No place yet.")}</p>
              )}
              <div>
                <button type="button" className="min-h-11 underline" onClick={() => waiting.drop.mutate(w.id)}>
                  {tr("Waits no longer")}
                </button>
              </div>
            </li>
          ))}
        </ul>
        {adding ? (
          <Wish span={span} waiting={waiting} onDone={() => setAdding(false)} />
        ) : (
          <div>
            <Button tone="solid" onClick={() => setAdding(true)}>
              {tr("Somebody waits")}
            </Button>
          </div>
        )}
      </div>
    </Sheet>
  );
}

function wishWords(w: Waiting, span: Span): string {
  const days = w.weekdays.length ? w.weekdays.map((k) => WEEKDAYS[k]!.slice(0, 3)).join(", ") : tr("any day");
  const who = span.instructors.find((i) => i.id === w.instructor_id)?.name ?? tr("any instructor");
  const time =
    w.from_minute === 0 && w.until_minute === 1440
      ? tr("any time")
      : tr("{from} to {until}", { from: clockWords(w.from_minute), until: clockWords(w.until_minute) });
  return tr("{shortDay} to {shortDay2}, {days}, {time}, {minutes} min, {who}", {
    shortDay: shortDay(w.first),
    shortDay2: shortDay(w.last),
    days,
    time,
    minutes: w.minutes,
    who,
  });
}

function Wish({ span, waiting, onDone }: { span: Span; waiting: ReturnType<typeof useWaiting>; onDone: () => void }) {
  const players = usePlayers(true);
  const [player, setPlayer] = useState("");
  const [instructor, setInstructor] = useState("");
  const [first, setFirst] = useState(span.today);
  const [last, setLast] = useState(plusDays(span.today, 14));
  const [days, setDays] = useState<number[]>([]);
  const [time, setTime] = useState("");
  const [note, setNote] = useState("");
  const hours = readHours(time);
  const wrong = hours === null || hours.length > 1;
  return (
    <form
      className="grid gap-4 border-l-4 border-ink pl-4"
      onSubmit={(e) => {
        e.preventDefault();
        const [from, until] = hours?.[0] ?? [0, 1440];
        waiting.add.mutate(
          {
            player_id: player,
            instructor_id: instructor || null,
            first,
            last,
            weekdays: days,
            from_minute: from,
            until_minute: until,
            minutes: span.lesson_minutes,
            note,
          },
          { onSuccess: onDone },
        );
      }}
    >
      <PersonField label={tr("Player")} people={players.data} value={player} onChange={setPlayer} any={tr("Choose")} required />
      <PersonField label={tr("With")} people={span.instructors} value={instructor} onChange={setInstructor} any={tr("Any instructor")} />
      <div className="grid grid-cols-2 gap-4">
        <Field label={tr("From")}>
          <input className={inputLook} type="date" required value={first} onChange={(e) => setFirst(e.target.value)} />
        </Field>
        <Field label={tr("To")}>
          <input className={inputLook} type="date" required min={first} value={last} onChange={(e) => setLast(e.target.value)} />
        </Field>
      </div>
      <fieldset className="flex flex-wrap gap-x-4">
        <legend className="text-muted">{tr("Days (none: any)")}</legend>
        {WEEKDAYS.map((name, k) => (
          <label key={name} className="flex min-h-14 items-center gap-2">
            <input
              type="checkbox"
              className="size-6 accent-[var(--ink)]"
              checked={days.includes(k)}
              onChange={() => setDays(days.includes(k) ? days.filter((d) => d !== k) : [...days, k])}
            />
            {name.slice(0, 3)}
          </label>
        ))}
      </fieldset>
      <Field label={tr("Time of day")} note={wrong ? tr("Write it like 17:00-20:00, or leave it empty.") : ""}>
        <input className={inputLook} value={time} placeholder={tr("any, or 17:00-20:00")} onChange={(e) => setTime(e.target.value)} />
      </Field>
      <Field label={tr("Note")}>
        <input className={inputLook} maxLength={500} value={note} onChange={(e) => setNote(e.target.value)} />
      </Field>
      <ErrorLine error={waiting.add.error} />
      <div className="flex gap-3">
        <Button tone="solid" type="submit" disabled={!player || wrong || waiting.add.isPending}>
          {tr("Put on the list")}
        </Button>
        <Button onClick={onDone}>{tr("Leave it")}</Button>
      </div>
    </form>
  );
}
