import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { tr, trn } from "@/lib/language";

/** Courses of lessons: how many are used, booked and left. Counts only. */
export function Courses({ playerId }: { playerId: string }) {
  const client = useQueryClient();
  const key = keys.nextLesson(playerId);
  const next = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}/next", { params: { path: { player_id: playerId } }, signal })),
  });
  const put = (courses: Schemas["CourseOut"][]) => void client.setQueryData<Schemas["NextOut"]>(key, (old) => (old ? { ...old, courses } : old));
  const add = useMutation({
    mutationFn: (body: Schemas["CourseIn"]) => data(api.POST("/api/players/{player_id}/courses", { params: { path: { player_id: playerId } }, body })),
    onSuccess: (courses) => {
      put(courses);
      setOpen(false);
    },
  });
  const drop = useMutation({
    mutationFn: (course_id: string) => data(api.DELETE("/api/courses/{course_id}", { params: { path: { course_id } } })),
    onSuccess: put,
  });
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [lessons, setLessons] = useState(5);
  return (
    <div className="mt-6">
      <div className="flex items-center justify-between gap-4">
        <h2 className="text-2xl font-bold">{tr("Courses of lessons")}</h2>
        <Button aria-expanded={open} onClick={() => setOpen(!open)}>
          {tr("New course")}
        </Button>
      </div>
      {open ? (
        <form
          className="mt-2 grid grid-cols-[1fr_120px_auto] items-end gap-3 max-[700px]:grid-cols-1"
          onSubmit={(e) => {
            e.preventDefault();
            add.mutate({ name, lessons });
          }}
        >
          <Field label={tr("Name")}>
            <input
              className={inputLook}
              maxLength={120}
              value={name}
              placeholder={tr("{lessons} lessons", { lessons })}
              onChange={(e) => setName(e.target.value)}
            />
          </Field>
          <Field label={tr("Lessons")}>
            <input className={inputLook} type="number" min={1} max={200} value={lessons} onChange={(e) => setLessons(Number(e.target.value))} />
          </Field>
          <Button tone="solid" type="submit" disabled={add.isPending}>
            {tr("Add it")}
          </Button>
        </form>
      ) : null}
      <ul>
        {next.data?.courses.map((c) => (
          <li key={c.id} className="flex min-h-16 flex-wrap items-center gap-x-4 border-b border-hairline text-xl">
            <span className="min-w-0 flex-1">
              <b>{c.name}</b>
              <span className="block text-lg text-muted">
                {tr("{n} of {lessons} left, {booked} booked, {used} used", {
                  n: trn("{count} lesson", "{count} lessons", c.left),
                  lessons: c.lessons,
                  booked: c.booked,
                  used: c.used,
                })}
              </span>
            </span>
            <button type="button" className="min-h-14 px-2 text-lg underline" onClick={() => drop.mutate(c.id)}>
              {tr("Take out")}
            </button>
          </li>
        ))}
      </ul>
      {next.data?.courses.length === 0 && !open ? (
        <p className="mt-1 text-xl text-muted">{tr("None. Lessons that are booked count by themselves once there is one.")}</p>
      ) : null}
      <ErrorLine error={add.error ?? drop.error ?? next.error} />
    </div>
  );
}
