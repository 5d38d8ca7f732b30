import { useMutation } from "@tanstack/react-query";
import { Link, Outlet, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";

import { api, data } from "@/api/client";
import { useCatalogue, useChangeLesson, useLesson, useMe, useRefresh } from "@/api/hooks";
import { clubLabel } from "@/lib/clubs";
import { schoolsTold } from "@/lib/schools";
import { ConsentSheet } from "@/shared/forms/ConsentSheet";
import { PainClash } from "@/shared/forms/PainClash";
import { Button, ErrorLine, Field, inputLook, Loading } from "@/shared/ui/controls";
import { CameraProvider } from "@/shared/ui/camera";
import { LiveProvider } from "@/shared/ui/live";
import { Sheet } from "@/shared/ui/Sheet";
import { TopLine } from "@/shared/ui/TopLine";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";
import { limitWords } from "@/lib/terms";

/** The lesson's head: who, with what, what is limited, and the way through the lesson. */
export function LessonFrame() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const me = useMe();
  const change = useChangeLesson(lessonId);
  const [naming, setNaming] = useState(false);
  const refresh = useRefresh(lessonId);
  const navigate = useNavigate();
  if (lesson.isPending) return <Loading what={tr("Opening the lesson")} />;
  if (lesson.error)
    return (
      <div className="p-8">
        <ErrorLine error={lesson.error} />
        <a className="mt-4 inline-block underline" href="/">
          {tr("Back to today")}
        </a>
      </div>
    );
  const l = lesson.data;
  const club = clubLabel(catalogue.data?.clubs, l.club);
  const worn = new Set(l.recordings.flatMap((t) => t.segments));
  const schools = schoolsTold(catalogue.data?.schools ?? [], l.club, l.schools, worn);
  const limits = l.player.limits.filter((x) => x.holds);
  const last = l.swings.at(-1);
  const stage = "grid min-h-14 min-w-14 place-items-center px-2.5";
  const active = { activeProps: { className: "font-bold underline decoration-2 underline-offset-8" } };
  const pain = l.pain === "yes" ? tr("pain today") : l.pain === "no" ? "" : "pain today: not asked";
  return (
    <LiveProvider lessonId={lessonId}>
      <CameraProvider>
        <div className="flex h-full flex-col">
          <TopLine
            lesson
            title={l.player.name || tr("Walk-in")}
            actions={
              <>
                {l.player.consent ? null : (
                  <button type="button" className="min-h-14 underline" onClick={() => setNaming(true)}>
                    {l.player.walk_in ? tr("name this player") : tr("no consent yet")}
                  </button>
                )}
                {pain ? (
                  <button
                    type="button"
                    className={`min-h-14 underline decoration-dotted ${l.pain === "yes" ? "font-bold" : ""}`}
                    onClick={() => change.mutate({ pain: l.pain === "yes" ? "no" : "yes" })}
                  >
                    {pain}
                  </button>
                ) : null}
              </>
            }
            context={
              <>
                {limits.length ? (
                  <b className="text-ink">
                    {tr("limit: {what} ·", {
                      what: limits.map((x) => [limitWords(x), x.comfortable ? `${x.comfortable}°` : ""].filter(Boolean).join(" ")).join("; "),
                    })}{" "}
                  </b>
                ) : null}
                {[club, ...schools].join(" · ")}
              </>
            }
          >
            <Link to="/lessons/$lessonId" params={{ lessonId }} activeOptions={{ exact: true }} className={stage} {...active}>
              {tr("Fit")}
            </Link>
            <Link to="/lessons/$lessonId/setup" params={{ lessonId }} className={stage} {...active}>
              {tr("Setup")}
            </Link>
            <Link to="/lessons/$lessonId/capture" params={{ lessonId }} className={stage} {...active}>
              {tr("Capture")}
            </Link>
            {last ? (
              <Link to="/lessons/$lessonId/swings/$swingId" params={{ lessonId, swingId: last.id }} className={stage} {...active}>
                {tr("Swings")}
              </Link>
            ) : null}
            {l.club === "putter" || l.swings.some((s) => s.putt) ? (
              <Link to="/lessons/$lessonId/putting" params={{ lessonId }} className={stage} {...active}>
                {tr("Putting")}
              </Link>
            ) : null}
            {may(me, "teach") ? (
              <Link to="/lessons/$lessonId/plan" params={{ lessonId }} className={stage} {...active}>
                {tr("Plan")}
              </Link>
            ) : null}
            <span aria-hidden className="mx-1 h-8 border-l border-hairline max-[1100px]:hidden" />
          </TopLine>
          {change.error ? (
            <div className="border-b border-hairline px-7 py-3">
              <PainClash change={change} />
            </div>
          ) : null}
          {l.pain === "yes" ? (
            <p role="alert" className="border-b border-hairline px-7 py-2 text-lg">
              <b>{tr("Pain: stop, and see a licensed health professional.")}</b> {l.pain_note}
            </p>
          ) : null}
          <div className="min-h-0 flex-1">
            <Outlet />
          </div>
        </div>
        {l.player.walk_in ? (
          <NameWalkIn open={naming} onClose={() => setNaming(false)} playerId={l.player.id} lessonId={lessonId} />
        ) : (
          <ConsentSheet
            player={l.player}
            open={naming}
            onClose={() => setNaming(false)}
            onChanged={refresh}
            onErase={() => void navigate({ to: "/players/$playerId", params: { playerId: l.player.id } })}
          />
        )}
      </CameraProvider>
    </LiveProvider>
  );
}

function NameWalkIn({ open, onClose, playerId, lessonId }: { open: boolean; onClose: () => void; playerId: string; lessonId: string }) {
  const [name, setName] = useState("");
  const [consent, setConsent] = useState(false);
  const refresh = useRefresh(lessonId);
  const navigate = useNavigate();
  const save = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/players/{player_id}/name", {
          params: { path: { player_id: playerId } },
          body: { name, consent_by: consent ? name : "", consent_as: "player" },
        }),
      ),
    onSuccess: async () => {
      await refresh();
      onClose();
      await navigate({ to: "." });
    },
  });
  return (
    <Sheet open={open} onClose={onClose} title={tr("Name this player")}>
      <form
        className="space-y-5"
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate();
        }}
      >
        <Field label={tr("Name")}>
          <input className={inputLook} required value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <label className="flex min-h-14 items-center gap-4 text-xl">
          <input type="checkbox" className="size-7 accent-[var(--ink)]" checked={consent} onChange={(e) => setConsent(e.target.checked)} />
          {tr("The player agrees that the measurements are kept.")}
        </label>
        <p className="text-lg text-muted">{tr("Without that everything is erased when the lesson ends.")}</p>
        <ErrorLine error={save.error} />
        <Button tone="solid" type="submit" disabled={!name || save.isPending}>
          {tr("Save")}
        </Button>
      </form>
    </Sheet>
  );
}
