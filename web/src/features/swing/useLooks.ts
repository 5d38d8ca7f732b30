import { groupOf, MEASURES, type Group } from "@/lib/measures";
import { measures } from "@/lib/values";

import type { SwingData } from "./useSwingData";
import type { View } from "./useView";

/** Ways to look at a swing otherwise: another group of measures, the figure, the video. The ground has a stage of its own, without either. */
export function useLooks(found: SwingData, view: View) {
  const { traces: t, group } = found;
  const charted = (g: Group) => g.measures.filter((m) => t?.columns[m.id]).map((m) => m.id);
  const toGroup = (g: Group) => view.setMeasure(charted(g)[0] ?? g.id);
  const families = new Set(found.swing ? (found.catalogue?.metrics ?? []).filter((c) => measures(found.swing!, c.id)).map((c) => c.family) : []);
  const groupSeen = (g: Group) => (g.id === "sequence" ? families.has(g.id) : charted(g).length > 0);
  const turn = (set: (to: boolean | ((now: boolean) => boolean)) => void) => {
    if (group.id !== "ground") return set((now) => !now);
    view.setMeasure(MEASURES.find((m) => groupOf(m.id).id !== "ground" && t?.columns[m.id])?.id ?? "");
    set(true);
  };
  return { charted, toGroup, groupSeen, toFigure: () => turn(view.setFigure), toVideo: () => turn(view.setVideo) };
}
