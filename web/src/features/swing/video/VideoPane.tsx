import { useState, type ReactNode } from "react";

import type { Cursor } from "@/lib/cursor";
import { Button, Choice, ErrorLine, Loading } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";

import { AttachButtons, VideoSheet } from "./VideoSheet";
import { ClipPicture } from "@/shared/clip/ClipPicture";
import type { Clips } from "@/shared/clip/useClips";
import { SPEEDS, usePlaying, type Speed } from "@/shared/clip/usePlaying";
import { tr } from "@/lib/language";

/** The next slower speed, and from the slowest to the full one. */
const slower = (speed: Speed): Speed => SPEEDS[(SPEEDS.findIndex((s) => s.id === speed) + 1) % SPEEDS.length]!.id;

interface Props {
  clips: Clips;
  cursor: Cursor;
  fromS: number;
  toS: number;
  /** The figure, where that is shown too. */
  figure: ReactNode;
}

/** One or two videos of the swing, with the figure beside them where it is on; time runs in all of them together. */
export function VideoPane({ clips, cursor, fromS, toS, figure }: Props) {
  const [open, setOpen] = useState(false);
  const playing = usePlaying(cursor, fromS, toS);
  useKeys({ " ": playing.toggle });
  const shown = clips.clips;
  if (clips.pending) return <Loading what={tr("Opening the video")} />;
  return (
    <section className="flex h-full min-h-0 flex-col" aria-label={tr("Video of the swing")}>
      <div className="flex min-h-0 flex-1 gap-2">
        {figure ? <div className="min-w-0 flex-[1.2]">{figure}</div> : null}
        {shown.length ? (
          shown.map((clip) => (
            <ClipPicture
              key={clip.id}
              clip={clip}
              cursor={cursor}
              speed={playing.playing ? Number(playing.speed) : null}
              onStruck={(impact_s) => clips.lay.mutate({ id: clip.id, impact_s })}
            />
          ))
        ) : (
          <div className="flex min-w-0 flex-1 flex-col justify-center gap-4 px-4 max-[700px]:gap-1.5 max-[700px]:px-0">
            <p className="text-2xl font-bold max-[700px]:text-xl">{tr("No video of this swing.")}</p>
            <p className="text-lg text-muted max-[700px]:hidden">
              {tr("Attach one that a phone made, or let a camera run: Capture, More, Camera. Then every swing brings its own.")}
            </p>
            <AttachButtons clips={clips} />
          </div>
        )}
      </div>
      <ErrorLine error={clips.error} />
      <div className="flex flex-none items-center gap-x-2 pt-1 pb-1">
        <Button className="px-4" onClick={playing.toggle} aria-keyshortcuts="Space" aria-pressed={playing.playing} disabled={!shown.length && !figure}>
          {playing.playing ? tr("Hold") : tr("Play")}
        </Button>
        <Choice label={tr("Speed")} className="flex-nowrap max-[700px]:hidden" value={playing.speed} options={[...SPEEDS]} onChange={playing.setSpeed} />
        <Button tone="quiet" className="px-2 min-[701px]:hidden" onClick={() => playing.setSpeed(slower(playing.speed))}>
          {SPEEDS.find((s) => s.id === playing.speed)!.label}
        </Button>
        <span className="flex-1" />
        {shown.length ? (
          <Button className="px-4" onClick={() => setOpen(true)} aria-haspopup="dialog">
            {tr("Videos")}
          </Button>
        ) : null}
      </div>
      <VideoSheet open={open} onClose={() => setOpen(false)} clips={clips} />
    </section>
  );
}
