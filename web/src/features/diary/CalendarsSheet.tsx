import { useRef, useState } from "react";

import { Button, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { PersonField } from "./fields";
import { useCalendars, type Span } from "./useDiary";
import { longDay } from "./words";
import { tr } from "@/lib/language";

/** Other calendars: a link with which they follow the diary, and files whose times an instructor is busy. */
export function CalendarsSheet({ span, me, onClose }: { span: Span; me: string; onClose: () => void }) {
  const calendars = useCalendars(true);
  const [who, setWho] = useState(me || (span.instructors[0]?.id ?? ""));
  const file = useRef<HTMLInputElement>(null);
  const made = calendars.follow.data;
  const link = made?.instructor_id === who ? `${window.location.origin}${made.path}` : "";
  const feeds = calendars.found.data?.feeds.filter((f) => f.instructor_id === who) ?? [];
  const busy = calendars.found.data?.busy.filter((c) => c.instructor_id === who) ?? [];
  return (
    <Sheet open onClose={onClose} title={tr("Other calendars")}>
      <div className="grid gap-5 text-lg">
        <PersonField label={tr("Of")} people={span.instructors} value={who} onChange={setWho} />
        <ErrorLine error={calendars.found.error ?? calendars.follow.error ?? calendars.unfollow.error ?? calendars.drop.error} />
        <section aria-label={tr("Follow the diary")} className="grid gap-3 border-t border-hairline pt-4">
          <h3 className="text-xl font-bold">{tr("Follow the diary")}</h3>
          <p>{tr("A private link for the calendar on a phone: names, times and bays, nothing else. Whoever has it can see them.")}</p>
          {link ? (
            <>
              <p className="break-all select-all">{link}</p>
              <p className="text-muted">{tr("It is not shown again. Copy it into your calendar as a subscription.")}</p>
            </>
          ) : (
            <div>
              <Button tone="solid" disabled={!who || calendars.follow.isPending} onClick={() => calendars.follow.mutate(who)}>
                {tr("Make a link")}
              </Button>
            </div>
          )}
          <ul>
            {feeds.map((f) => (
              <li key={f.id} className="flex min-h-14 items-center gap-3 border-b border-hairline">
                <span className="flex-1">
                  {tr("Made {longDay}, ", { longDay: longDay(f.made_at.slice(0, 10)) })}
                  <span className="text-muted">
                    {f.used_at ? tr("last asked {longDay}", { longDay: longDay(f.used_at.slice(0, 10)) }) : tr("not asked yet")}
                  </span>
                </span>
                <Button className="px-4" onClick={() => calendars.unfollow.mutate(f.id)}>
                  {tr("Take back")}
                </Button>
              </li>
            ))}
          </ul>
        </section>
        <section aria-label={tr("Busy by another calendar")} className="grid gap-3 border-t border-hairline pt-4">
          <h3 className="text-xl font-bold">{tr("Busy by another calendar")}</h3>
          <p>{tr("An iCalendar file (.ics): its times are kept as busy, nothing else of it. A newer file of the same name takes its place.")}</p>
          <input
            ref={file}
            type="file"
            accept=".ics,text/calendar"
            className="sr-only"
            aria-label={tr("Calendar file")}
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              if (chosen) calendars.bring.mutate({ of: who, file: chosen });
              e.target.value = "";
            }}
          />
          <div>
            <Button disabled={!who || calendars.bring.isPending} onClick={() => file.current?.click()}>
              {calendars.bring.isPending ? tr("Reading it") : tr("Choose a file")}
            </Button>
          </div>
          <ErrorLine error={calendars.bring.error} />
          <ul>
            {busy.map((c) => (
              <li key={c.id} className="flex min-h-14 items-center gap-3 border-b border-hairline py-1">
                <span className="flex-1">
                  <b>{c.name}</b>
                  <span className="block text-muted">
                    {tr("busy {what} until {longDay}", {
                      what: c.times === 1 ? tr("once") : tr("{times} times", { times: c.times }),
                      longDay: longDay(c.until.slice(0, 10)),
                    })}
                  </span>
                  {c.remarks.map((r) => (
                    <span key={r} className="block">
                      {r}
                    </span>
                  ))}
                </span>
                <Button className="px-4" onClick={() => calendars.drop.mutate(c.id)}>
                  {tr("Take out")}
                </Button>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </Sheet>
  );
}
