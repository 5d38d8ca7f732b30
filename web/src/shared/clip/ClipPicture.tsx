import { useEffect, useRef, useState } from "react";

import { isLaid } from "@/lib/clips";
import type { Cursor } from "@/lib/cursor";
import { Button } from "@/shared/ui/controls";

import { follow, goTo } from "./following";
import type { Clip } from "./useClips";
import { tr } from "@/lib/language";

export const VIEW_NAMES = { front: tr("from in front"), line: tr("along the target line") } as const;

interface Props {
  clip: Clip;
  cursor: Cursor;
  /** How fast time runs; null while it stands. */
  speed: number | null;
  /** Where the ball is struck in one that is not laid on the swing yet; without it that is not asked. */
  onStruck?: (clipS: number) => void;
}

/** One video, at the instant being looked at; one that is not laid on the swing yet asks where the ball is struck. */
export function ClipPicture({ clip, cursor, speed: asked, onStruck }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [broken, setBroken] = useState(false);
  const [outside, setOutside] = useState(false);
  const laid = isLaid(clip);
  const speed = laid ? asked : null;
  useEffect(() => (video.current && isLaid(clip) ? follow(video.current, clip, cursor, speed, setOutside) : undefined), [clip, cursor, speed]);
  return (
    <figure className="relative flex h-full min-h-0 min-w-0 flex-1 flex-col" data-testid={`clip-${clip.view}`}>
      <div className="relative min-h-0 flex-1">
        <video
          ref={video}
          className={`absolute inset-0 h-full w-full object-contain ${outside ? "opacity-30" : ""}`}
          src={`/api/clips/${clip.id}/content`}
          muted
          playsInline
          preload="auto"
          aria-label={tr("Video of the swing {view_names}", { view_names: VIEW_NAMES[clip.view] })}
          onError={() => setBroken(true)}
        />
        {outside && !broken ? <p className="absolute inset-x-2 top-1/2 text-center text-lg">{tr("Not filmed at this moment.")}</p> : null}
        {broken ? (
          <p role="alert" className="absolute inset-x-3 top-6 border-l-4 border-rust pl-3 text-lg">
            {tr("This browser cannot show the video. Attach it as MP4 with H.264.")}
          </p>
        ) : null}
      </div>
      {laid ? (
        <figcaption className="flex-none text-center text-base leading-tight text-muted">{VIEW_NAMES[clip.view]}</figcaption>
      ) : onStruck ? (
        <WhereStruck video={video} clip={clip} onStruck={onStruck} />
      ) : (
        <figcaption className="flex-none text-center text-base leading-tight text-muted">
          {tr("Not laid on its swing yet: say there where the ball is struck.")}
        </figcaption>
      )}
    </figure>
  );
}

/** Its own way through the video, until somebody says where the ball is struck. */
function WhereStruck({ video, clip, onStruck }: { video: React.RefObject<HTMLVideoElement | null>; clip: Clip; onStruck: (clipS: number) => void }) {
  const [at, setAt] = useState(clip.seconds / 2);
  const frame = 1 / clip.rate_hz;
  const to = (s: number) => setAt(Math.min(clip.seconds - frame / 2, Math.max(0, s)));
  useEffect(() => (video.current ? goTo(video.current, at) : undefined), [video, at]);
  const heard = clip.sound && clip.slower === 1 ? tr("No one clear strike is heard in it.") : tr("Its sound does not tell.");
  return (
    <figcaption className="flex-none px-2 text-center">
      <p className="text-base">{tr("{heard} Go to where the ball is struck:", { heard })}</p>
      <input
        type="range"
        aria-label={tr("Place in the video {view_names}", { view_names: VIEW_NAMES[clip.view] })}
        className="h-11 w-full accent-[var(--ink)]"
        min={0}
        max={clip.seconds}
        step={frame}
        value={at}
        onChange={(e) => to(Number(e.target.value))}
      />
      <div className="flex items-center justify-center gap-2">
        <Button aria-label={tr("One picture back")} className="px-3" onClick={() => to(at - frame)}>
          −1
        </Button>
        <Button tone="solid" className="px-3 whitespace-nowrap" onClick={() => onStruck(at)}>
          {tr("Struck here")}
        </Button>
        <Button aria-label={tr("One picture on")} className="px-3" onClick={() => to(at + frame)}>
          +1
        </Button>
      </div>
    </figcaption>
  );
}
