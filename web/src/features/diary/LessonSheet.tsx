import { Link } from "@tanstack/react-router";
import { useState } from "react";

import { minutesOf } from "@/lib/diary";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { LessonFields, type LessonForm } from "./fields";
import { Refusal } from "./Places";
import { useChanges, type Move, type Place, type Slot, type Span } from "./useDiary";
import { longDay, STATUS, wall } from "./words";
import { tr } from "@/lib/language";

interface Props {
  span: Span;
  lesson: Slot;
  onClose: () => void;
  onDone: (words: string, undo?: () => void) => void;
  /** A place that became free. */
  onFreed: (lesson: Slot) => void;
}

/** One lesson of the diary: open it, put it elsewhere, cancel it, note that nobody came. */
export function LessonSheet({ span, lesson, onClose, onDone, onFreed }: Props) {
  const { move, cancel, missed, again } = useChanges();
  const long = minutesOf(lesson.ends_at) - minutesOf(lesson.starts_at);
  const [form, setForm] = useState<LessonForm>({
    day: lesson.starts_at.slice(0, 10),
    time: lesson.starts_at.slice(11, 16),
    minutes: long > 0 ? long : long + 1440,
    instructor: lesson.instructor_id,
    bay: lesson.bay,
    set: lesson.sensor_set,
    markers: lesson.markers,
  });
  const { minutes, set, markers } = form;
  const [leaving, setLeaving] = useState(false);
  const [reason, setReason] = useState("");
  const [begun] = useState(() => new Date(lesson.starts_at).getTime() <= Date.now());
  const busy = move.isPending || cancel.isPending || missed.isPending || again.isPending;
  const put = (to: Move) =>
    move.mutate(
      { id: lesson.id, to },
      { onSuccess: (made) => onDone(`${lesson.player}: ${longDay(made.starts_at.slice(0, 10))} ${wall(made.starts_at)}, ${made.bay}.`) },
    );
  const take = (p: Place) => put({ starts_at: p.starts_at, instructor_id: p.instructor_id, bay: p.bay, minutes, sensor_set: set, markers });
  const asked = { starts_at: `${form.day}T${form.time}:00`, minutes, instructor_id: form.instructor, bay: form.bay, sensor_set: set, markers };
  return (
    <Sheet open onClose={onClose} title={lesson.player}>
      <div className="grid gap-4 text-lg">
        <p className="text-xl">
          {tr("{longDay}, {wall} to {wall2}", { longDay: longDay(lesson.starts_at.slice(0, 10)), wall: wall(lesson.starts_at), wall2: wall(lesson.ends_at) })}
          <span className="block text-muted">
            {[lesson.instructor, lesson.bay, STATUS[lesson.status], lesson.in_row ? tr("one of a row") : "", lesson.cancel_reason].filter(Boolean).join(" · ")}
          </span>
          {lesson.course ? (
            <span className="block text-muted">
              {tr("{name}: {left} of {lessons} left", { name: lesson.course.name, left: lesson.course.left, lessons: lesson.course.lessons })}
            </span>
          ) : null}
        </p>
        {lesson.status === "cancelled" || lesson.status === "no_show" ? (
          <div className="grid gap-3">
            <Refusal error={again.error} onTake={() => undefined} onAnyway={() => undefined} />
            <div>
              <Button
                tone="solid"
                disabled={busy}
                onClick={() => again.mutate(lesson.id, { onSuccess: () => onDone(tr("{player} is planned again.", { player: lesson.player })) })}
              >
                {tr("Plan it again")}
              </Button>
            </div>
          </div>
        ) : (
          <div className="flex flex-wrap gap-3">
            <Link
              to="/lessons/$lessonId"
              params={{ lessonId: lesson.id }}
              className="inline-flex min-h-14 items-center rounded-full border-2 border-ink bg-ink px-6 font-semibold text-paper"
            >
              {tr("Open the lesson")}
            </Link>
            {lesson.status === "planned" ? (
              <Button aria-expanded={leaving} onClick={() => setLeaving(!leaving)}>
                {tr("Cancel it")}
              </Button>
            ) : null}
            {lesson.status === "planned" && begun ? (
              <Button
                disabled={busy}
                onClick={() =>
                  missed.mutate(lesson.id, { onSuccess: () => onDone(tr("{player} did not come.", { player: lesson.player }), () => again.mutate(lesson.id)) })
                }
              >
                {tr("Did not come")}
              </Button>
            ) : null}
          </div>
        )}
        <ErrorLine error={cancel.error ?? missed.error} />
        {leaving ? (
          <form
            className="grid gap-3 border-l-4 border-ink pl-4"
            onSubmit={(e) => {
              e.preventDefault();
              cancel.mutate(
                { id: lesson.id, reason },
                {
                  onSuccess: () => {
                    onDone(tr("Cancelled: {player}, {wall}.", { player: lesson.player, wall: wall(lesson.starts_at) }), () => again.mutate(lesson.id));
                    onFreed(lesson);
                  },
                },
              );
            }}
          >
            <Field label={tr("Why")}>
              <input className={inputLook} maxLength={200} value={reason} onChange={(e) => setReason(e.target.value)} list="reasons" />
            </Field>
            <datalist id="reasons">
              {[tr("ill"), tr("travels"), tr("weather"), tr("instructor away")].map((r) => (
                <option key={r} value={r} />
              ))}
            </datalist>
            <div>
              <Button tone="solid" type="submit" disabled={busy}>
                {tr("Take it out of the diary")}
              </Button>
            </div>
          </form>
        ) : null}
        {lesson.status === "planned" && !leaving ? (
          <form
            className="grid gap-4 border-t border-hairline pt-4"
            onSubmit={(e) => {
              e.preventDefault();
              put(asked);
            }}
          >
            <LessonFields span={span} form={form} onChange={setForm} />
            <Refusal error={move.error} onTake={take} onAnyway={() => put({ ...asked, anyway: true })} busy={busy} />
            <div>
              <Button type="submit" disabled={busy}>
                {tr("Move it")}
              </Button>
            </div>
          </form>
        ) : null}
      </div>
    </Sheet>
  );
}
