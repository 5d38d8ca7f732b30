import { Link } from "@tanstack/react-router";
import { dayWords } from "@/lib/dates";

import type { Schemas } from "@/api/client";
import { clubLabel } from "@/lib/clubs";
import { inWords, label, moment, type MetricWords } from "@/lib/words";
import { useSettings } from "@/shared/ui/controls";

import { findingOf } from "./rows";
import { tr } from "@/lib/language";

interface Props {
  data: Schemas["FoundOut"];
  catalogue: Schemas["Catalogue"];
}

const day = (on: string) => dayWords(on, "dated");

/** What was found, lesson by lesson: whose, what the measures say, and the swings to tap. */
export function ByLesson({ data, catalogue }: Props) {
  const { words } = useSettings();
  const metric = (id: string) => catalogue.metrics.find((m) => m.id === id) as MetricWords | undefined;
  const club = (id: string) => clubLabel(catalogue.clubs, id);
  const told = (x: Schemas["FoundLessonOut"]) =>
    data.columns.flatMap((c, k) => {
      const [m, v] = [metric(c.metric), x.medians[k]];
      return m && v != null
        ? [`${label(m, words).toLowerCase()} ${c.moment === "swing" ? "" : tr("at {moment} ", { moment: moment(c.moment) })}${inWords(m, v, words)}`]
        : [];
    });
  const most = (x: Schemas["FoundLessonOut"]) => {
    const all = x.swings.flatMap((s) => s.findings);
    return [...new Set(all)]
      .map((f): [string, number] => [f, all.filter((g) => g === f).length])
      .sort((a, b) => b[1] - a[1])
      .slice(0, 3)
      .map(([f, n]) => `${findingOf(data, f, words)} (${n})`);
  };
  return (
    <ul>
      {data.lessons.map((x) => (
        <li
          key={x.lesson_id}
          className="grid grid-cols-[minmax(0,260px)_minmax(220px,1fr)_minmax(0,640px)] items-center gap-x-6 border-b border-hairline py-1.5 max-[900px]:grid-cols-1"
        >
          <Link to="/players/$playerId" params={{ playerId: x.player_id }} className="grid min-h-14 content-center">
            <b className="text-xl leading-tight">{x.player}</b>
            <span className="text-lg leading-tight text-muted">
              {day(x.on)}, {[...new Set(x.swings.map((s) => club(s.club)))].join(", ")}
            </span>
          </Link>
          <p className="text-lg leading-tight">
            {told(x).join(" · ")}
            {told(x).length && most(x).length ? <br /> : null}
            <span className="text-muted">{most(x).join(" · ")}</span>
          </p>
          <p className="flex flex-wrap justify-end gap-x-1 max-[900px]:justify-start" aria-label={tr("Swings of {player}", { player: x.player })}>
            {x.swings.map((s) => (
              <Link
                key={s.id}
                to="/lessons/$lessonId/swings/$swingId"
                params={{ lessonId: x.lesson_id, swingId: s.id }}
                className="grid min-h-14 min-w-14 place-items-center text-xl font-semibold underline decoration-dotted underline-offset-4"
                aria-label={tr("Swing {number}", { number: s.number })}
              >
                {s.number}
              </Link>
            ))}
          </p>
        </li>
      ))}
    </ul>
  );
}
