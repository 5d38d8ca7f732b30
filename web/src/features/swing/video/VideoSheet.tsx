import { useRef } from "react";

import { laidWords } from "@/lib/clips";
import { Button, Choice, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { VIEW_NAMES } from "@/shared/clip/ClipPicture";
import type { Clip, Clips, ClipView } from "@/shared/clip/useClips";
import { number, tr } from "@/lib/language";

const SLOWER = [
  { id: "1", label: tr("as it was") },
  { id: "2", label: tr("2 × slower") },
  { id: "4", label: "4 ×" },
  { id: "8", label: "8 ×" },
] as const;

/** The videos of a swing: attach, lay anew, take away. */
export function VideoSheet({ open, onClose, clips }: { open: boolean; onClose: () => void; clips: Clips }) {
  return (
    <Sheet open={open} onClose={onClose} title={tr("Videos of this swing")}>
      <div className="space-y-6">
        {clips.clips.map((clip) => (
          <OneClip key={clip.id} clip={clip} clips={clips} />
        ))}
        <AttachButtons clips={clips} />
        <p className="text-base text-muted">
          {tr(
            "MP4 or WebM, at most 100 MB and a minute. Nothing in the picture is measured. It is kept with the swing, goes with the player’s export and is erased with the player.",
          )}
        </p>
        <ErrorLine error={clips.error} />
      </div>
    </Sheet>
  );
}

function OneClip({ clip, clips }: { clip: Clip; clips: Clips }) {
  const laid = laidWords(clip);
  return (
    <section className="border-b border-hairline pb-4" aria-label={tr("Video {view_names}", { view_names: VIEW_NAMES[clip.view] })}>
      <h3 className="text-xl font-bold">{VIEW_NAMES[clip.view].replace(/^./, (c) => c.toUpperCase())}</h3>
      <p className="text-lg">
        {tr("{seconds} s, {what} pictures a second, {what2} MB{what3}.", {
          seconds: number(clip.seconds, 1),
          what: Math.round(clip.rate_hz),
          what2: number(clip.size / 1e6, 1),
          what3: clip.sound ? "" : tr(", without sound"),
        })}
      </p>
      <p className="text-lg text-muted">{laid ? tr("Laid on the swing {laid}.", { laid }) : tr("Not laid on the swing yet: say where the ball is struck.")}</p>
      <p className="mt-2 text-base text-muted">{tr("It plays")}</p>
      <Choice
        label={tr("How slowly the video {view_names} plays", { view_names: VIEW_NAMES[clip.view] })}
        value={String(clip.slower) as (typeof SLOWER)[number]["id"]}
        options={[...SLOWER]}
        onChange={(slower) => clips.lay.mutate({ id: clip.id, slower: Number(slower) as Clip["slower"] as 1 })}
      />
      <div className="mt-2 flex flex-wrap gap-2">
        <Button onClick={() => clips.remove.mutate(clip.id)} disabled={clips.remove.isPending}>
          {tr("Take away")}
        </Button>
        <a
          className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
          href={`/api/clips/${clip.id}/content`}
          download={`swing-${clip.view}.${clip.kind.split("/")[1]}`}
        >
          {tr("Save a copy")}
        </a>
      </div>
    </section>
  );
}

/** A file for each view. */
export function AttachButtons({ clips }: { clips: Clips }) {
  const file = useRef<HTMLInputElement>(null);
  const view = useRef<ClipView>("front");
  const choose = (to: ClipView) => {
    view.current = to;
    file.current?.click();
  };
  return (
    <div className="flex flex-wrap gap-2">
      {(["front", "line"] as const).map((v) => (
        <Button key={v} onClick={() => choose(v)} disabled={clips.attach.isPending}>
          {clips.clips.some((c) => c.view === v) ? tr("Another") : tr("Attach one")} {VIEW_NAMES[v]}
        </Button>
      ))}
      {clips.attach.isPending ? (
        <p role="status" className="w-full text-lg text-muted">
          {tr("Taking the video in …")}
        </p>
      ) : null}
      <input
        ref={file}
        type="file"
        accept="video/mp4,video/webm,video/quicktime,.mp4,.webm,.mov"
        className="hidden"
        aria-label={tr("Video file")}
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          if (chosen) clips.attach.mutate({ view: view.current, file: chosen });
          e.target.value = "";
        }}
      />
    </div>
  );
}
