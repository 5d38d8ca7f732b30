import { Link } from "@tanstack/react-router";

import type { Schemas } from "@/api/client";
import { useCatalogue, useSwing } from "@/api/hooks";
import { ledBy } from "@/lib/lead";
import { measureOf } from "@/lib/measures";
import { shownValue } from "@/lib/values";
import { toldOf } from "@/lib/rest";
import { amount, KINDS, moment, type MetricWords, type Vocabulary } from "@/lib/words";
import { useSettings } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

/** The value that the swing's sentence speaks of, a change as the change it is; else its measure at the top. */
function oneValue(swing: Schemas["SwingOut"]): { metric: string; moment: string; value: number } | undefined {
  const { metric, moment: at, finding } = swing.headline;
  const spoken = swing.findings.find((f) => f.finding === finding);
  for (const [id, place] of [...(spoken ? ([[spoken.metric, spoken.moment]] as const) : []), [metric, at], [measureOf(metric), "top"]] as const) {
    const found = shownValue(swing, id, place);
    if (found) return { metric: id, moment: place, value: found.value };
  }
  return undefined;
}

function told(metric: MetricWords, read: { moment: string; value: number }, words: Vocabulary): string {
  const { way, of } = toldOf(metric, read, words);
  if (read.moment === "swing") return way;
  return `${way} ${read.moment.includes("..") ? of : tr("at {what}", { what: read.moment === "top" ? tr("the top") : moment(read.moment) })}`;
}

/** What the last swing was: its kind, what saw it, and one value, so that nobody has to leave the screen to know. */
export function LastSwing({ lesson, last }: { lesson: Schemas["LessonOut"]; last: Schemas["SwingBrief"] }) {
  const seen = useSwing(last.id).data;
  const swing = seen && ledBy(seen, lesson);
  const catalogue = useCatalogue().data;
  const { words } = useSettings();
  const read = swing ? oneValue(swing) : undefined;
  const metric = catalogue?.metrics.find((m) => m.id === read?.metric) as MetricWords | undefined;
  return (
    <Link to="/lessons/$lessonId/swings/$swingId" params={{ lessonId: lesson.id, swingId: last.id }} className="block min-h-14 text-right portrait:text-left">
      <span className="block text-[28px] leading-tight text-muted max-[700px]:text-xl">
        <span className="sr-only">{tr("Look at")} </span>
        {tr("Swing {number} · {what}", { number: last.number, what: KINDS[last.kind] })}
        {swing ? <span className="block">{swing.sources.join(", ")}</span> : null}
      </span>
      {read && metric ? (
        <>
          <span className="figure mt-2 block text-[96px] leading-none font-bold max-[700px]:text-[64px]">{amount(metric, read.value)}</span>
          <span className="block text-[40px] leading-tight max-[700px]:text-2xl">{told(metric, read, words)}</span>
        </>
      ) : null}
    </Link>
  );
}
