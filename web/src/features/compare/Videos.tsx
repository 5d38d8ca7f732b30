import { ClipPicture } from "@/shared/clip/ClipPicture";
import type { Clip } from "@/shared/clip/useClips";

import type { Played } from "./usePlayed";
import { sideName } from "./words";
import { tr } from "@/lib/language";

interface Props {
  sides: readonly [Played, Played];
  clips: readonly [readonly Clip[], readonly Clip[]];
}

/** Both on video at the same moment of the swing, where one can be filmed from the same place as the other. */
export function Videos({ sides, clips }: Props) {
  const shared = clips[0].find((c) => clips[1].some((d) => d.view === c.view))?.view;
  return (
    <div className="grid min-h-0 flex-1 grid-cols-2 gap-2">
      {sides.map(({ side, found }, k) => {
        const clip = clips[k]!.find((c) => c.view === shared) ?? clips[k]![0];
        return (
          <div key={side.key} className="flex min-h-0 flex-col">
            <p className="flex-none text-lg font-bold">
              {side.kind === "swing" || !found ? sideName(side) : tr("{sideName}: swing {number}", { sideName: sideName(side), number: found.swing.number })}
            </p>
            {clip && found ? <ClipPicture clip={clip} cursor={found.cursor} speed={null} /> : <p className="text-lg text-muted">{tr("No video of it.")}</p>}
          </div>
        );
      })}
    </div>
  );
}
