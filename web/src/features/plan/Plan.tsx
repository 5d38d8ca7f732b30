import { useMutation } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { useCatalogue, useLesson, useRefresh } from "@/api/hooks";
import { Button, ErrorLine, Field, inputLook, Loading, useSettings } from "@/shared/ui/controls";

interface Choice {
  finding: string;
  label: string;
  drill: string;
  why: string;
  override_reason: string;
}

/** End of the lesson: at most two priorities, one note, next date, one page. */
export function Plan() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/plan" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  if (lesson.isPending || catalogue.isPending) return <Loading what="Opening the plan" />;
  if (!lesson.data || !catalogue.data) return <div className="p-8"><ErrorLine error={lesson.error ?? catalogue.error} /></div>;
  return <PlanForm key={lesson.data.status} lesson={lesson.data} catalogue={catalogue.data} />;
}

function proposed(lesson: Schemas["LessonOut"], catalogue: Schemas["Catalogue"]): Choice[] {
  if (lesson.priorities.length) return lesson.priorities.map((p) => ({ finding: p.finding, label: p.label, drill: p.drill, why: p.why, override_reason: p.override_reason }));
  const own = lesson.together.find((t) => t.club === lesson.club) ?? lesson.together[0];
  return (own?.proposals ?? []).slice(0, 2).map((p) => ({
    finding: p.finding, label: catalogue.findings.find((f) => f.id === p.finding)?.label ?? p.label, drill: p.drills[0] ?? "", why: p.why, override_reason: "",
  }));
}

function PlanForm({ lesson, catalogue }: { lesson: Schemas["LessonOut"]; catalogue: Schemas["Catalogue"] }) {
  const [chosen, setChosen] = useState<Choice[]>(() => proposed(lesson, catalogue));
  const { words } = useSettings();
  const name = (id: string, fallback: string) => {
    const found = catalogue.findings.find((f) => f.id === id);
    return (words === "plain" ? found?.plain_label : found?.label) ?? fallback;
  };
  const [note, setNote] = useState(lesson.note);
  const [next, setNext] = useState(lesson.next_date ?? "");
  const refresh = useRefresh(lesson.id);
  const navigate = useNavigate();
  const own = lesson.together.find((t) => t.club === lesson.club) ?? lesson.together[0];
  const initial = (own?.proposals ?? []).map((p) => p.finding);
  const others = catalogue.findings.filter((f) => !chosen.some((c) => c.finding === f.id) && own?.findings.some((x) => x.finding === f.id));
  const close = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/lessons/{lesson_id}/close", {
          params: { path: { lesson_id: lesson.id } },
          body: { priorities: chosen, note, next_date: next || null },
        }),
      ),
    onSuccess: async (done) => {
      if (!done.kept) {
        await navigate({ to: "/" });
        return;
      }
      await refresh();
    },
  });
  const set = (k: number, part: Partial<Choice>) => setChosen((old) => old.map((c, i) => (i === k ? { ...c, ...part } : c)));
  const walkIn = lesson.player.walk_in && !lesson.player.consent;
  const closed = lesson.status === "closed";
  const withheld = own?.proposals.flatMap((p) => p.withheld) ?? [];
  const pill = "inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold";

  return (
    <main className="grid h-full grid-cols-[1fr_440px]">
      <section className="overflow-y-auto px-7 py-6">
        <h2 className="text-[40px] leading-tight font-bold">{closed ? "The lesson is closed." : chosen.length ? `${chosen.length === 1 ? "One priority" : "Two priorities"}, no more.` : "Nothing to change. Keep this."}</h2>
        {own?.good.length ? <p className="mt-1 text-lg text-muted">Keep: {(words === "plain" ? own.plain_good : own.good).join(" · ")}</p> : null}
        <ol className="mt-4">
          {chosen.map((c, k) => {
            const drills = catalogue.findings.find((f) => f.id === c.finding)?.drills ?? [];
            const overridden = initial.length > 0 && !initial.includes(c.finding);
            return (
              <li key={c.finding} className="border-t border-hairline py-4">
                <div className="flex items-baseline justify-between gap-4">
                  <h3 className="text-[32px] leading-tight font-bold">{k + 1}. {name(c.finding, c.label)}</h3>
                  {closed ? null : <button type="button" className="min-h-14 flex-none px-2 text-lg underline" onClick={() => setChosen((old) => old.filter((_, i) => i !== k))}>Leave out</button>}
                </div>
                <p className="text-lg text-muted">{c.why ? `Proposed because ${c.why}.` : "Your own choice."}</p>
                <div className="mt-2 flex flex-wrap items-center gap-2">
                  {drills.map((id) => {
                    const d = catalogue.drills.find((x) => x.id === id)!;
                    const w = withheld.find((x) => x.drill === id);
                    return w ? (
                      <p key={id} className="text-lg"><b>{d.label}</b> is withheld: {w.reason}.</p>
                    ) : (
                      <Button key={id} tone={c.drill === id ? "solid" : "line"} disabled={closed} onClick={() => set(k, { drill: c.drill === id ? "" : id })}>{d.label}</Button>
                    );
                  })}
                </div>
                {overridden && !closed ? (
                  <Field label="Why this instead of the proposal">
                    <input className={inputLook} value={c.override_reason} onChange={(e) => set(k, { override_reason: e.target.value })} />
                  </Field>
                ) : null}
              </li>
            );
          })}
        </ol>
        {!closed && chosen.length < 2 && others.length ? (
          <div className="border-t border-hairline py-4">
            <p className="text-lg text-muted">Also seen in this lesson</p>
            <div className="mt-2 flex flex-wrap gap-3">
              {others.map((f) => (
                <Button key={f.id} onClick={() => setChosen((old) => [...old, { finding: f.id, label: f.label, drill: f.drills[0] ?? "", why: "", override_reason: "" }])}>{name(f.id, f.label)}</Button>
              ))}
            </div>
          </div>
        ) : null}
      </section>
      <aside className="space-y-4 overflow-y-auto border-l border-hairline px-7 py-6">
        <Field label="One note"><textarea className={inputLook} rows={4} value={note} disabled={closed} onChange={(e) => setNote(e.target.value)} /></Field>
        <Field label="Next lesson"><input className={inputLook} type="date" value={next} disabled={closed} onChange={(e) => setNext(e.target.value)} /></Field>
        {walkIn ? <p className="border-l-4 border-ink pl-3 text-lg"><b>No name, no consent:</b> ending the lesson erases everything captured.</p> : null}
        <ErrorLine error={close.error} />
        {closed ? null : <Button tone="solid" className="w-full" onClick={() => close.mutate()} disabled={close.isPending}>{walkIn ? "End and erase" : "End the lesson"}</Button>}
        {walkIn ? null : (
          <div className="flex flex-wrap gap-3">
            <a className={pill} href={`/api/lessons/${lesson.id}/page.pdf`} target="_blank" rel="noreferrer">Print page</a>
            <a className={pill} href={`/api/lessons/${lesson.id}/page`} target="_blank" rel="noreferrer">See page</a>
            <a className={pill} href={`/api/lessons/${lesson.id}/export`} download>Export</a>
          </div>
        )}
        <p className="text-lg text-muted">The page carries priorities, drill, picture and numbers before and after; no pain notes, no confidence figures.</p>
      </aside>
    </main>
  );
}
