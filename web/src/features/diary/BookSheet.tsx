import { useState } from "react";

import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { Places, Refusal } from "./Places";
import { useChanges, useNext, usePlayers, type Place, type Span } from "./useDiary";
import { longDay, wall } from "./words";

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
  const [instructor, setInstructor] = useState(draft.instructor ?? span.instructors[0]?.id ?? "");
  const [bay, setBay] = useState(draft.bay ?? span.bays[0] ?? "Bay 1");
  const [day, setDay] = useState(draft.day);
  const [time, setTime] = useState(draft.time);
  const [minutes, setMinutes] = useState(span.lesson_minutes);
  const [set, setSet] = useState("");
  const [markers, setMarkers] = useState(false);
  const [repeat, setRepeat] = useState<Repeat>("once");
  const [until, setUntil] = useState("");
  const next = useNext(player);
  const busy = book.isPending || row.isPending;
  const take = (p: Place) => {
    setDay(p.starts_at.slice(0, 10));
    setTime(wall(p.starts_at));
    setInstructor(p.instructor_id);
    setBay(p.bay);
    book.reset();
  };
  const submit = (anyway: boolean) => {
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
    if (repeat === "once") book.mutate(body, { onSuccess: (made) => onDone(`Booked: ${made.player.name}, ${longDay(day)} ${wall(made.starts_at)}.`) });
    else
      row.mutate(
        { ...body, every_weeks: Number(repeat), until },
        { onSuccess: (made) => !made.not_booked.length && onDone(`${made.booked.length} lessons booked.`) },
      );
  };
  return (
    <Sheet open onClose={onClose} title="Book a lesson">
      <form
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          submit(false);
        }}
      >
        <Field label="Player">
          <select className={inputLook} required value={player} onChange={(e) => setPlayer(e.target.value)}>
            <option value="">Choose</option>
            {players.data?.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </Field>
        {next.data ? (
          <div className="grid gap-2 border-l-4 border-hairline pl-3">
            <p className="text-lg">
              {`Due ${longDay(next.data.due)}: ${next.data.why}.`}
              {next.data.courses.map((c) => (
                <span key={c.id} className="block text-muted">{`${c.name}: ${c.left} of ${c.lessons} left`}</span>
              ))}
            </p>
            <Places places={next.data.places} onTake={take} />
          </div>
        ) : null}
        <div className="grid grid-cols-2 gap-4">
          <Field label="Day">
            <input className={inputLook} type="date" required value={day} onChange={(e) => setDay(e.target.value)} />
          </Field>
          <Field label="Time">
            <input className={inputLook} type="time" required step={300} value={time} onChange={(e) => setTime(e.target.value)} />
          </Field>
          <Field label="Minutes">
            <input className={inputLook} type="number" min={10} max={240} step={5} value={minutes} onChange={(e) => setMinutes(Number(e.target.value))} />
          </Field>
          <Field label="Instructor">
            <select className={inputLook} value={instructor} onChange={(e) => setInstructor(e.target.value)}>
              {span.instructors.map((i) => (
                <option key={i.id} value={i.id}>
                  {i.name}
                </option>
              ))}
            </select>
          </Field>
        </div>
        <Choice label="Bay" value={bay} onChange={setBay} options={span.bays.map((b) => ({ id: b, label: b }))} />
        <Equipment span={span} set={set} onSet={setSet} markers={markers} onMarkers={setMarkers} />
        <Choice<Repeat>
          label="How often"
          value={repeat}
          onChange={setRepeat}
          options={[
            { id: "once", label: "Once" },
            { id: "1", label: "Every week" },
            { id: "2", label: "Every other week" },
          ]}
        />
        {repeat === "once" ? null : (
          <Field label="Until">
            <input className={inputLook} type="date" required min={day} value={until} onChange={(e) => setUntil(e.target.value)} />
          </Field>
        )}
        <Refusal error={book.error} onTake={take} onAnyway={() => submit(true)} busy={busy} />
        <ErrorLine error={row.error ?? players.error ?? next.error} />
        {row.data?.not_booked.length ? (
          <div role="alert" className="border-l-4 border-rust pl-3 text-lg">
            <p>{`${row.data.booked.length} booked. Not booked:`}</p>
            <ul>
              {row.data.not_booked.map((x) => (
                <li key={x.at}>{`${longDay(x.at.slice(0, 10))} ${wall(x.at)}: ${x.why}.`}</li>
              ))}
            </ul>
          </div>
        ) : null}
        <div className="flex gap-3">
          <Button tone="solid" type="submit" disabled={!player || busy}>
            Book
          </Button>
          {row.data?.not_booked.length ? <Button onClick={onClose}>Leave these out</Button> : null}
        </div>
      </form>
    </Sheet>
  );
}

/** Which mobile sensor set, and whether cameras are set up. */
export function Equipment(props: { span: Span; set: string; onSet: (set: string) => void; markers: boolean; onMarkers: (markers: boolean) => void }) {
  return (
    <div className="flex flex-wrap items-center gap-x-6">
      {props.span.sensor_sets.length ? (
        <Choice
          label="Sensor set"
          value={props.set}
          onChange={props.onSet}
          options={[{ id: "", label: "No set" }, ...props.span.sensor_sets.map((s) => ({ id: s, label: s }))]}
        />
      ) : null}
      <label className="flex min-h-14 items-center gap-3 text-lg">
        <input type="checkbox" className="size-6 accent-[var(--ink)]" checked={props.markers} onChange={(e) => props.onMarkers(e.target.checked)} />
        Markers
      </label>
    </div>
  );
}
