import { useMutation } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useEffect, useRef, useState, type DragEvent } from "react";

import { api, data } from "@/api/client";
import { dropBundle, useCatalogue, useChangeLesson, useChangeSwing, useLesson, useMe, useRefresh, useUndo } from "@/api/hooks";
import { useImport } from "@/api/jobs";
import { clubLabel } from "@/lib/clubs";
import { isMarkerFile, leaveFile } from "@/lib/waitingFile";
import { KINDS } from "@/lib/words";
import { GripQuestion } from "@/shared/forms/GripQuestion";
import { ActionList } from "@/shared/ui/ActionList";
import { useCamera } from "@/shared/ui/camera";
import { Button, Choice, ErrorLine } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { useLive } from "@/shared/ui/live";
import { Sheet } from "@/shared/ui/Sheet";

import { CameraSheet } from "./CameraSheet";
import { Doing } from "./Doing";
import { LastSwing } from "./LastSwing";
import { PuttCapture } from "./PuttCapture";
import { tr, trn } from "@/lib/language";
import { may } from "@/lib/rights";

/** Where a recording comes from that goes on. */
const LIVE = ["stand-in", "devices"];
const USUAL_CLUBS = ["7-iron", "driver", "pitching-wedge", "putter"];
const NEXT_KINDS = ["warm_up", "normal", "drill", "no_ball", "test"] as const;

