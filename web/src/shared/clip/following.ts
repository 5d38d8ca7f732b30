import { clipTime, playbackRate, type Laid } from "@/lib/clips";
import type { Cursor } from "@/lib/cursor";

/** So far a video that plays may be from where it should be before it is set right, s. */
const DRIFT_S = 0.06;
const SAME_S = 1e-3;

/** The video goes where the cursor is; while time runs at `speed` it plays by itself and is only set right. Returns how to let go. */
export function follow(video: HTMLVideoElement, clip: Laid, cursor: Cursor, speed: number | null, onOutside: (outside: boolean) => void): () => void {
  const go = () => {
    const at = clipTime(clip, cursor.get());
    onOutside(at === null);
    if (at === null) return video.pause();
    const off = Math.abs(video.currentTime - at);
    if (speed === null) {
      if (!video.seeking && off > SAME_S) video.currentTime = at;
      return;
    }
    video.playbackRate = playbackRate(clip, speed);
    if (video.paused) void video.play().catch(() => undefined);
    if (off > DRIFT_S * clip.slower) video.currentTime = at;
  };
  if (speed === null) video.pause();
  go();
  const unfollow = cursor.subscribe(go);
  video.addEventListener("seeked", go);
  video.addEventListener("loadeddata", go);
  return () => {
    unfollow();
    video.removeEventListener("seeked", go);
    video.removeEventListener("loadeddata", go);
  };
}

/** The video goes to an instant of its own, also where it is not loaded yet. Returns how to let go. */
export function goTo(video: HTMLVideoElement, at: number): () => void {
  const go = () => {
    video.currentTime = at;
  };
  go();
  video.addEventListener("loadeddata", go, { once: true });
  return () => video.removeEventListener("loadeddata", go);
}
