import type { LinkState } from "@/lib/link";

import type { Segment, Trouble } from "./usePhone";

export const WHERE: Record<Segment, { name: string; at: string }> = {
  pelvis: { name: "Pelvis", at: "the pelvis, at the back, over the belt" },
  thorax: { name: "Upper back", at: "the upper back, between the shoulder blades" },
};

/** What is wrong, and what to do. */
export const TROUBLES: Record<Trouble, [string, string]> = {
  insecure: [
    "This browser gives no motion here.",
    "Browsers tell a page how the phone moves over https alone. Open the link by https: whoever set Fine Arc up puts TLS in front of it (see the documentation, TLS for phones).",
  ],
  silent: ["No motion comes from this phone.", "Let the browser use motion sensors in its settings, or take another phone. A tablet or laptop may have none."],
  denied: ["Motion was not allowed.", "Close this page, open the link again and allow motion when the phone asks."],
};

const POSES: Record<string, string> = {
  square_upright: "Stand upright, square, and still.",
  bow: "Bow straight forward from the hips, and hold.",
};

/** One sentence: what the bay is doing, for whoever wears the phone. */
export function doing(link: LinkState | null): string {
  if (!link) return "Getting ready …";
  if (link.phase === "refused") return `Not taken: ${link.reason}`;
  if (link.phase === "connecting") return "Not connected. What it measures is kept; trying again.";
  if (link.state === "calibrating") return POSES[link.pose] ?? "Hold the pose.";
  if (link.state === "armed") return "Ready. Swing.";
  if (link.state === "swing") return `Swing ${link.swing} was taken in.`;
  return `Connected to ${link.bay}. Waiting for the lesson.`;
}
