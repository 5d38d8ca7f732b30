import { useNavigate, useParams } from "@tanstack/react-router";
import { useEffect, useMemo, useState } from "react";
import { limitWords, term } from "@/lib/terms";

import type { Schemas } from "@/api/client";
import { useCatalogue, useLesson, useUndo } from "@/api/hooks";
import { useKeys } from "@/shared/ui/keys";
import { changedSince, chosenOf, departs, flightWords, MOST, putFirst, swapped, without, type Choice } from "@/lib/plan";
import { schoolsTold } from "@/lib/schools";
import { columnOfSide, LEFT_RIGHT } from "@/lib/sides";
import { Button, ErrorLine, Loading, useSettings } from "@/shared/ui/controls";

import { CauseGraph } from "./CauseGraph";
import { EndSheet } from "./EndSheet";
import { LimitsSheet } from "./LimitsSheet";
import { OwnSheet } from "./OwnSheet";
import { PlanClash } from "./PlanClash";
import { Priority } from "./Priority";
import { rests } from "./rests";
import { ShareSheet } from "./ShareSheet";
import { PracticeSheet } from "./PracticeSheet";
import { SinceLast } from "./SinceLast";
import { SwingsSheet } from "./SwingsSheet";
import { usePlan } from "./usePlan";
import { usePutting } from "@/api/putting";
import { WhatIf } from "./WhatIf";
import { ActionList, type Action } from "@/shared/ui/ActionList";
import { Sheet } from "@/shared/ui/Sheet";
import { useStateFrom } from "@/shared/ui/useStateFrom";
import { tr } from "@/lib/language";

type SheetName = "" | "practice" | "more" | "terms" | "limits" | "swings" | "own" | "end" | "share";

/** What to work on: what to keep, at most two priorities with why, where they come from, one page to take home. */
export function Plan() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/plan" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  if (lesson.isPending || catalogue.isPending) return <Loading what={tr("Opening the plan")} />;
  if (!lesson.data || !catalogue.data)
    return (
      <div className="p-8">
        <ErrorLine error={lesson.error ?? catalogue.error} />
      </div>
    );
  return <PlanOf key={lesson.data.id} lesson={lesson.data} catalogue={catalogue.data} />;
}

const lastSeen = (key: string): string[] | null => {
  const text = sessionStorage.getItem(key);
  return text === null ? null : (JSON.parse(text) as string[]);
};