/** Swings come in by themselves; a bundle can be dropped. Readable from four metres. */
export function Capture() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/capture" });
  const lesson = useLesson(lessonId);
  const refresh = useRefresh(lessonId);
  const change = useChangeLesson(lessonId);
  const changeSwing = useChangeSwing(lessonId);
  const catalogue = useCatalogue();
  const me = useMe();
  const navigate = useNavigate();
  const { message, captured, connected } = useLive();
  const [over, setOver] = useState(false);
  const [more, setMore] = useState(false);
  const [filming, setFilming] = useState(false);
  const camera = useCamera();
  const file = useRef<HTMLInputElement>(null);
  const seen = useRef(captured);

  const ask = useMutation({
    mutationFn: (count: number) => data(api.POST("/api/lessons/{lesson_id}/stand-in/swings", { params: { path: { lesson_id: lessonId } }, body: { count } })),
  });
  const drop = useImport(
    (f: File) => dropBundle(lessonId, f),
    async (kept) => {
      await refresh();
      const first = kept.swings?.at(-1);
      if (first) await navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId: first } });
      else await navigate({ to: "/lessons/$lessonId/setup", params: { lessonId } });
    },
  );
  const { undo, redo } = useUndo(lessonId);
  useKeys({
    z: () => lesson.data?.can_undo && undo.mutate(),
    Z: () => lesson.data?.can_redo && redo.mutate(),
    l: () => void navigate({ to: "/lessons/$lessonId/live", params: { lessonId } }),
    t: () => may(me, "teach") && void navigate({ to: "/lessons/$lessonId/train", params: { lessonId } }),
  });
  useEffect(() => {
    seen.current = captured;
  }, [captured]);

  if (!lesson.data) return null;
  const l = lesson.data;
  const last = l.swings.at(-1);
  const fitted = l.recordings.at(-1);
  const clubs = [...new Set([l.club, ...USUAL_CLUBS, ...l.swings.map((s) => s.club)])].slice(0, 6);
  const live = Boolean(fitted && LIVE.includes(fitted.source) && fitted.calibration && !fitted.calibration.refused);
  const standIn = live && fitted?.source === "stand-in";
  const moved = last?.sensor_moved;
  const practice = last !== undefined && last.kind === "no_ball" && l.kind !== "no_ball" && live;
  const take = (f: File | undefined) => {
    if (!f) return;
    if (!isMarkerFile(f.name)) return drop.mutate(f);
    leaveFile(f);
    void navigate({ to: "/lessons/$lessonId/markers", params: { lessonId } });
  };
  const onDrop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    take(e.dataTransfer.files[0]);
  };
  const putter = l.club === "putter";
  // swings and putts are looked for differently, and putts want poses held just before
  const misfit = live && (fitted?.shot === "putt") !== putter;
  const big =
    message.type === "swinging"
      ? tr("Swinging")
      : drop.isPending
        ? tr("Reading the bundle")
        : moved || misfit
          ? tr("Calibrate again")
          : message.type === "captured"
            ? tr("Captured")
            : live
              ? tr("Ready")
              : l.swings.length
                ? putter
                  ? trn("{count} putt", "{count} putts", l.swings.length)
                  : trn("{count} swing", "{count} swings", l.swings.length)
                : tr("No sensors");

  const says = drop.isPending
    ? tr("Nothing is kept until all of it is read.")
    : misfit
      ? tr("The sensors are fitted for {what}: hold the poses again for {what2}.", {
          what: putter ? tr("swings") : tr("putts"),
          what2: putter ? tr("putts") : tr("swings"),
        })
      : moved
        ? tr("The sensor may have moved between swings.")
        : practice
          ? tr("No strike was felt: a practice {what}. It does not count.", { what: putter ? tr("stroke") : tr("swing") })
          : live
            ? tr("A {what} is found by itself.", { what: putter ? tr("putt") : tr("swing") })
            : tr("{what}Fit the sensors, or drop a bundle or marker file here.", { what: l.swings.length ? tr("No sensors send. ") : "" });
  const doing = (
    <Doing
      lessonId={lessonId}
      again={Boolean(moved) || misfit}
      live={live}
      message={message}
      connected={connected}
      drop={drop}
      onHit={practice ? () => changeSwing.mutate({ id: last.id, patch: { kind: "normal", reason: "" } }) : null}
      busy={changeSwing.isPending}
    />
  );
  const choices = (
    <>
      <span className="text-lg text-muted">{tr("Next {what} are", { what: putter ? tr("putts") : tr("swings") })}</span>
      <Choice
        label={tr("Next swings are")}
        value={l.kind}
        onChange={(kind) => change.mutate({ kind })}
        options={NEXT_KINDS.map((k) => ({ id: k, label: KINDS[k]! }))}
      />
      <span className="ml-auto text-lg text-muted">{tr("with")}</span>
      <Choice
        label={tr("Club")}
        value={l.club}
        onChange={(club) => change.mutate({ club })}
        options={clubs.map((id) => ({ id, label: clubLabel(catalogue.data?.clubs, id) }))}
      />
    </>
  );

  return (
    <main
      className={`flex h-full flex-col px-7 py-5 max-[1100px]:px-4 max-[700px]:py-3 ${over ? "outline-4 -outline-offset-8 outline-dashed outline-[var(--sea)]" : ""}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
    >
      {putter ? (
        <PuttCapture lessonId={lessonId} big={big} says={says} live={live}>
          {doing}
        </PuttCapture>
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-[1fr_auto] items-center gap-x-8 portrait:grid-cols-1 portrait:content-evenly">
          <div aria-live="polite">
            <p className="text-[112px] leading-none font-bold max-[1100px]:text-[80px] max-[700px]:text-[52px]">{big}</p>
            <p className="mt-4 text-[40px] leading-tight text-muted max-[1100px]:text-[32px] max-[700px]:mt-2 max-[700px]:text-xl">{says}</p>
            {doing}
          </div>
          <div className="max-w-[460px] pr-2">
            {last ? <LastSwing lesson={l} last={last} /> : null}
            <p className="mt-3 text-right text-xl text-muted portrait:text-left">
              {tr("{what} in this lesson", { what: trn("{count} swing", "{count} swings", l.swings.length) })}
            </p>
          </div>
        </div>
      )}
      <GripQuestion lesson={l} large className="mb-3" />
      <div className="border-t border-hairline pt-3">
        <div className="flex flex-wrap items-center gap-x-6 max-[1100px]:hidden">{choices}</div>
        <div className="mt-2 flex flex-wrap items-center gap-3 max-[700px]:gap-2">
          {standIn ? (
            <>
              <Button tone="solid" className="max-[700px]:px-3" onClick={() => ask.mutate(1)} disabled={ask.isPending || message.left === 0}>
                {putter ? tr("Stand-in: putt") : tr("Stand-in: swing")}
              </Button>
              <Button className="max-[700px]:px-3" onClick={() => ask.mutate(3)} disabled={ask.isPending || message.left === 0}>
                {putter ? tr("Three putts") : tr("Three swings")}
              </Button>
            </>
          ) : null}
          {live ? (
            <>
              <Button className="max-[700px]:px-3" onClick={() => void navigate({ to: "/lessons/$lessonId/live", params: { lessonId } })} hint="l">
                {tr("Live")}
              </Button>
              {may(me, "teach") ? (
                <Button className="max-[700px]:px-3" onClick={() => void navigate({ to: "/lessons/$lessonId/train", params: { lessonId } })} hint="t">
                  {tr("Train")}
                </Button>
              ) : null}
            </>
          ) : null}
          <span className="flex-1" />
          {camera.stream ? (
            <Button className="max-[700px]:px-3" aria-haspopup="dialog" onClick={() => setFilming(true)}>
              {tr("Camera on")}
            </Button>
          ) : null}
          <Button className="max-[700px]:px-3" aria-haspopup="dialog" onClick={() => setMore(true)}>
            {tr("More")}
          </Button>
          <input
            ref={file}
            type="file"
            accept=".zip,.c3d,.trc"
            className="hidden"
            aria-label={tr("Capture bundle")}
            onChange={(e) => {
              take(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </div>
        {message.left === 0 ? <p className="text-lg text-muted">{tr("The stand-in has no more swings; calibrate again for a fresh one.")}</p> : null}
        <Sheet open={more} onClose={() => setMore(false)} title={tr("Capture")}>
          <div className="mb-4 space-y-2">{choices}</div>
          <ActionList
            actions={[
              { name: tr("Choose a bundle"), says: tr("swings captured elsewhere, as a zip"), disabled: drop.isPending, onClick: () => file.current?.click() },
              {
                name: tr("Marker file"),
                says: "C3D or TRC of a motion-capture room",
                onClick: () => void navigate({ to: "/lessons/$lessonId/markers", params: { lessonId } }),
              },
              {
                name: tr("Camera"),
                says: camera.stream ? tr("it is on; every swing brings its video") : tr("a video with every swing"),
                onClick: () => {
                  setMore(false);
                  setFilming(true);
                },
              },
              { name: tr("Undo"), says: l.can_undo ?? tr("nothing to undo"), hint: "z", disabled: !l.can_undo, onClick: () => undo.mutate() },
              { name: tr("Redo"), says: l.can_redo ?? tr("nothing was undone"), hint: "Z", disabled: !l.can_redo, onClick: () => redo.mutate() },
              { name: tr("Calibrate again"), says: "hold the poses again", onClick: () => void navigate({ to: "/lessons/$lessonId", params: { lessonId } }) },
            ]}
          />
        </Sheet>
        <CameraSheet open={filming} onClose={() => setFilming(false)} consent={l.player.consent} />
        <div className="mt-3">
          <ErrorLine error={ask.error ?? changeSwing.error ?? drop.error ?? undo.error ?? redo.error} />
        </div>
      </div>
    </main>
  );
}
