import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { putLatest } from "@/api/latest";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

type Practice = Schemas["PracticeOut"];
type Place = Practice["place"];

const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
const MINUTES = [0, 10, 20, 30, 45, 60];
const PLACES: { id: Place; label: string }[] = [
  { id: "range", label: "Range" },
  { id: "garden", label: "Garden" },
  { id: "garage", label: "Garage" },
];
const USUAL: Record<string, number> = { "0": 20, "2": 20, "4": 20, "6": 20 };

const dayOf = (iso: string) => new Date(`${iso}T12:00:00Z`).toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "short", timeZone: "UTC" });

/** "Every repetition", "half of them" …: how much feedback a block has. */
export function feedbackSaid(share: number): string {
  if (share === 0) return "no feedback";
  return share === 1 ? "feedback each time" : `feedback ${Math.round(100 * share)} %`;
}

function usePractice(lessonId: string, open: boolean) {
  const client = useQueryClient();
  const path = { params: { path: { lesson_id: lessonId } } };
  const key = keys.practice(lessonId);
  const onSuccess = (plan: Practice | null) => putLatest(client, [key], () => void client.setQueryData(key, { plan }));
  const found = useQuery({ queryKey: key, enabled: open, queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/practice", { ...path, signal })) });
  return {
    found,
    make: useMutation({ mutationFn: (body: Schemas["PracticeIn"]) => data(api.PUT("/api/lessons/{lesson_id}/practice", { ...path, body })), onSuccess }),
    move: useMutation({
      mutationFn: (body: Schemas["MovedIn"]) => data(api.POST("/api/lessons/{lesson_id}/practice/moved", { ...path, body })),
      onSuccess,
    }),
    miss: useMutation({ mutationFn: (day: string) => data(api.POST("/api/lessons/{lesson_id}/practice/missed", { ...path, body: { day } })), onSuccess }),
    stop: useMutation({ mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/practice/pain", { ...path, body: { where: "" } })), onSuccess }),
  };
}

/** What the player practises until the next lesson: from what they can, with why each block stands where it stands. */
export function PracticeSheet({ open, onClose, lessonId }: { open: boolean; onClose: () => void; lessonId: string }) {
  const { found, make, move, miss, stop } = usePractice(lessonId, open);
  const [asked, setAsked] = useState<Record<string, number> | null>(null);
  const [place, setPlace] = useState<Place | null>(null);
  const [again, setAgain] = useState(false);
  const plan = found.data?.plan ?? null;
  const minutes = asked ?? plan?.minutes ?? USUAL;
  const where = place ?? plan?.place ?? "range";
  const busy = make.isPending || move.isPending || miss.isPending || stop.isPending;
  const submit = () =>
    make.mutate(
      { minutes: Object.fromEntries(Object.entries(minutes).filter(([, m]) => m > 0)), place: where, equipment: null, last: null },
      { onSuccess: () => setAgain(false) },
    );
  return (
    <Sheet open={open} onClose={onClose} title="Practice until the next lesson">
      <ErrorLine error={make.error ?? move.error ?? miss.error ?? stop.error ?? found.error} />
      {plan && !again ? (
        <PlanShown
          plan={plan}
          busy={busy}
          onMove={(number, to) => move.mutate({ number, to })}
          onMiss={(day) => miss.mutate(day)}
          onPain={() => stop.mutate()}
          onAgain={() => setAgain(true)}
        />
      ) : found.isPending ? null : (
        <div className="grid gap-4 text-lg">
          <p>How long can the player practise, and where? Blocks are 10 to 20 minutes.</p>
          <ul>
            {WEEKDAYS.map((name, k) => (
              <li key={name} className="grid grid-cols-[120px_1fr] items-center border-b border-hairline py-1">
                <span>{name}</span>
                <select
                  className={inputLook}
                  aria-label={`Minutes on ${name}`}
                  value={minutes[String(k)] ?? 0}
                  onChange={(e) => setAsked({ ...minutes, [String(k)]: Number(e.target.value) })}
                >
                  {MINUTES.map((m) => (
                    <option key={m} value={m}>
                      {m === 0 ? "none" : `${m} minutes`}
                    </option>
                  ))}
                </select>
              </li>
            ))}
          </ul>
          <Choice label="Where" value={where} onChange={setPlace} options={PLACES} />
          <div className="flex gap-3">
            <Button tone="solid" disabled={busy} onClick={submit}>
              Make the plan
            </Button>
            {plan ? <Button onClick={() => setAgain(false)}>Keep the old one</Button> : null}
          </div>
        </div>
      )}
    </Sheet>
  );
}

function PlanShown(props: {
  plan: Practice;
  busy: boolean;
  onMove: (number: number, to: string) => void;
  onMiss: (day: string) => void;
  onPain: () => void;
  onAgain: () => void;
}) {
  const { plan, busy } = props;
  const [open, setOpen] = useState<number | null>(null);
  return (
    <div className="grid gap-3 text-lg">
      {plan.stopped ? (
        <p role="alert" className="border-l-4 border-rust pl-3 text-xl font-bold">
          {plan.stopped}
        </p>
      ) : (
        <p className="text-muted">{`${plan.blocks.length} blocks; ${plan.room}. Any pain: stop, and see a licensed health professional.`}</p>
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
      {plan.dropped ? <p>{`${plan.dropped} had no day left.`}</p> : null}
      <ol>
        {plan.blocks.map((b) => (
          <li key={b.number} className="border-b border-hairline">
            <button
              type="button"
              className="grid min-h-14 w-full grid-cols-[1fr_auto] items-center gap-3 py-2 text-left"
              aria-expanded={open === b.number}
              onClick={() => setOpen(open === b.number ? null : b.number)}
            >
              <span>
                <b>{dayOf(b.day)}</b>
                <span className="block">{b.drills.map((d) => d.label).join(", then ")}</span>
              </span>
              <span className="text-right text-muted">
                {`${b.minutes} min`}
                <span className="block text-base">{feedbackSaid(b.feedback)}</span>
              </span>
            </button>
            {open === b.number ? (
              <div className="grid gap-2 pb-3">
                {b.why.map((w) => (
                  <p key={w}>{w}</p>
                ))}
                {b.drills.map((d) => (
                  <p key={d.id} className="text-muted">
                    {[d.how, d.dose, d.caution].filter(Boolean).join(" ")}
                  </p>
                ))}
                <Field label="On another day">
                  <input
                    type="date"
                    className={inputLook}
                    min={plan.first}
                    max={plan.last}
                    defaultValue={b.day}
                    disabled={busy}
                    onChange={(e) => e.target.value && props.onMove(b.number, e.target.value)}
                  />
                </Field>
                <div>
                  <Button disabled={busy} onClick={() => props.onMiss(b.day)}>
                    This day was missed
                  </Button>
                </div>
              </div>
            ) : null}
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-3">
        <Button onClick={props.onAgain}>Other days or place</Button>
        {plan.stopped ? null : (
          <Button disabled={busy} onClick={props.onPain}>
            Pain: stop it
          </Button>
        )}
      </div>
    </div>
  );
}
