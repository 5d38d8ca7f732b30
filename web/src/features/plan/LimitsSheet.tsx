import { useMutation } from "@tanstack/react-query";

import { api, data, type Schemas } from "@/api/client";
import { useChangeLesson, useRefresh } from "@/api/hooks";
import { LimitForm } from "@/shared/forms/LimitForm";
import { PainClash } from "@/shared/forms/PainClash";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";
import { limitWords } from "@/lib/terms";

/** Pain today, and what the player cannot do: both withhold drills; a limit takes back the judgement it touches. */
export function LimitsSheet({
  open,
  onClose,
  lesson,
  catalogue,
}: {
  open: boolean;
  onClose: () => void;
  lesson: Schemas["LessonOut"];
  catalogue: Schemas["Catalogue"];
}) {
  const refresh = useRefresh(lesson.id);
  const change = useChangeLesson(lesson.id);
  const at = { player_id: lesson.player.id };
  const add = useMutation({
    mutationFn: (body: Schemas["LimitIn"]) => data(api.POST("/api/players/{player_id}/limits", { params: { path: at }, body })),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: (id: string) => data(api.DELETE("/api/players/{player_id}/limits/{limit_id}", { params: { path: { ...at, limit_id: id } } })),
    onSuccess: refresh,
  });
  const noted = lesson.pain_note.split(", ").filter(Boolean);
  const toggle = (area: string) => {
    const next = noted.includes(area) ? noted.filter((a) => a !== area) : [...noted, area];
    change.mutate({ pain: "yes", pain_note: next.join(", ") });
  };
  return (
    <Sheet open={open} onClose={onClose} title={tr("Limits and pain")}>
      <PainClash change={change} />
      <h3 className="text-xl font-bold">{tr("Pain today?")}</h3>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button tone={lesson.pain === "no" ? "solid" : "line"} onClick={() => change.mutate({ pain: "no", pain_note: "" })}>
          {tr("No pain")}
        </Button>
        <Button tone={lesson.pain === "yes" ? "solid" : "line"} onClick={() => change.mutate({ pain: "yes" })}>
          {tr("Pain")}
        </Button>
      </div>
      {lesson.pain === "yes" ? (
        <>
          <p className="mt-3 text-lg text-muted">{tr("Where?")}</p>
          <div className="mt-1 flex flex-wrap gap-2">
            {catalogue.limit_areas.map((a) => (
              <Button
                key={a.area}
                className="px-4!"
                tone={noted.includes(a.area) ? "solid" : "line"}
                aria-pressed={noted.includes(a.area)}
                onClick={() => toggle(a.area)}
              >
                {a.area}
              </Button>
            ))}
          </div>
          <p className="mt-3 border-l-4 border-ink pl-3 text-lg">
            <b>{tr("Stop, and see a licensed health professional.")}</b> {tr("Drills that load where it hurts are not offered.")}
          </p>
        </>
      ) : null}
      <h3 className="mt-6 border-t border-hairline pt-4 text-xl font-bold">{tr("Limits")}</h3>
      {lesson.player.limits.map((l) => (
        <div key={l.id} className="flex items-start justify-between gap-3 border-b border-hairline py-1">
          <p className="text-lg">
            <b>{limitWords(l)}</b>
            {l.comfortable ? tr(", {comfortable}° in comfort", { comfortable: l.comfortable }) : ""}
            {l.holds ? "" : tr(" (not now)")}
            <br />
            {l.note}
          </p>
          <button type="button" className="min-h-14 px-2 underline" onClick={() => remove.mutate(l.id)}>
            {tr("Remove")}
          </button>
        </div>
      ))}
      <details className="mt-3" open={lesson.player.limits.length === 0}>
        <summary className="min-h-14 cursor-pointer text-lg font-semibold">{tr("Add a limit")}</summary>
        <LimitForm areas={catalogue.limit_areas} pending={add.isPending} error={add.error} onSubmit={(body) => add.mutate(body)} />
      </details>
      <ErrorLine error={remove.error} />
    </Sheet>
  );
}