function PlanOf({ lesson, catalogue }: { lesson: Schemas["LessonOut"]; catalogue: Schemas["Catalogue"] }) {
  const [sheet, setSheet] = useState<SheetName>("");
  const { words } = useSettings();
  const navigate = useNavigate();
  const { keep, drop, reopen } = usePlan(lesson.id, lesson.revision);
  const pieces = usePutting(lesson.id, lesson.club === "putter").data?.rows.find((r) => r.counting > 0)?.pieces ?? [];
  const { undo } = useUndo(lesson.id);
  const own = lesson.summaries.find((t) => t.club === lesson.club) ?? lesson.summaries[0];
  const proposals = useMemo(() => own?.proposals ?? [], [own]);
  const chosen = chosenOf(lesson.planned || lesson.status === "closed", lesson.priorities, proposals, words === "plain");
  const name = (id: string, fallback = "") => {
    const found = catalogue.findings.find((f) => f.id === id);
    return (words === "plain" ? found?.plain_label : found?.label) ?? fallback;
  };
  const key = `proposed-${lesson.id}`;
  const proposed = proposals.map((p) => p.finding).join();
  const [news, setNews] = useStateFrom(() => {
    const said = changedSince(lastSeen(key), proposals, (id) => name(id, id));
    return said ? `${said}${proposals[0] ? ` ${(words === "plain" ? proposals[0].plain_why : proposals[0].why).split(". ").at(-1)}` : ""}` : "";
  }, `${key} ${proposed}`);
  useEffect(() => sessionStorage.setItem(key, JSON.stringify(proposed ? proposed.split(",") : [])), [key, proposed]);

  const closed = lesson.status === "closed";
  const walkIn = lesson.player.walk_in && !lesson.player.consent;
  const counting = own?.counting ?? 0;
  const save = (next: Choice[]) => keep.mutate({ priorities: next });
  const busy = keep.isPending || drop.isPending;
  const left = own?.findings.filter((f) => !chosen.some((c) => c.finding === f.finding)) ?? [];
  const side = (s: string) => term(LEFT_RIGHT[columnOfSide(s, lesson.player.handedness)] ?? s);
  const schools = schoolsTold(catalogue.schools, lesson.club, lesson.schools);
  const limits = lesson.player.limits.filter((l) => l.holds);
  useKeys({
    o: () => !closed && setSheet("own"),
    j: () => setSheet("terms"),
    l: () => setSheet("limits"),
    k: () => setSheet("swings"),
    e: () => !closed && setSheet("end"),
    n: () => !walkIn && setSheet("share"),
    s: () => !closed && chosen.length === 2 && save(swapped(chosen)),
    z: () => !closed && lesson.can_undo && undo.mutate(),
  });
  const then = (work: () => unknown) => () => {
    setSheet("");
    work();
  };
  const page = `/api/lessons/${lesson.id}`;
  const more: Action[] = [
    ...(closed
      ? []
      : [
          {
            name: tr("Swap"),
            says: tr("the second priority first"),
            hint: "s",
            disabled: busy || chosen.length < 2,
            onClick: then(() => save(swapped(chosen))),
          },
          {
            name: tr("As proposed"),
            says: lesson.planned ? tr("drop what was chosen here") : tr("it stands as it is proposed"),
            disabled: busy || !lesson.planned,
            onClick: then(() => drop.mutate(undefined)),
          },
          { name: tr("Undo"), says: lesson.can_undo ?? tr("nothing to undo"), hint: "z", disabled: !lesson.can_undo, onClick: then(() => undo.mutate()) },
        ]),
    { name: tr("Judge otherwise"), says: tr("what other schools or ranges would change"), hint: "j", onClick: () => setSheet("terms") },
    ...(walkIn
      ? []
      : [
          { name: tr("See page"), says: tr("the page that goes home, on the screen"), href: `${page}/page` },
          { name: tr("Print page"), says: tr("as PDF"), href: `${page}/page.pdf` },
          { name: tr("Practice"), says: tr("what to do until the next lesson"), onClick: () => setSheet("practice") },
          { name: tr("Send a link"), says: tr("the page on the player's own phone"), hint: "n", onClick: () => setSheet("share") },
          { name: tr("See record"), says: tr("everything, for you"), href: `${page}/record` },
          { name: tr("Print record"), says: tr("as PDF"), href: `${page}/record.pdf` },
          { name: tr("Export"), says: tr("the lesson with everything in it"), href: `${page}/export`, download: true },
        ]),
  ];
  const row = "flex min-h-14 w-full items-baseline gap-3 border-t border-hairline py-2 text-left text-lg";
  const pill = "inline-flex min-h-14 items-center rounded-full border-2 border-ink px-4 text-lg font-semibold";

  return (
    <div className="flex h-full flex-col">
      <main className="panes min-h-0 flex-1 grid-cols-[1fr_440px] max-[1100px]:grid-cols-[1fr_380px]">
        <section className="min-h-0 overflow-y-auto px-7 py-5">
          <PlanClash keep={keep} drop={drop} proposed={chosenOf(false, [], proposals, words === "plain")} />
          {closed ? <p className="text-lg text-muted">{tr("The lesson is closed.")}</p> : null}
          {own?.good.length ? (
            <p className="text-xl">
              <b>{tr("Keep this:")}</b> {(words === "plain" ? own.plain_good : own.good).slice(0, 4).join(" · ")}
            </p>
          ) : null}
          <SinceLast lesson={lesson} words={words} />
          {own?.matched.map((m) => (
            <p key={m.id} className="mt-2 border-l-4 border-ink pl-3 text-lg">
              <b>{tr("Change both or neither.")}</b> {m.says}
            </p>
          ))}
          {news ? (
            <p role="status" className="mt-2 flex items-baseline gap-4 border-y border-hairline py-2 text-lg">
              <span className="flex-1">
                <b>{news}</b>
              </span>
              <button type="button" className="min-h-14 underline" onClick={() => setNews("")}>
                {tr("Seen")}
              </button>
            </p>
          ) : null}
          {chosen.length === 0 ? (
            <h2 className="mt-3 text-[40px] leading-tight font-bold">{counting ? tr("Nothing to change.") : tr("No swing counts yet.")}</h2>
          ) : null}
          {chosen.length === 0 && counting === 0 ? (
            <p className="mt-2 text-xl text-muted">{tr("Warm-ups, drills and swings without a ball are left out. Capture some, or unmark one.")}</p>
          ) : null}
          <ol>
            {chosen.map((c, k) => (
              <Priority
                key={`${c.finding}${k}`}
                lessonId={lesson.id}
                piece={pieces.find((p) => c.drill !== "" && p.drills.includes(c.drill))}
                place={k}
                choice={c}
                title={name(c.finding, c.label)}
                proposal={proposals.find((p) => p.finding === c.finding)}
                found={own?.findings.find((f) => f.finding === c.finding)}
                withheld={own?.withheld ?? []}
                catalogue={catalogue}
                words={words}
                mirror={lesson.player.handedness === "left"}
                bands={lesson.trainer_bands}
                closed={closed}
                busy={busy}
                departs={lesson.planned && departs(c, k, proposals)}
                name={name}
                onChange={(part) => save(chosen.map((x, i) => (i === k ? { ...x, ...part } : x)))}
                onRemove={() => save(without(chosen, k))}
              />
            ))}
          </ol>
          {!closed && left.length ? (
            <div className="border-t border-hairline py-3">
              <p className="text-lg text-muted">{chosen.length < MOST ? tr("Also seen; tap to work on it") : tr("Also seen; tap to put it first")}</p>
              <div className="mt-1 flex flex-wrap gap-2">
                {left.map((f) => (
                  <Button
                    key={f.finding}
                    className="px-4!"
                    disabled={busy}
                    onClick={() =>
                      save(
                        chosen.length < MOST
                          ? [...chosen, added(f, catalogue, own?.withheld ?? [])]
                          : putFirst(chosen, added(f, catalogue, own?.withheld ?? [])),
                      )
                    }
                  >
                    {name(f.finding, f.label)}
                  </Button>
                ))}
              </div>
            </div>
          ) : null}
          <ErrorLine error={reopen.error ?? undo.error} />
        </section>
        <aside className="min-h-0 overflow-y-auto border-l border-hairline px-6 py-5">
          <h2 className="text-lg text-muted">{tr("Where it comes from")}</h2>
          <CauseGraph nodes={own?.graph ?? []} ranked={chosen.map((c) => c.finding)} words={words} />
          <h2 className="mt-3 text-lg text-muted">{tr("What decides")}</h2>
          <button type="button" className={row} onClick={() => setSheet("swings")}>
            <b className="w-[72px] flex-none">{tr("Swings")}</b>
            <span>
              {tr("{counting} of {length} count", { counting, length: lesson.swings.length })}
              <br />
              {own ? flightWords(own.flight, side) : tr("no ball noted yet")}
            </span>
          </button>
          <button type="button" className={row} onClick={() => setSheet("limits")}>
            <b className="w-[72px] flex-none">{tr("Limits")}</b>
            <span>
              {limits.map((l) => `${limitWords(l)}${l.comfortable ? ` ${l.comfortable}°` : ""}`).join("; ") || tr("none noted")}
              {lesson.pain === "yes" ? <b> {tr("· pain today")}</b> : null}
              {own?.held.map((h) => (
                <span key={h} className="block text-base text-muted">
                  {h}.
                </span>
              ))}
            </span>
          </button>
          <button type="button" className={row} onClick={() => setSheet("terms")}>
            <b className="w-[72px] flex-none">{tr("School")}</b>
            <span>
              {schools.join(", ")}
              <br />
              <span className="text-muted">{tr("ranges: {benchmarks}", { benchmarks: lesson.benchmarks })}</span>
            </span>
          </button>
        </aside>
      </main>
      <footer className="flex flex-none items-center gap-2 border-t border-hairline px-7 py-2 max-[1180px]:px-4">
        {closed ? (
          <Button className="px-4 whitespace-nowrap" onClick={() => reopen.mutate()}>
            {tr("Reopen")}
          </Button>
        ) : (
          <>
            <Button className="px-4 whitespace-nowrap" disabled={busy} onClick={() => setSheet("own")}>
              {tr("Own priority")}
            </Button>
            <Button className="px-4 whitespace-nowrap max-[700px]:hidden" disabled={busy || chosen.length < 2} onClick={() => save(swapped(chosen))}>
              {tr("Swap")}
            </Button>
          </>
        )}
        <Button className="px-4 whitespace-nowrap max-[1000px]:hidden" onClick={() => setSheet("terms")}>
          {tr("Judge otherwise")}
        </Button>
        <span className="flex-1" />
        {walkIn ? null : (
          <a className={`${pill} whitespace-nowrap max-[700px]:hidden`} href={`/api/lessons/${lesson.id}/page`} target="_blank" rel="noreferrer">
            {tr("See page")}
          </a>
        )}
        <Button className="px-4 whitespace-nowrap" aria-haspopup="dialog" onClick={() => setSheet("more")}>
          {tr("More")}
        </Button>
        {closed ? null : (
          <Button className="px-4 whitespace-nowrap" tone="solid" onClick={() => setSheet("end")}>
            <span>
              {tr("End")}
              <span className="max-[700px]:hidden"> {tr("the lesson")}</span>
            </span>
          </Button>
        )}
      </footer>
      <Sheet open={sheet === "more"} onClose={() => setSheet("")} title={tr("The plan")}>
        <ActionList actions={more} />
      </Sheet>
      <WhatIf open={sheet === "terms"} onClose={() => setSheet("")} lesson={lesson} catalogue={catalogue} words={words} />
      <LimitsSheet open={sheet === "limits"} onClose={() => setSheet("")} lesson={lesson} catalogue={catalogue} />
      <SwingsSheet
        open={sheet === "swings"}
        onClose={() => setSheet("")}
        lesson={lesson}
        onOpen={(id) => void navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId: lesson.id, swingId: id } })}
      />
      <OwnSheet
        open={sheet === "own"}
        onClose={() => setSheet("")}
        drills={catalogue.drills.filter((d) => !own?.withheld.some((w) => w.drill === d.id))}
        onAdd={(c) => {
          save(putFirst(chosen, c));
          setSheet("");
        }}
      />
      <PracticeSheet open={sheet === "practice"} onClose={() => setSheet("")} lessonId={lesson.id} />
      <ShareSheet open={sheet === "share"} onClose={() => setSheet("")} lessonId={lesson.id} />
      <EndSheet open={sheet === "end"} onClose={() => setSheet("")} lesson={lesson} chosen={chosen} />
    </div>
  );
}

function added(f: Schemas["FindingOut"], catalogue: Schemas["Catalogue"], withheld: Schemas["WithheldOut"][]): Choice {
  const drills = catalogue.findings.find((x) => x.id === f.finding)?.drills ?? [];
  return { finding: f.finding, label: f.label, drill: drills.find((d) => !withheld.some((w) => w.drill === d)) ?? "", why: rests(f), override_reason: "" };
}
