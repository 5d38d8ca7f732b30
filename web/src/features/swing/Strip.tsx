import { useEffect, useRef } from "react";

import type { Schemas } from "@/api/client";
import { KINDS } from "@/lib/words";
import { SmallArc } from "@/shared/arc/SmallArc";
import { useSize } from "@/shared/ui/useSize";
import { tr } from "@/lib/language";

type Brief = Schemas["SwingBrief"];

interface Props {
  swings: Brief[];
  chosen: string;
  measure: string;
  mirror: boolean;
  title: string;
  count: string;
  countNote: string;
  follow: boolean;
  onChoose: (swing: Brief) => void;
  onFollow: () => void;
}

/** The lesson's swings as small arcs: warm-ups dashed, drills hollow, a gap where the calibration changed, a dotted one where the grip did. */
export function Strip(props: Props) {
  const list = useRef<HTMLOListElement>(null);
  const [width] = useSize(list, [0, 0]);
  useEffect(() => {
    list.current?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [props.chosen, width]); // also where the screen was turned
  return (
    <section
      className="flex min-h-[116px] flex-none items-center gap-5 border-b border-hairline px-7 max-[1100px]:px-4 max-[700px]:min-h-0 max-[700px]:flex-wrap max-[700px]:gap-x-3 max-[700px]:gap-y-0 max-[700px]:py-1"
      aria-label={tr("Swings of this lesson")}
    >
      <div className="min-w-0 flex-1 max-[700px]:w-full max-[700px]:flex-none">
        <p className="text-base text-muted max-[700px]:hidden">{props.title}</p>
        <ol ref={list} data-scrolls className="flex items-end overflow-x-auto">
          {props.swings.map((s, k) => {
            const earlier = props.swings[k - 1];
            const broken = earlier && earlier.recording_id !== s.recording_id;
            const otherGrip = s.grip !== null && s.grip.answer !== "sensor";
            const otherClub = earlier && earlier.club !== s.club;
            const chosen = s.id === props.chosen;
            return (
              <li
                key={s.id}
                className={`flex-none ${broken ? "ml-3 border-l-2 border-ink pl-3" : otherGrip ? "ml-3 border-l-2 border-dotted border-ink pl-3" : otherClub ? "ml-3 border-l border-hairline pl-3" : ""}`}
                title={broken ? tr("Calibrated again here") : otherGrip ? tr("The grip changed here") : undefined}
              >
                <button
                  type="button"
                  aria-current={chosen}
                  aria-label={tr("Swing {number}, {kinds}", { number: s.number, kinds: KINDS[s.kind] })}
                  onClick={() => props.onChoose(s)}
                  className={`flex min-w-[66px] flex-col items-center px-1 ${s.kind === "discard" ? "opacity-45" : ""}`}
                >
                  <SmallArc
                    checkpoints={Object.entries(s.checkpoints)
                      .map(([name, time]) => ({ name, time }))
                      .sort((a, b) => a.time - b.time)}
                    out={(s.outside[props.measure] ?? []) as [number, number][]}
                    mirror={props.mirror}
                    chosen={chosen}
                    dashed={s.kind === "warm_up" || s.kind === "no_ball"}
                    hollow={s.kind === "drill"}
                  />
                  <span className={`text-base leading-tight ${chosen ? "font-bold" : "text-muted"}`}>
                    {s.kind === "normal"
                      ? s.number
                      : s.kind === "discard"
                        ? tr("{number} out", { number: s.number })
                        : s.kind === "warm_up"
                          ? tr("warm-up")
                          : `${s.number} ${KINDS[s.kind]}`}
                  </span>
                </button>
              </li>
            );
          })}
        </ol>
      </div>
      <div className="max-w-72 flex-none text-right max-[700px]:flex max-[700px]:max-w-none max-[700px]:flex-1 max-[700px]:flex-wrap max-[700px]:items-baseline max-[700px]:gap-x-2 max-[700px]:text-left">
        <p className="text-2xl font-bold max-[700px]:text-lg">{props.count}</p>
        <p className="text-lg leading-tight max-[700px]:text-base">{props.countNote}</p>
      </div>
      <button
        type="button"
        aria-pressed={props.follow}
        onClick={props.onFollow}
        className={`min-h-14 min-w-14 flex-none px-2 text-lg max-[700px]:hidden ${props.follow ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
      >
        {tr("Follow")}
      </button>
    </section>
  );
}
