import { lazy, Suspense, useSyncExternalStore } from "react";
import { term } from "@/lib/terms";

import type { Overlay } from "@/lib/figure";
import { isDark } from "@/lib/settings";
import { valueAt } from "@/lib/traces";
import { inWords, type MetricWords, type Vocabulary } from "@/lib/words";
import { ErrorLine, Loading } from "@/shared/ui/controls";

import type { At } from "./useCheckpoint";
import type { SwingData } from "./useSwingData";
import { tr } from "@/lib/language";

const Figure3D = lazy(() => import("@/shared/figure/Figure3D"));

/** The whole figure at the instant being looked at. */
export function SwingFigure({ found, at, mirror, words, narrow = false }: { found: SwingData; at: At; mirror: boolean; words: Vocabulary; narrow?: boolean }) {
  const says = useOverlayWords(found, at, words);
  const { joints, swing, traces: t, checkpoints } = found;
  const time = (name: string) => checkpoints.find((b) => b.name === name)?.time;
  return (
    <Suspense fallback={<Loading what={tr("Drawing the figure")} />}>
      {joints.data ? (
        <Figure3D
          key={swing!.id}
          block={joints.data}
          traces={t!}
          info={swing!.figure!}
          mirror={mirror}
          cursor={at.cursor}
          theme={isDark() ? "dark" : "light"}
          addressS={time("address") ?? t!.time[0]!}
          startS={time("takeaway") ?? t!.time[0]!}
          endS={(time("impact") ?? t!.time[t!.n - 1]!) + 0.15}
          says={says}
          narrow={narrow}
        />
      ) : joints.error ? (
        <ErrorLine error={joints.error} />
      ) : (
        <Loading what={tr("Drawing the figure")} />
      )}
    </Suspense>
  );
}

/** What the figure's overlays show at the cursor, in words. */
function useOverlayWords(found: SwingData, at: At, words: Vocabulary): Partial<Record<Overlay, string>> {
  const now = useSyncExternalStore(at.cursor.subscribe, at.cursor.get);
  const say = (id: string, name: string) => {
    const metric = found.catalogue!.metrics.find((m) => m.id === id) as MetricWords | undefined;
    const value = valueAt(found.traces!, id, now);
    return metric && value !== null ? `${name} ${inWords(metric, value, words)}` : "";
  };
  const join = (...parts: string[]) => parts.filter(Boolean).join(", ");
  return {
    turn: join(say("pelvis_turn", term("pelvis")), say("thorax_turn", tr("upper body"))),
    spine: join(say("spine_lean", tr("spine")), say("posture_from_ground", tr("spine"))),
    pelvis: join(say("pelvis_sway", term("pelvis")), say("pelvis_thrust", "")),
    hip: say("lead_hip_overhang", tr("lead hip")),
  };
}
