import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";

import { api, data, isClash, seen, type Schemas } from "@/api/client";
import { useRefresh } from "@/api/hooks";
import { priorityWords, type Choice } from "@/lib/plan";
import { Clash, type Edited } from "@/shared/ui/Clash";
import { Button, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

const FIELDS: Edited<Schemas["CloseIn"]>[] = [
  { key: "note", label: tr("Note"), joins: true },
  { key: "next_date", label: tr("Next lesson") },
  { key: "priorities", label: tr("Priorities"), show: priorityWords },
];

/** One note, the next date, the end. Without consent everything captured is erased. */
export function EndSheet({ open, onClose, lesson, chosen }: { open: boolean; onClose: () => void; lesson: Schemas["LessonOut"]; chosen: Choice[] }) {
  const [note, setNote] = useState(lesson.note);
  const [next, setNext] = useState(lesson.next_date ?? "");
  const refresh = useRefresh(lesson.id);
  const navigate = useNavigate();
  const unconsented = !lesson.player.consent;
  const mine: Schemas["CloseIn"] = { priorities: chosen, note, next_date: next || null };
  const close = useMutation({
    mutationFn: ({ body, revision }: { body: Schemas["CloseIn"]; revision: string }) =>
      data(api.POST("/api/lessons/{lesson_id}/close", { params: { path: { lesson_id: lesson.id }, header: seen(revision) }, body })),
    onSuccess: async (done) => {
      if (!done.kept) return void (await navigate({ to: "/" }));
      await refresh();
      onClose();
    },
  });
  return (
    <Sheet open={open} onClose={onClose} title={tr("End the lesson")}>
      <div className="space-y-4">
        <Field label={tr("One note")}>
          <textarea className={inputLook} rows={4} value={note} onChange={(e) => setNote(e.target.value)} />
        </Field>
        <Field label={tr("Next lesson")}>
          <input className={inputLook} type="date" value={next} onChange={(e) => setNext(e.target.value)} />
        </Field>
        {unconsented ? (
          <p className="border-l-4 border-ink pl-3 text-lg">
            <b>{tr("Nobody has consented:")}</b> {tr("ending the lesson erases everything captured. Note who agrees first, and it is kept.")}
          </p>
        ) : null}
        <Clash
          error={close.error}
          mine={mine}
          fields={FIELDS}
          pending={close.isPending}
          onSave={(body, revision) => {
            setNote(body.note ?? "");
            setNext(body.next_date ?? "");
            close.mutate({ body, revision });
          }}
        />
        {isClash(close.error) ? null : (
          <Button tone="solid" className="w-full" onClick={() => close.mutate({ body: mine, revision: lesson.revision })} disabled={close.isPending}>
            {unconsented ? tr("End and erase") : tr("End now")}
          </Button>
        )}
      </div>
    </Sheet>
  );
}
