import type { LinkState } from "@/lib/link";

import type { Segment, Trouble } from "./usePhone";
import { tr } from "@/lib/language";

export const WHERE: Record<Segment, { name: string; at: string }> = {
  pelvis: { name: tr("Pelvis"), at: tr("the pelvis, at the back, over the belt") },
  thorax: { name: tr("Upper back"), at: tr("the upper back, between the shoulder blades") },
};

/** What is wrong, and what to do. */
export const TROUBLES: Record<Trouble, [string, string]> = {
  insecure: [
    tr("This browser gives no motion here."),
    tr(
      "Browsers tell a page how the phone moves over https alone. Open the link by https: whoever set Fine Arc up puts TLS in front of it (see the documentation, TLS for phones).",
    ),
  ],
  silent: [
    tr("No motion comes from this phone."),
    tr("Let the browser use motion sensors in its settings, or take another phone. A tablet or laptop may have none."),
  ],
  denied: [tr("Motion was not allowed."), tr("Close this page, open the link again and allow motion when the phone asks.")],
};

const POSES: Record<string, string> = {
  square_upright: tr("Stand upright, square, and still."),
  bow: tr("Bow straight forward from the hips, and hold."),
};

/** One sentence: what the bay is doing, for whoever wears the phone. */
export function doing(link: LinkState | null): string {
  if (!link) return tr("Getting ready …");
  if (link.phase === "refused") return tr("Not taken: {reason}", { reason: link.reason });
  if (link.phase === "connecting") return tr("Not connected. What it measures is kept; trying again.");
  if (link.state === "calibrating") return POSES[link.pose] ?? tr("Hold the pose.");
  if (link.state === "armed") return tr("Ready. Swing.");
  if (link.state === "swing") return tr("Swing {swing} was taken in.", { swing: link.swing });
  return tr("Connected to {bay}. Waiting for the lesson.", { bay: link.bay });
}
