import { useMemo } from "react";

import type { Schemas } from "@/api/client";
import { useMat } from "@/api/hooks";
import { isDark } from "@/lib/settings";
import { MatPicture } from "@/shared/ground/MatPicture";
import { ErrorLine, Loading } from "@/shared/ui/controls";

import type { Played } from "./usePlayed";
import { sideName } from "./words";
import { tr } from "@/lib/language";

/** So long after impact the way is drawn, s. */
const AFTER_S = 0.3;

interface Props {
  sides: readonly [Played, Played];
  over: boolean;
  mirror: boolean;
}

/** Both mats at the same moment, or the second's way laid over the first's mat by the feet. */
export function Mats({ sides: [a, b], over, mirror }: Props) {
  const [onA, onB] = [useOnMat(a), useOnMat(b)];
  const under = useMemo(() => {
    if (!over || !onA.block || !onB.block || !a.found || !b.found) return null;
    const [here, there] = [middleOf(onA.ground!), middleOf(onB.ground!)];
    const { toNode } = a.found;
    const { inOwnTime } = b.found;
    return {
      way: onB.block.way,
      shift: [here[0] - there[0], here[1] - there[1]] as const,
      from: onB.from,
      to: onB.to,
      at: (t: number) => inOwnTime(toNode(t)),
    };
  }, [over, onA, onB, a.found, b.found]);
  return (
    <div className={`grid min-h-0 flex-1 gap-2 ${over ? "grid-cols-1 grid-rows-[minmax(0,1fr)_auto]" : "grid-cols-1 grid-rows-2"}`}>
      <One played={a} on={onA} mirror={mirror} under={under} />
      {over ? (
        <p className="text-lg text-muted">{tr("Dashed, with the open ring: {sideName}, laid over by the feet.", { sideName: sideName(b.side) })}</p>
      ) : (
        <One played={b} on={onB} mirror={mirror} />
      )}
    </div>
  );
}

function useOnMat(played: Played) {
  const ground = played.found?.swing.ground ?? null;
  const mat = useMat(ground ? played.found?.swing : undefined);
  const time = played.found?.time;
  const [from, to] = [time?.("address", 0) ?? 0, (time?.("impact", 0) ?? 0) + AFTER_S];
  return useMemo(() => ({ ground, block: mat.data ?? null, error: mat.error, from, to }), [ground, mat.data, mat.error, from, to]);
}

interface OneProps {
  played: Played;
  on: ReturnType<typeof useOnMat>;
  mirror: boolean;
  under?: Parameters<typeof MatPicture>[0]["under"];
}

function One({ played: { side, found, error }, on, mirror, under = null }: OneProps) {
  const name = side.kind === "swing" || !found ? sideName(side) : tr("{sideName}: swing {number}", { sideName: sideName(side), number: found.swing.number });
  return (
    <div className="flex min-h-0 flex-col">
      <p className="flex-none text-lg font-bold">{name}</p>
      {(error ?? on.error) ? (
        <ErrorLine error={error ?? on.error} />
      ) : found && !on.ground ? (
        <p className="text-lg text-muted">{tr("No mat was under it.")}</p>
      ) : side.swing_ids.length === 0 ? (
        <p className="text-lg text-muted">{tr("It has no mat.")}</p>
      ) : on.block && on.ground && found ? (
        <MatPicture
          block={on.block}
          ground={on.ground}
          cursor={found.cursor}
          mirror={mirror}
          theme={isDark() ? "dark" : "light"}
          startS={on.from}
          endS={on.to}
          under={under}
        />
      ) : (
        <Loading what={tr("Opening the mat")} />
      )}
    </div>
  );
}

/** The middle of all ends of the soles, m. */
function middleOf(ground: Schemas["GroundOut"]): [number, number] {
  const ends = ground.feet.flatMap((f) => [f.heel, f.toe]);
  const mean = (k: 0 | 1) => ends.reduce((sum, e) => sum + e[k]!, 0) / Math.max(ends.length, 1);
  return [mean(0), mean(1)];
}
