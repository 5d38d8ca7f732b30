import { useState } from "react";

import { readHours, writeHours } from "@/lib/diary";
import { Button, ErrorLine, Field, inputLook, Loading } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { useRules, type Rules, type Span } from "./useDiary";
import { shortDay, WEEKDAYS } from "./words";
import { tr } from "@/lib/language";

/** When who works, holidays, sensor sets, time to set cameras up. Lessons that are booked stay where they are. */
export function HoursSheet({ span, onClose }: { span: Span; onClose: () => void }) {
  const rules = useRules(true);
  return (
    <Sheet open onClose={onClose} title={tr("Hours and equipment")}>
      <ErrorLine error={rules.found.error} />
      {rules.found.data ? (
        <Form key={rules.found.data.revision} span={span} rules={rules.found.data as Rules} save={rules.save} onClose={onClose} />
      ) : (
        <Loading what={tr("Opening")} />
      )}
    </Sheet>
  );
}

const ACADEMY = "";

type Written = Record<string, string[]>;

/** Hours as they are typed, by whom ("" the academy); nobody's own are kept out. */
function written(rules: Rules): Written {
  const of = (hours: Rules["hours"]) => WEEKDAYS.map((_, k) => writeHours(hours?.[String(k)] ?? []));
  return {
    ...(rules.hours ? { [ACADEMY]: of(rules.hours) } : {}),
    ...Object.fromEntries(rules.own_hours.map((o) => [o.instructor_id, of(o.hours)])),
  };
}

const asHours = (days: string[]) => Object.fromEntries(days.map((text, k) => [String(k), readHours(text) ?? []]));

function Form({ span, rules, save, onClose }: { span: Span; rules: Rules; save: ReturnType<typeof useRules>["save"]; onClose: () => void }) {
  const [hours, setHours] = useState<Written>(() => written(rules));
  const [who, setWho] = useState(ACADEMY);
  const [holidays, setHolidays] = useState(rules.holidays);
  const [sets, setSets] = useState(rules.sensor_sets.join(", "));
  const [setup, setSetup] = useState(rules.setup_minutes);
  const [long, setLong] = useState(rules.lesson_minutes);
  const [day, setDay] = useState({ first: span.today, last: span.today, name: "" });
  const mine = hours[who];
  const wrong = Object.values(hours).some((days) => days.some((text) => readHours(text) === null));
  const submit = () =>
    save.mutate(
      {
        revision: rules.revision,
        hours: hours[ACADEMY] ? asHours(hours[ACADEMY]) : null,
        own_hours: span.instructors.filter((i) => hours[i.id]).map((i) => ({ instructor_id: i.id, hours: asHours(hours[i.id]!) })),
        holidays,
        sensor_sets: sets
          .split(",")
          .map((s) => s.trim())
          .filter(Boolean),
        setup_minutes: setup,
        lesson_minutes: long,
      },
      { onSuccess: onClose },
    );
  const others = WEEKDAYS.map((_, k) => (k < 5 ? "09:00-13:00, 14:00-18:00" : ""));
  return (
    <form
      className="grid gap-5 text-lg"
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <Field label={tr("Hours of")}>
        <select className={inputLook} value={who} onChange={(e) => setWho(e.target.value)}>
          <option value={ACADEMY}>{tr("The academy")}</option>
          {span.instructors.map((i) => (
            <option key={i.id} value={i.id}>
              {i.name}
            </option>
          ))}
        </select>
      </Field>
      {mine ? (
        <ul>
          {WEEKDAYS.map((name, k) => (
            <li key={name} className="grid grid-cols-[120px_1fr] items-center gap-2 py-1 max-[700px]:grid-cols-1">
              <span>{name}</span>
              <input
                className={`${inputLook} ${readHours(mine[k]!) === null ? "border-rust" : ""}`}
                aria-label={tr("Hours on {name}", { name })}
                value={mine[k]}
                placeholder={tr("closed")}
                onChange={(e) => setHours({ ...hours, [who]: mine.map((t, j) => (j === k ? e.target.value : t)) })}
              />
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-muted">{who === ACADEMY ? tr("None are noted: nothing is outside them.") : tr("The same as the academy's.")}</p>
      )}
      {wrong ? <p role="alert">{tr("Write hours like 09:00-13:00, 14:00-18:00.")}</p> : null}
      <div>
        {mine ? (
          <Button onClick={() => setHours(Object.fromEntries(Object.entries(hours).filter(([k]) => k !== who)))}>
            {who === ACADEMY ? tr("No hours") : tr("The academy's hours")}
          </Button>
        ) : (
          <Button onClick={() => setHours({ ...hours, [who]: hours[ACADEMY] ?? others })}>{tr("Note hours")}</Button>
        )}
      </div>
      <section aria-label={tr("Holidays")} className="border-t border-hairline pt-4">
        <h3 className="text-xl font-bold">{tr("Holidays")}</h3>
        <ul>
          {holidays.map((h, k) => (
            <li key={`${h.first}${h.name}`} className="flex min-h-14 items-center gap-3 border-b border-hairline">
              <span className="flex-1">
                {h.first === h.last ? shortDay(h.first) : tr("{shortDay} to {shortDay2}", { shortDay: shortDay(h.first), shortDay2: shortDay(h.last) })}{" "}
                {h.name}
                {h.instructor_id ? <span className="text-muted"> · {span.instructors.find((i) => i.id === h.instructor_id)?.name}</span> : null}
              </span>
              <button type="button" className="min-h-14 px-2 underline" onClick={() => setHolidays(holidays.filter((_, j) => j !== k))}>
                {tr("Take out")}
              </button>
            </li>
          ))}
        </ul>
        <div className="mt-3 grid grid-cols-2 gap-3">
          <Field label={tr("From")}>
            <input
              className={inputLook}
              type="date"
              value={day.first}
              onChange={(e) => setDay({ ...day, first: e.target.value, last: e.target.value > day.last ? e.target.value : day.last })}
            />
          </Field>
          <Field label={tr("To")}>
            <input className={inputLook} type="date" min={day.first} value={day.last} onChange={(e) => setDay({ ...day, last: e.target.value })} />
          </Field>
        </div>
        <Field label={tr("What")}>
          <input className={inputLook} maxLength={60} value={day.name} onChange={(e) => setDay({ ...day, name: e.target.value })} />
        </Field>
        <Button
          className="mt-3"
          onClick={() => {
            setHolidays([...holidays, { ...day, instructor_id: who || null }]);
            setDay({ ...day, name: "" });
          }}
        >
          {who === ACADEMY ? tr("Add it for everybody") : tr("Add it for {name}", { name: span.instructors.find((i) => i.id === who)?.name })}
        </Button>
      </section>
      <section aria-label={tr("Equipment")} className="grid gap-3 border-t border-hairline pt-4">
        <Field label={tr("Mobile sensor sets")} note={tr("Names with commas between: each can be in one place at a time.")}>
          <input className={inputLook} value={sets} onChange={(e) => setSets(e.target.value)} />
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label={tr("Minutes between marker lessons")}>
            <input className={inputLook} type="number" min={0} max={120} value={setup} onChange={(e) => setSetup(Number(e.target.value))} />
          </Field>
          <Field label={tr("Usual minutes of a lesson")}>
            <input className={inputLook} type="number" min={10} max={240} step={5} value={long} onChange={(e) => setLong(Number(e.target.value))} />
          </Field>
        </div>
      </section>
      <ErrorLine error={save.error} />
      <div>
        <Button tone="solid" type="submit" disabled={wrong || save.isPending}>
          {tr("Keep it")}
        </Button>
      </div>
    </form>
  );
}
