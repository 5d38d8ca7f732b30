import { tr } from "@/lib/language";

/** A video laid on its swing: the same instant on both clocks, and how many times slower than real it plays. */
export interface Laid {
  impact_s: number | null;
  swing_impact_s: number | null;
  slower: number;
  seconds: number;
  rate_hz: number;
}

/** What browsers play at. */
const SLOWEST = 0.0625;
const FASTEST = 16;

export const isLaid = (clip: Laid): boolean => clip.impact_s !== null && clip.swing_impact_s !== null;

/** Where in the video an instant of the swing is, s; the middle of its picture, so that no neighbour is shown for it. Null where it is not in it. */
export function clipTime(clip: Laid, swingS: number): number | null {
  if (clip.impact_s === null || clip.swing_impact_s === null) return null;
  const at = clip.impact_s + clip.slower * (swingS - clip.swing_impact_s);
  const frame = 1 / clip.rate_hz;
  if (at < -frame || at > clip.seconds + frame) return null;
  const picture = Math.floor(Math.min(Math.max(at, 0), clip.seconds - frame / 2) / frame + 1e-6);
  return (picture + 0.5) * frame;
}

/** The video's speed for a speed of the swing. */
export const playbackRate = (clip: Laid, speed: number): number => Math.min(FASTEST, Math.max(SLOWEST, clip.slower * speed));

/** How exactly the video is laid on the swing, in words. */
export function laidWords(clip: Laid & { aligned_by: "sound" | "click" | "" }): string {
  if (clip.aligned_by === "sound") return tr("by the sound of the strike");
  if (clip.aligned_by === "click") return tr("by hand, to about {rate_hz} ms", { rate_hz: Math.max(1, Math.round(500 / clip.rate_hz / clip.slower)) });
  return "";
}
