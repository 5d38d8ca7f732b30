import { Link } from "@tanstack/react-router";
import { useState, type ReactNode } from "react";

import { useNotePutt, useNoteRow, useNoteSession, usePuttPlan, usePutting, type PuttRow } from "@/api/putting";
import { distanceWords, OUTCOMES, sameDistance, type Unit } from "@/lib/putts";
import { OutcomeBar } from "@/shared/putting/OutcomeBar";
import { PlanForm } from "@/shared/putting/PlanForm";
import { PuttMatrix } from "@/shared/putting/PuttMatrix";
import { RowNotes } from "@/shared/putting/RowNotes";
import { SessionNotes } from "@/shared/putting/SessionNotes";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

interface Props {
  lessonId: string;
  /** What goes on, in one large word, and what to know of it. */
  big: string;
  says: string;
  /** Devices send. */
  live: boolean;
  children?: ReactNode;
}

/** Putts come in by distance: the matrix fills, what is owed is seen, where the ball went is one tap. */
export function PuttCapture({ lessonId, big, says, live, children }: Props) {
  const putting = usePutting(lessonId);
  const putt = useNotePutt(lessonId);
  const row = useNoteRow(lessonId);
  const session = useNoteSession(lessonId);
  const plan = usePuttPlan(lessonId);
  const [picked, setPicked] = useState<string | null>(null);
  const [opened, setOpened] = useState<PuttRow | "plan" | null>(null);
  const read = putting.data;
  const putts = read?.putts.filter((p) => p.what === "putt") ?? [];
  // asked is the newest whose outcome is not noted, so that nobody has to choose it
  const asked = read?.putts.find((p) => p.id === picked) ?? putts.filter((p) => p.counts && p.putt.outcome === "").at(-1) ?? putts.at(-1);
  const unit = (read?.plan.unit ?? "m") as Unit;
  const note = (outcome: (typeof OUTCOMES)[number]["id"]) => asked && putt.note(asked.id, { outcome, ...(outcome === "holed" ? { rolled_past_m: null } : {}) });
  const move = (by: number) => {
    const next = putts[putts.findIndex((p) => p.id === asked?.id) + by];
    if (next) setPicked(next.id);
  };
  useKeys({
    ...Object.fromEntries(OUTCOMES.map((o, k) => [String(k + 1), () => note(o.id)])),
    ArrowLeft: () => move(-1),
    ArrowRight: () => move(1),
    p: () => setOpened((o) => (o === "plan" ? null : "plan")),
  });
  if (!read) return <ErrorLine error={putting.error} />;
  const openRow = opened !== null && opened !== "plan" ? read.rows.find((r) => sameDistance(r.distance_m, opened.distance_m)) : undefined;
  const inRow = read.putts.filter((p) => openRow?.putts.includes(p.id));
  const owed = read.rows.reduce((n, r) => n + r.owed, 0);
  const next = read.plan.next_m;
  return (
    <div className="flex min-h-0 flex-1 flex-col overflow-y-auto">
      <div className="grid min-h-0 flex-1 grid-cols-[380px_1fr] gap-x-8 max-[1100px]:grid-cols-[300px_1fr] max-[1100px]:gap-x-5 portrait:flex-none portrait:grid-cols-1">
        <div className="flex flex-col items-start">
          <div aria-live="polite">
            <p className="text-[72px] leading-none font-bold max-[1100px]:text-[56px] max-[700px]:text-[40px]">{big}</p>
            <p className="mt-1 text-[26px] leading-tight text-muted max-[1100px]:text-xl max-[700px]:hidden">{says}</p>
          </div>
          {children}
          <span className="flex-1" />
          <div className="mt-3 flex w-full flex-wrap items-center gap-x-3 gap-y-2 max-[700px]:mt-1">
            <div className="w-full max-[700px]:w-auto max-[700px]:flex-1">
              <p className="mt-3 text-[40px] leading-tight font-bold max-[700px]:text-[26px]">{owed ? tr("{owed} owed", { owed }) : tr("All are there")}</p>
              {live && next !== null ? (
                <p className="text-xl text-muted">{tr("next from {distanceWords}", { distanceWords: distanceWords(next, unit) })}</p>
              ) : null}
            </div>
            {putts.length ? (
              <Link
                to="/lessons/$lessonId/putting"
                params={{ lessonId }}
                className="inline-flex min-h-14 items-center rounded-full border-2 border-ink bg-ink px-6 text-xl font-semibold text-paper"
              >
                {tr("Read them")}
              </Link>
            ) : null}
            <Button aria-haspopup="dialog" onClick={() => setOpened("plan")} hint="p">
              {tr("Plan")}
            </Button>
          </div>
        </div>
        <div className="min-h-0 overflow-y-auto portrait:mt-3 portrait:overflow-visible">
          <PuttMatrix putting={read} chosen={asked?.id ?? null} onChoose={(p) => setPicked(p.id)} onRow={setOpened} />
        </div>
      </div>
      {asked ? (
        <section aria-label={tr("Where it went")} className="mt-3 flex flex-none flex-wrap items-center gap-x-5 gap-y-1 border-t border-hairline pt-2">
          <h2 className="min-w-[190px] text-[28px] font-bold whitespace-nowrap max-[700px]:text-xl">
            {tr("Putt {number}{what}", { number: asked.number, what: asked.putt.distance_m === null ? "" : `, ${distanceWords(asked.putt.distance_m, unit)}` })}
          </h2>
          <OutcomeBar putt={asked} unit={unit} keyed onNote={(noted) => putt.note(asked.id, noted)} />
        </section>
      ) : null}
      <ErrorLine error={putt.error ?? row.error ?? session.error ?? plan.error} />
      <Sheet open={opened === "plan"} onClose={() => setOpened(null)} title={tr("Putts planned")}>
        <PlanForm plan={read.plan} busy={plan.isPending} onPlan={(p) => plan.mutate(p)} />
        {read.noted ? (
          <SessionNotes
            key={read.noted.recording_id}
            noted={read.noted}
            busy={session.isPending}
            onNote={(noted) => session.mutate({ id: read.noted!.recording_id, noted })}
          />
        ) : null}
      </Sheet>
      <Sheet
        open={openRow !== undefined}
        onClose={() => setOpened(null)}
        title={openRow?.distance_m == null ? tr("How far were these?") : tr("From {distanceWords}", { distanceWords: distanceWords(openRow.distance_m, unit) })}
      >
        {openRow && openRow.distance_m !== null && read.plan.distances_m.some((d) => sameDistance(d, openRow.distance_m)) ? (
          <Button
            tone={sameDistance(next, openRow.distance_m) ? "solid" : "line"}
            aria-pressed={sameDistance(next, openRow.distance_m)}
            onClick={() => plan.mutate({ next_m: openRow.distance_m })}
          >
            {tr("The next putts are from here")}
          </Button>
        ) : null}
        {inRow.length ? (
          <div className="mt-4">
            <p className="text-lg text-muted">{tr("For all {length} putts of this row:", { length: inRow.length })}</p>
            <RowNotes
              putts={inRow}
              distances={read.plan.distances_m}
              unit={unit}
              onNote={(noted) => row.mutate({ swings: inRow.map((p) => p.id), ...noted })}
            />
          </div>
        ) : (
          <p className="mt-4 text-lg text-muted">{tr("No putt from here yet.")}</p>
        )}
      </Sheet>
    </div>
  );
}
