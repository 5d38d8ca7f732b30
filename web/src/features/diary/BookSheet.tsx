import { useState } from "react";

import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { LessonFields, PersonField, type LessonForm } from "./fields";
import { Places, Refusal } from "./Places";
import { useChanges, useNext, usePlayers, type Place, type Span } from "./useDiary";
import { longDay, wall } from "./words";
import { tr } from "@/lib/language";

/** What is known of a lesson before it is booked. */
export interface Draft {
  day: string;
  time: string;
  instructor?: string;
  bay?: string;
  player?: string;
}

interface Props {
  span: Span;
  draft: Draft;
  onClose: () => void;
  onDone: (words: string) => void;
}

type Repeat = "once" | "1" | "2";

/** A lesson, or a row of them, into the diary; what clashes is said with the next free places, each a tap. */
export function BookSheet({ span, draft, onClose, onDone }: Props) {
  const players = usePlayers(true);
  const { book, row } = useChanges();
  const [player, setPlayer] = useState(draft.player ?? "");
  const [form, setForm] = useState<LessonForm>({
    day: draft.day,
    time: draft.time,
    minutes: span.lesson_minutes,
    instructor: draft.instructor ?? span.instructors[0]?.id ?? "",
    bay: draft.bay ?? span.bays[0] ?? "Bay 1",
    set: "",
    markers: false,
  });
  const [repeat, setRepeat] = useState<Repeat>("once");
  const [until, setUntil] = useState("");
  const next = useNext(player);
  const busy = book.isPending || row.isPending;
  const take = (p: Place) => {
    setForm({ ...form, day: p.starts_at.slice(0, 10), time: p.starts_at.slice(11, 16), instructor: p.instructor_id, bay: p.bay });
    book.reset();
  };
  const submit = (anyway: boolean) => {
    const { day, time, minutes, instructor, bay, set, markers } = form;
    const body = {
      player_id: player,
      instructor_id: instructor,
      bay,
      starts_at: `${day}T${time}:00`,
      minutes,
      club: "7-iron",
      sensor_set: set,
      markers,
      anyway,
    };
    if (repeat === "once")
      book.mutate(body, {
        onSuccess: (made) => onDone(tr("Booked: {name}, {longDay} {wall}.", { name: made.player.name, longDay: longDay(day), wall: wall(made.starts_at) })),
      });
    else
      row.mutate(
        { ...body, every_weeks: Number(repeat), until },
        { onSuccess: (made) => !made.not_booked.length && onDone(tr("{length} lessons booked.", { length: made.booked.length })) },
      );
  };
  return (
    <Sheet open onClose={onClose} title={tr("Book a lesson")}>
      <form
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          submit(false);
        }}
      >
        <PersonField label={tr("Player")} people={players.data} value={player} onChange={setPlayer} any={tr("Choose")} required />
        {next.data ? (
          <div className="grid gap-2 border-l-4 border-hairline pl-3">
            <p className="text-lg">
              {tr("Due {longDay}: {why}.", { longDay: longDay(next.data.due), why: next.data.why })}
              {next.data.courses.map((c) => (
                <span key={c.id} className="block text-muted">
                  {tr("{name}: {left} of {lessons} left", { name: c.name, left: c.left, lessons: c.lessons })}
                </span>
              ))}
            </p>
            <Places places={next.data.places} onTake={take} />
          </div>
        ) : null}
        <LessonFields span={span} form={form} onChange={setForm} />
        <Choice<Repeat>
          label={tr("How often")}
          value={repeat}
          onChange={setRepeat}
          options={[
            { id: "once", label: tr("Once") },
            { id: "1", label: tr("Every week") },
            { id: "2", label: tr("Every other week") },
          ]}
        />
        {repeat === "once" ? null : (
          <Field label={tr("Until")}>
            <input className={inputLook} type="date" required min={form.day} value={until} onChange={(e) => setUntil(e.target.value)} />
          </Field>
        )}
        <Refusal error={book.error} onTake={take} onAnyway={() => submit(true)} busy={busy} />
        <ErrorLine error={row.error ?? players.error ?? next.error} />
        {row.data?.not_booked.length ? (
          <div role="alert" className="border-l-4 border-rust pl-3 text-lg">
            <p>{tr("{length} booked. Not booked:", { length: row.data.booked.length })}</p>
            <ul>
              {row.data.not_booked.map((x) => (
                <li key={x.at}>{`${longDay(x.at.slice(0, 10))} ${wall(x.at)}: ${x.why}.`}</li>
              ))}
            </ul>
          </div>
        ) : null}
        <div className="flex gap-3">
          <Button tone="solid" type="submit" disabled={!player || busy}>
            {tr("Book")}
          </Button>
          {row.data?.not_booked.length ? <Button onClick={onClose}>{tr("Leave these out")}</Button> : null}
        </div>
      </form>
    </Sheet>
  );
}
