import { lazy, Suspense, useMemo, useState, type ComponentProps } from "react";

import { useFigure, useTraces } from "@/api/hooks";
import type { Eye } from "@/lib/figure";
import { isDark } from "@/lib/settings";
import { ErrorLine, Loading } from "@/shared/ui/controls";

import type { Played } from "./usePlayed";
import { sideName } from "./words";
import { tr } from "@/lib/language";

const Figure3D = lazy(() => import("@/shared/figure/Figure3D"));

interface Props {
  sides: readonly [Played, Played];
  over: boolean;
  mirror: boolean;
}

type Eyed = { eye: Eye | "free"; onEye: (eye: Eye | "free") => void };

/** Both players from the same eye, side by side or one over the other; of a group its newest swing. */
export function Figures({ sides, over, mirror }: Props) {
  const [eye, setEye] = useState<Eye | "free">("front");
  const a = useDrawn(sides[0]);
  const b = useDrawn(sides[1]);
  const [seen, beneath] = [a.drawn, b.drawn];
  const under = useMemo(() => (seen && beneath ? { block: beneath.block, at: (t: number) => beneath.inOwnTime(seen.toNode(t)) } : null), [seen, beneath]);
  const eyed = { eye, onEye: setEye };
  return (
    <>
      <div className={`grid min-h-0 flex-1 gap-2 ${over ? "grid-cols-1" : "grid-cols-2"}`}>
        <One drawing={a} mirror={mirror} under={over ? under : null} {...eyed} />
        {over ? null : <One drawing={b} mirror={mirror} {...eyed} />}
      </div>
      {over ? <p className="flex-none text-lg text-muted">{tr("Faint: {sideName}.", { sideName: sideName(sides[1].side) })}</p> : null}
    </>
  );
}

/** A side's swing with what its figure needs. */
function useDrawn({ side, found, error }: Played) {
  const shown = found?.swing.figure ? found.swing : undefined;
  const traces = useTraces(shown);
  const joints = useFigure(shown);
  const [t, block] = [traces.data, joints.data];
  const drawn = useMemo(() => (found && t && block ? { ...found, traces: t, block } : null), [found, t, block]);
  return { side, drawn, none: side.swing_ids.length === 0 || Boolean(found && !shown), error: error ?? traces.error ?? joints.error };
}

interface OneProps extends Eyed {
  drawing: ReturnType<typeof useDrawn>;
  mirror: boolean;
  under?: ComponentProps<typeof Figure3D>["under"];
}

function One({ drawing: { side, drawn, none, error }, mirror, under = null, eye, onEye }: OneProps) {
  if (none)
    return (
      <p className="self-center px-2 text-lg text-muted">
        {tr("{sideName}: no figure. {what}", {
          sideName: sideName(side),
          what: side.swing_ids.length ? tr("It needs body sensors or markers.") : tr("It is drawn as its course alone."),
        })}
      </p>
    );
  if (error) return <ErrorLine error={error} />;
  if (!drawn) return <Loading what={tr("Drawing the figure")} />;
  const t = drawn.traces;
  return (
    <div className="flex min-h-0 flex-col">
      <p className="flex-none text-lg font-bold">
        {side.kind === "swing" ? sideName(side) : tr("{sideName}: swing {number}", { sideName: sideName(side), number: drawn.swing.number })}
      </p>
      <div className="min-h-0 flex-1">
        <Suspense fallback={<Loading what={tr("Drawing the figure")} />}>
          <Figure3D
            block={drawn.block}
            traces={t}
            info={drawn.swing.figure!}
            mirror={mirror}
            cursor={drawn.cursor}
            theme={isDark() ? "dark" : "light"}
            addressS={drawn.time("address", t.time[0]!)}
            startS={drawn.time("takeaway", t.time[0]!)}
            endS={drawn.time("impact", t.time[t.n - 1]!) + 0.15}
            says={{}}
            narrow
            under={under}
            eye={eye}
            onEye={onEye}
          />
        </Suspense>
      </div>
    </div>
  );
}
