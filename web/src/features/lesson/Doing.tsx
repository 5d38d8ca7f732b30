import { Link } from "@tanstack/react-router";

import type { useImport } from "@/api/jobs";
import { Button } from "@/shared/ui/controls";
import type { useLive } from "@/shared/ui/live";
import { Working } from "@/shared/ui/Working";
import { tr } from "@/lib/language";

interface Props {
  lessonId: string;
  /** The poses are to be held again: the sensor may have moved, or is fitted for something else. */
  again: boolean;
  live: boolean;
  message: ReturnType<typeof useLive>["message"];
  connected: boolean;
  drop: Pick<ReturnType<typeof useImport>, "job" | "stop">;
  /** The last one, without a strike, was a hit after all; null where that is not asked. */
  onHit: (() => void) | null;
  busy: boolean;
}

/** What is to be done now, and what is under way. */
export function Doing({ lessonId, again, live, message, connected, drop, onHit, busy }: Props) {
  return (
    <>
      {again ? (
        <Link
          to="/lessons/$lessonId"
          params={{ lessonId }}
          className="mt-5 inline-flex min-h-14 items-center rounded-full border-2 border-ink bg-ink px-6 text-xl font-semibold text-paper"
        >
          {tr("Calibrate again")}
        </Link>
      ) : null}
      {onHit && !again ? (
        <Button className="mt-5" onClick={onHit} disabled={busy}>
          {tr("It was a hit")}
        </Button>
      ) : null}
      {!live ? (
        <Link
          to="/lessons/$lessonId"
          params={{ lessonId }}
          className="mt-5 inline-flex min-h-14 items-center rounded-full border-2 border-ink bg-ink px-6 text-xl font-semibold text-paper"
        >
          {tr("Fit and calibrate")}
        </Link>
      ) : null}
      {drop.job ? (
        <div className="mt-5">
          <Working job={drop.job} label={tr("Reading the bundle")} onStop={drop.stop} />
        </div>
      ) : null}
      {message.type === "trouble" ? (
        <p role="alert" className="mt-4 border-l-4 border-rust pl-4 text-2xl">
          {message.reason}
        </p>
      ) : null}
      {message.type === "trouble" && message.code === "gone" ? (
        <Link
          to="/lessons/$lessonId"
          params={{ lessonId }}
          className="mt-4 inline-flex min-h-14 items-center rounded-full border-2 border-ink px-6 text-xl font-semibold"
        >
          {tr("Fit without it")}
        </Link>
      ) : null}
      {connected ? null : <p className="mt-3 text-xl">{tr("Connecting again …")}</p>}
    </>
  );
}
