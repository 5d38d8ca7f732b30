import type { Schemas } from "@/api/client";
import { Choice, Field, inputLook } from "@/shared/ui/controls";

import type { Span } from "./useDiary";
import { tr } from "@/lib/language";

/** One of some people by name; `any` names the choice of nobody in particular. */
export function PersonField(props: {
  label: string;
  people: readonly Schemas["PersonOut"][] | undefined;
  value: string;
  onChange: (id: string) => void;
  any?: string;
  required?: boolean;
}) {
  return (
    <Field label={props.label}>
      <select className={inputLook} required={props.required ?? false} value={props.value} onChange={(e) => props.onChange(e.target.value)}>
        {props.any === undefined ? null : <option value="">{props.any}</option>}
        {props.people?.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </select>
    </Field>
  );
}

/** Where and when a lesson is, as it is typed: by the academy's clock. */
export interface LessonForm {
  day: string;
  time: string;
  minutes: number;
  instructor: string;
  bay: string;
  set: string;
  markers: boolean;
}

export function LessonFields({ span, form, onChange }: { span: Span; form: LessonForm; onChange: (form: LessonForm) => void }) {
  const put = (part: Partial<LessonForm>) => onChange({ ...form, ...part });
  return (
    <>
      <div className="grid grid-cols-2 gap-4">
        <Field label={tr("Day")}>
          <input className={inputLook} type="date" required value={form.day} onChange={(e) => put({ day: e.target.value })} />
        </Field>
        <Field label={tr("Time")}>
          <input className={inputLook} type="time" required step={300} value={form.time} onChange={(e) => put({ time: e.target.value })} />
        </Field>
        <Field label={tr("Minutes")}>
          <input
            className={inputLook}
            type="number"
            min={10}
            max={240}
            step={5}
            value={form.minutes}
            onChange={(e) => put({ minutes: Number(e.target.value) })}
          />
        </Field>
        <PersonField label={tr("Instructor")} people={span.instructors} value={form.instructor} onChange={(instructor) => put({ instructor })} />
      </div>
      <Choice label={tr("Bay")} value={form.bay} onChange={(bay) => put({ bay })} options={span.bays.map((b) => ({ id: b, label: b }))} />
      <div className="flex flex-wrap items-center gap-x-6">
        {span.sensor_sets.length ? (
          <Choice
            label={tr("Sensor set")}
            value={form.set}
            onChange={(set) => put({ set })}
            options={[{ id: "", label: tr("No set") }, ...span.sensor_sets.map((s) => ({ id: s, label: s }))]}
          />
        ) : null}
        <label className="flex min-h-14 items-center gap-3 text-lg">
          <input type="checkbox" className="size-6 accent-[var(--ink)]" checked={form.markers} onChange={(e) => put({ markers: e.target.checked })} />
          {tr("Markers")}
        </label>
      </div>
    </>
  );
}
