import { Link } from "@tanstack/react-router";

import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { amount, count, intervalInWords, inWords, moment, wayInWords } from "@/lib/words";
import { ChangeInterval } from "@/shared/charts/ChangeInterval";
import { DrillPicture } from "@/shared/drill/DrillPicture";
import { Button, useSettings } from "@/shared/ui/controls";

interface Props {
  lesson: Schemas["LessonOut"];
  onTest: (block: Schemas["BlockOut"]) => void;
  onEnd: () => void;
  /** Take all swings of a block as the before. */
  onPin: (ids: string[]) => void;
}

/** The running drill or test block, and what came of the last test. */
export function Training({ lesson, onTest, onEnd, onPin }: Props) {
  const catalogue = useCatalogue();
  const { words } = useSettings();
  const running = lesson.blocks.find((b) => b.running);
  const test = running?.kind === "test" ? running : [...lesson.blocks].reverse().find((b) => b.kind === "test");
  const last = running ?? (test && lesson.status === "running" ? test : undefined);
  if (!last) return null;
  const drill = catalogue.data?.drills.find((d) => d.id === last.drill);
  const c = last.change;
  const metric = catalogue.data?.metrics.find((m) => m.id === last.metric);
  const say = (value: number) => (metric ? inWords(metric, value, words) : value.toFixed(1));
  const own = lesson.swings.filter((s) => s.block_id === last.id).map((s) => s.id);
  const pinned = own.length > 0 && own.every((id) => lesson.pinned.includes(id));
  return (
    <section aria-label="Training" className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-hairline px-7 py-2 max-[700px]:px-4">
      {last.kind === "drill" ? (
        <>
          <DrillPicture name={drill?.picture ?? ""} mirror={lesson.player.handedness === "left"} className="h-[84px] w-[84px] flex-none max-[700px]:hidden" />
          <p className="min-w-0 flex-1 text-xl leading-snug">
            <b>Drill{drill ? `: ${drill.label}` : ""}.</b> {drill?.how} {drill?.caution ? <b>{drill.caution}</b> : "Stop if it hurts."}{" "}
            <span className="text-muted">{count(last.swings, "drill swing")}.</span>
          </p>
          <Button tone="solid" onClick={() => onTest(last)}>
            Test it
          </Button>
          <Button onClick={onEnd}>End</Button>
        </>
      ) : (
        <>
          <p className="min-w-0 flex-1 text-xl leading-snug max-[1000px]:basis-full max-[700px]:text-lg">
            <b className="text-2xl max-[700px]:text-lg">{c?.sentence ?? "Test without the drill."}</b>{" "}
            {c && c.before_median !== null && c.after_median !== null ? (
              <span className="max-[700px]:hidden [@media(max-width:1100px)_and_(max-height:900px)]:hidden">
                Before {say(c.before_median)} (spread {c.before_spread!.toFixed(1)}, {count(c.before.length, "swing")}) · after {say(c.after_median)} (spread{" "}
                {c.after_spread!.toFixed(1)}, {count(c.after.length, "swing")}) · {moment(last.moment)}
                {metric && c.ci95 ? `; with 95 % certainty ${intervalInWords(metric, c.ci95, words)}` : ""}
              </span>
            ) : (
              <span className="text-muted">{count(last.swings, "test swing")} so far.</span>
            )}
          </p>
          {metric && c?.ci95 && c.difference !== null ? (
            <ChangeInterval
              className="max-[700px]:hidden"
              difference={c.difference}
              interval={c.ci95}
              relevant={c.smallest_relevant}
              label={`The change lies ${intervalInWords(metric, c.ci95, words)}; less than ${amount(metric, c.smallest_relevant)} means nothing.`}
              less={wayInWords(metric, -1, words)}
              more={wayInWords(metric, 1, words)}
            />
          ) : null}
          {own.length > 1 ? (
            <Button className="max-[700px]:hidden" aria-pressed={pinned} onClick={() => onPin(pinned ? [] : own)}>
              {pinned ? "Unpin block" : "Pin block"}
            </Button>
          ) : null}
          {c?.ci95 ? (
            <Link
              to="/lessons/$lessonId/compare"
              params={{ lessonId: lesson.id }}
              search={{ a: `block:${last.id}`, b: `before:${last.id}` }}
              className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
            >
              Compare
            </Link>
          ) : null}
          {last.running ? <Button onClick={onEnd}>End test</Button> : null}
        </>
      )}
      {last.running ? (
        <Link
          to="/lessons/$lessonId/capture"
          params={{ lessonId: lesson.id }}
          className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
        >
          Capture
        </Link>
      ) : null}
    </section>
  );
}
