import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, seen, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { putLatest } from "@/api/latest";
import { Button, Choice, ErrorLine, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { PracticeDays } from "./PracticeDays";
import { ShareSheet } from "./ShareSheet";
import { tr } from "@/lib/language";

type Practice = Schemas["PracticeOut"];
type Place = Practice["place"];

const WEEKDAYS = [tr("Monday"), tr("Tuesday"), tr("Wednesday"), tr("Thursday"), tr("Friday"), tr("Saturday"), tr("Sunday")];
const MINUTES = [0, 10, 20, 30, 45, 60];
const PLACES: { id: Place; label: string }[] = [
  { id: "range", label: tr("Range") },
  { id: "garden", label: tr("Garden") },
  { id: "garage", label: tr("Garage") },
];
const USUAL: Record<string, number> = { "0": 20, "2": 20, "4": 20, "6": 20 };

function usePractice(lessonId: string, open: boolean) {
  const client = useQueryClient();
  const path = { params: { path: { lesson_id: lessonId } } };
  const key = keys.practice(lessonId);
  const onSuccess = (plan: Practice | null) =>
    putLatest(client, [key], () => void client.setQueryData<Schemas["PracticeFound"]>(key, (old) => ({ equipment: old?.equipment ?? [], plan })));
  const found = useQuery({ queryKey: key, enabled: open, queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/practice", { ...path, signal })) });
  return {
    found,
    make: useMutation({
      mutationFn: ({ body, revision }: { body: Schemas["PracticeIn"]; revision: string }) =>
        data(api.PUT("/api/lessons/{lesson_id}/practice", { params: { ...path.params, header: seen(revision) }, body })),
      onSuccess,
      onError: () => client.invalidateQueries({ queryKey: key }), // a plan that somebody else made meanwhile is shown
    }),
    move: useMutation({
      mutationFn: (body: Schemas["MovedIn"]) => data(api.POST("/api/lessons/{lesson_id}/practice/moved", { ...path, body })),
      onSuccess,
    }),
    miss: useMutation({ mutationFn: (day: string) => data(api.POST("/api/lessons/{lesson_id}/practice/missed", { ...path, body: { day } })), onSuccess }),
    stop: useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/practice/pain", { ...path, body: { where: "" } })), onSuccess }),
  };
}

const LINK = "inline-flex min-h-14 items-center rounded-full border-2 border-ink px-6 text-lg font-semibold";

/** What the player practises until the next lesson: from what they can, with why each block stands where it stands. */
export function PracticeSheet({ open, onClose, lessonId }: { open: boolean; onClose: () => void; lessonId: string }) {
  const { found, make, move, miss, stop } = usePractice(lessonId, open);
  const [asked, setAsked] = useState<Record<string, number> | null>(null);
  const [place, setPlace] = useState<Place | null>(null);
  const [again, setAgain] = useState(false);
  const [without, setWithout] = useState<string[] | null>(null);
  const [link, setLink] = useState(false);
  const plan = found.data?.plan ?? null;
  const minutes = asked ?? plan?.minutes ?? USUAL;
  const needed = found.data?.equipment ?? [];
  const missing = without ?? (plan?.equipment ? needed.filter((x) => !plan.equipment!.includes(x)) : []);
  const where = place ?? plan?.place ?? "range";
  const busy = make.isPending || move.isPending || miss.isPending || stop.isPending;
  const submit = () =>
    make.mutate(
      {
        body: {
          minutes: Object.fromEntries(Object.entries(minutes).filter(([, m]) => m > 0)),
          place: where,
          equipment: missing.length ? needed.filter((x) => !missing.includes(x)) : null,
          last: null,
        },
        revision: plan?.revision ?? "none",
      },
      { onSuccess: () => setAgain(false) },
    );
  return (
    <Sheet open={open} onClose={onClose} title={tr("Practice until the next lesson")}>
      <ErrorLine error={make.error ?? move.error ?? miss.error ?? stop.error ?? found.error} />
      {plan && !again ? (
        <PlanShown
          plan={plan}
          busy={busy}
          onMove={(number, to) => move.mutate({ number, to })}
          onMiss={(day) => miss.mutate(day)}
          onPain={() => stop.mutate()}
          onAgain={() => setAgain(true)}
          onLink={() => setLink(true)}
          lessonId={lessonId}
        />
      ) : found.isPending ? null : (
        <div className="grid gap-4 text-lg">
          <p>{tr("How long can the player practise, and where? Blocks are 10 to 20 minutes.")}</p>
          <ul>
            {WEEKDAYS.map((name, k) => (
              <li key={name} className="grid grid-cols-[120px_1fr] items-center border-b border-hairline py-1">
                <span>{name}</span>
                <select
                  className={inputLook}
                  aria-label={tr("Minutes on {name}", { name })}
                  value={minutes[String(k)] ?? 0}
                  onChange={(e) => setAsked({ ...minutes, [String(k)]: Number(e.target.value) })}
                >
                  {MINUTES.map((m) => (
                    <option key={m} value={m}>
                      {m === 0 ? tr("none") : tr("{m} minutes", { m })}
                    </option>
                  ))}
                </select>
              </li>
            ))}
          </ul>
          <Choice label={tr("Where")} value={where} onChange={setPlace} options={PLACES} />
          {needed.length ? (
            <fieldset>
              <legend className="text-muted">{tr("What is there beside a club")}</legend>
              {needed.map((x) => (
                <label key={x} className="flex min-h-14 items-center gap-3">
                  <input
                    type="checkbox"
                    className="size-6"
                    checked={!missing.includes(x)}
                    onChange={(e) => setWithout(e.target.checked ? missing.filter((y) => y !== x) : [...missing, x])}
                  />
                  {x}
                </label>
              ))}
            </fieldset>
          ) : null}
          <div className="flex gap-3">
            <Button tone="solid" disabled={busy} onClick={submit}>
              {tr("Make the plan")}
            </Button>
            {plan ? <Button onClick={() => setAgain(false)}>{tr("Keep the old one")}</Button> : null}
          </div>
        </div>
      )}
      <ShareSheet open={link} onClose={() => setLink(false)} lessonId={lessonId} purpose="practice" />
    </Sheet>
  );
}

function PlanShown(props: {
  plan: Practice;
  lessonId: string;
  onLink: () => void;
  busy: boolean;
  onMove: (number: number, to: string) => void;
  onMiss: (day: string) => void;
  onPain: () => void;
  onAgain: () => void;
}) {
  const { plan, busy } = props;
  const [open, setOpen] = useState<number | null>(null);
  const chosen = plan.blocks.find((b) => b.number === open);
  const done = plan.blocks.filter((b) => b.done).length;
  return (
    <div className="grid gap-3 text-lg">
      {plan.stopped ? (
        <p role="alert" className="border-l-4 border-rust pl-3 text-xl font-bold">
          {plan.stopped}
        </p>
      ) : (
        <p className="text-muted">
          {tr("{length} blocks{what}; {room}. Any pain: stop, and see a licensed health professional.", {
            length: plan.blocks.length,
            what: done ? tr(", {done} done", { done }) : "",
            room: plan.room,
          })}
        </p>
      )}
      {plan.broken.map((b) => (
        <p key={`${b.rule}-${b.day}`} role="alert" className="border-l-4 border-rust pl-3">
          {b.words}
        </p>
      ))}
      {plan.withheld.map((w) => (
        <p key={w} className="text-muted">
          {w}
        </p>
      ))}
      {plan.dropped ? <p>{tr("{dropped} had no day left.", { dropped: plan.dropped })}</p> : null}
      <PracticeDays plan={plan} busy={busy} open={open} onOpen={setOpen} onMove={props.onMove} />
      {chosen ? (
        <div className="grid gap-2 border-l-4 border-ink pl-3" aria-live="polite">
          {chosen.why.map((w) => (
            <p key={w}>{w}</p>
          ))}
          {chosen.drills.map((d) => (
            <p key={d.id} className="text-muted">
              {[d.how, d.dose, d.caution].filter(Boolean).join(" ")}
            </p>
          ))}
          {chosen.done || plan.stopped ? null : (
            <div>
              <Button disabled={busy} onClick={() => props.onMiss(chosen.day)}>
                {tr("This day was missed")}
              </Button>
            </div>
          )}
        </div>
      ) : null}
      <div className="flex flex-wrap gap-3">
        <Button tone="solid" onClick={props.onLink}>
          {tr("For the player's phone")}
        </Button>
        <a className={LINK} href={`/api/lessons/${props.lessonId}/practice/page`} target="_blank" rel="noreferrer">
          {tr("Print")}
        </a>
        <a className={LINK} href={`/api/lessons/${props.lessonId}/practice/calendar.ics`}>
          {tr("Calendar file")}
        </a>
        <Button onClick={props.onAgain}>{tr("Other days or place")}</Button>
        {plan.stopped ? null : (
          <Button disabled={busy} onClick={props.onPain}>
            {tr("Pain: stop it")}
          </Button>
        )}
      </div>
    </div>
  );
}
