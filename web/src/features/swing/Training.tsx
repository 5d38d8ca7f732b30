import { Link } from "@tanstack/react-router";

import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { amount, intervalInWords, inWords, moment, wayInWords } from "@/lib/words";
import { ChangeInterval } from "@/shared/charts/ChangeInterval";
import { DrillPicture } from "@/shared/drill/DrillPicture";
import { Button, useSettings } from "@/shared/ui/controls";
import { number, tr, trn } from "@/lib/language";

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
  const say = (value: number) => (metric ? inWords(metric, value, words) : number(value, 1));
  const own = lesson.swings.filter((s) => s.block_id === last.id).map((s) => s.id);
  const pinned = own.length > 0 && own.every((id) => lesson.pinned.includes(id));
  return (
    <section aria-label={tr("Training")} className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-hairline px-7 py-2 max-[700px]:px-4">
      {last.kind === "drill" ? (
        <>
          <DrillPicture name={drill?.picture ?? ""} mirror={lesson.player.handedness === "left"} className="h-[84px] w-[84px] flex-none max-[700px]:hidden" />
          <p className="min-w-0 flex-1 text-xl leading-snug">
            <b>{tr("Drill{what}.", { what: drill ? `: ${drill.label}` : "" })}</b> {drill?.how}{" "}
            {drill?.caution ? <b>{drill.caution}</b> : tr("Stop if it hurts.")}{" "}
            <span className="text-muted">{trn("{count} drill swing", "{count} drill swings", last.swings)}.</span>
          </p>
          <Button tone="solid" onClick={() => onTest(last)}>
            {tr("Test it")}
          </Button>
          <Button onClick={onEnd}>{tr("End")}</Button>
        </>
      ) : (
        <>
          <p className="min-w-0 flex-1 text-xl leading-snug max-[1000px]:basis-full max-[700px]:text-lg">
            <b className="text-2xl max-[700px]:text-lg">{c?.sentence ?? tr("Test without the drill.")}</b>{" "}
            {c && c.before_median !== null && c.after_median !== null ? (
              <span className="max-[700px]:hidden [@media(max-width:1100px)_and_(max-height:900px)]:hidden">
                {tr("Before {say} (spread {what}, {what2}) · after {say2} (spread {what3}, {what4}) · {moment}{what5}", {
                  say: say(c.before_median),
                  what: number(c.before_spread!, 1),
                  what2: trn("{count} swing", "{count} swings", c.before.length),
                  say2: say(c.after_median),
                  what3: number(c.after_spread!, 1),
                  what4: trn("{count} swing", "{count} swings", c.after.length),
                  moment: moment(last.moment),
                  what5: metric && c.ci95 ? tr("; with 95 % certainty {intervalInWords}", { intervalInWords: intervalInWords(metric, c.ci95, words) }) : "",
                })}
              </span>
            ) : (
              <span className="text-muted">{tr("{what} so far.", { what: trn("{count} test swing", "{count} test swings", last.swings) })}</span>
            )}
          </p>
          {metric && c?.ci95 && c.difference !== null ? (
            <ChangeInterval
              className="max-[700px]:hidden"
              difference={c.difference}
              interval={c.ci95}
              relevant={c.smallest_relevant}
              label={tr("The change lies {intervalInWords}; less than {amount} means nothing.", {
                intervalInWords: intervalInWords(metric, c.ci95, words),
                amount: amount(metric, c.smallest_relevant),
              })}
              less={wayInWords(metric, -1, words)}
              more={wayInWords(metric, 1, words)}
            />
          ) : null}
          {own.length > 1 ? (
            <Button className="max-[700px]:hidden" aria-pressed={pinned} onClick={() => onPin(pinned ? [] : own)}>
              {pinned ? tr("Unpin block") : tr("Pin block")}
            </Button>
          ) : null}
          {c?.ci95 ? (
            <Link
              to="/lessons/$lessonId/compare"
              params={{ lessonId: lesson.id }}
              search={{ a: `block:${last.id}`, b: `before:${last.id}` }}
              className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
            >
              {tr("Compare")}
            </Link>
          ) : null}
          {last.running ? <Button onClick={onEnd}>{tr("End test")}</Button> : null}
        </>
      )}
      {last.running ? (
        <Link
          to="/lessons/$lessonId/capture"
          params={{ lessonId: lesson.id }}
          className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
        >
          {tr("Capture")}
        </Link>
      ) : null}
    </section>
  );
}
