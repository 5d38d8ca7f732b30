import { useState } from "react";

import type { Schemas } from "@/api/client";
import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { useClipsOf } from "@/shared/clip/useClips";
import { Choice } from "@/shared/ui/controls";

import { Figures } from "./Figures";
import { Mats } from "./Mats";
import { usePlayed } from "./usePlayed";
import { Videos } from "./Videos";
import { tr } from "@/lib/language";

interface Props {
  data: Schemas["CompareOut"];
  checkpoints: Checkpoint[];
  cursor: Cursor;
  mirror: boolean;
}

type Kind = "beside" | "over" | "mats" | "mat" | "video";

/** Both players at the same moment: as figures, on the mat, on video; side by side or one over the other. */
export function Pictures({ data, checkpoints, cursor, mirror }: Props) {
  const [asked, setAsked] = useState<Kind | null>(null);
  const sides = [usePlayed(data.a, checkpoints, cursor), usePlayed(data.b, checkpoints, cursor)] as const;
  const clips = [useClipsOf(sides[0].found?.swing.id), useClipsOf(sides[1].found?.swing.id)] as const;
  const have = (what: "figure" | "ground") => sides.filter((s) => s.found?.swing[what]).length;
  const options: { id: Kind; label: string }[] = [
    ...(have("figure") ? [{ id: "beside" as const, label: tr("Side by side") }] : []),
    ...(have("figure") === 2 ? [{ id: "over" as const, label: tr("Laid over") }] : []),
    ...(have("ground") ? [{ id: "mats" as const, label: have("ground") === 2 ? tr("Mats") : tr("Mat") }] : []),
    ...(have("ground") === 2 ? [{ id: "mat" as const, label: tr("Ways") }] : []),
    ...(clips.some((c) => c.length) ? [{ id: "video" as const, label: tr("Video") }] : []),
  ];
  const kind = options.some((o) => o.id === asked) ? asked! : (options[0]?.id ?? "beside");
  return (
    <div className="flex h-full min-h-0 flex-col">
      {options.length > 1 ? <Choice label={tr("Pictures")} value={kind} onChange={setAsked} className="flex-none" options={options} /> : null}
      {kind === "video" ? (
        <Videos sides={sides} clips={clips} />
      ) : kind === "mats" || kind === "mat" ? (
        <Mats sides={sides} over={kind === "mat"} mirror={mirror} />
      ) : (
        <Figures sides={sides} over={kind === "over"} mirror={mirror} />
      )}
    </div>
  );
}
