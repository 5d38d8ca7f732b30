import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { useRefresh } from "@/api/hooks";
import type { Choice } from "@/lib/plan";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

/** One note, the next date, the end. A walk-in without consent is erased. */
export function EndSheet({ open, onClose, lesson, chosen }: { open: boolean; onClose: () => void; lesson: Schemas["LessonOut"]; chosen: Choice[] }) {
  const [note, setNote] = useState(lesson.note);
  const [next, setNext] = useState(lesson.next_date ?? "");
  const refresh = useRefresh(lesson.id);
  const navigate = useNavigate();
  const walkIn = lesson.player.walk_in && !lesson.player.consent;
  const close = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/lessons/{lesson_id}/close", { params: { path: { lesson_id: lesson.id } }, body: { priorities: chosen, note, next_date: next || null } }),
      ),
    onSuccess: async (done) => {
      if (!done.kept) return void (await navigate({ to: "/" }));
      await refresh();
      onClose();
    },
  });
  return (
    <Sheet open={open} onClose={onClose} title="End the lesson">
      <div className="space-y-4">
        <Field label="One note">
          <textarea className={inputLook} rows={4} value={note} onChange={(e) => setNote(e.target.value)} />
        </Field>
        <Field label="Next lesson">
          <input className={inputLook} type="date" value={next} onChange={(e) => setNext(e.target.value)} />
        </Field>
        {walkIn ? (
          <p className="border-l-4 border-ink pl-3 text-lg">
            <b>No name, no consent:</b> ending the lesson erases everything captured.
          </p>
        ) : null}
        <ErrorLine error={close.error} />
        <Button tone="solid" className="w-full" onClick={() => close.mutate()} disabled={close.isPending}>
          {walkIn ? "End and erase" : "End now"}
        </Button>
      </div>
    </Sheet>
  );
}
