import { useEffect, useMemo } from "react";

import type { Schemas } from "@/api/client";
import { useMat } from "@/api/hooks";
import { makeCursor } from "@/lib/cursor";
import { leftToRight } from "@/lib/mat";
import { isDark } from "@/lib/settings";
import { valueAt, type Traces } from "@/lib/traces";
import { MatPicture } from "@/shared/ground/MatPicture";
import { ErrorLine, Loading } from "@/shared/ui/controls";

import { SHOWN, sentenceSize } from "./look";
import { tr } from "@/lib/language";

/** Half the width, a letter being half as wide as it is high: so large a word of one letter may be, in hundredths of the width. */
const WORD_CQW = 85;

interface Props {
  swing: Schemas["SwingOut"];
  ground: Schemas["GroundOut"];
  traces: Traces;
  mirror: boolean;
  onBack: () => void;
}

/** The ground as the player may see it: the mat, what was on each foot at impact, one sentence. */
export function ShowGround({ swing, ground, traces, mirror, onBack }: Props) {
  const mat = useMat(swing);
  const at = (name: string) => swing.events.find((e) => e.name === name)?.time_s;
  const impact = at("impact") ?? traces.time[traces.n - 1]!;
  const cursor = useMemo(() => makeCursor(impact), [impact]);
  useEffect(() => cursor.set(impact), [cursor, impact]);
  const lead = valueAt(traces, "lead_share", impact);
  const finding = swing.findings.find((f) => /share|stance|heel_toe|return_time|push_off/.test(f.metric));
  const foot = (side: "lead" | "trail") => ((side === "lead") !== mirror ? tr("left") : tr("right"));
  const says = ground.sentence || finding?.player_says || tr("This is where your pressure went.");
  return (
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-noninteractive-element-interactions -- the whole screen is the thumb target; v, Enter and Escape do the same
    <main className={SHOWN} onClick={onBack}>
      <div className="flex h-full min-h-0 flex-col justify-center py-4">
        {mat.data ? (
          <MatPicture
            block={mat.data}
            ground={ground}
            cursor={cursor}
            mirror={mirror}
            theme={isDark() ? "dark" : "light"}
            startS={at("address") ?? traces.time[0]!}
            endS={impact + 0.3}
          />
        ) : mat.error ? (
          <ErrorLine error={mat.error} />
        ) : (
          <Loading what={tr("One moment")} />
        )}
        {lead === null ? null : (
          <div className="@container grid flex-none grid-cols-2 text-center">
            {leftToRight(mirror).map((side) => (
              <div key={side}>
                <p className="figure text-[150px] leading-none whitespace-nowrap font-bold max-[1100px]:text-[110px] max-[700px]:text-[60px]">
                  {Math.round(side === "lead" ? lead : 100 - lead)}
                  <span className="text-[0.3em]">{"\u2009%"}</span>
                </p>
                <p
                  className="leading-tight [--most:72px] max-[1100px]:[--most:48px] max-[700px]:[--most:28px]"
                  style={{ fontSize: `min(var(--most), ${Math.floor(WORD_CQW / Math.max(foot("lead").length, foot("trail").length))}cqw)` }}
                >
                  {foot(side)}
                </p>
              </div>
            ))}
          </div>
        )}
        <p className="flex-none text-center text-[32px] text-muted max-[700px]:text-[22px]">{tr("at impact")}</p>
      </div>
      <p className={`figure leading-[1.08] font-bold ${sentenceSize(says)}`}>{says}</p>
    </main>
  );
}
