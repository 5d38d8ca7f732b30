/** The first thing seen of a lesson is its first priority, the same one as in the plan, on every swing that shows it. */
import { chosenOf } from "./plan";
import { tr } from "@/lib/language";

interface Headline {
  text: string;
  plain_text: string;
  tends: string;
  player_text: string;
  finding: string | null;
  metric: string;
  moment: string;
}

interface Finding {
  finding: string;
  says: string;
  plain_says: string;
  player_says: string;
  tends: string;
  fits: readonly string[];
  metric: string;
  moment: string;
}

interface Swing {
  club: string;
  sensor_moved: boolean;
  headline: Headline;
  findings: readonly Finding[];
}

interface Lesson {
  planned: boolean;
  status: string;
  priorities: Parameters<typeof chosenOf>[1];
  summaries: readonly { club: string; proposals: Parameters<typeof chosenOf>[2] }[];
}

/** The finding that comes first in the plan, kept or proposed; empty where nothing measured does. */
export function firstOf(lesson: Lesson, club: string): string {
  const own = lesson.summaries.find((s) => s.club === club) ?? lesson.summaries[0];
  return chosenOf(lesson.planned || lesson.status === "closed", lesson.priorities, own?.proposals ?? [])[0]?.finding ?? "";
}

/** The swing with its headline about the plan's first priority, where the swing shows it; else as it is. */
export function ledBy<S extends Swing>(swing: S, lesson: Lesson): S {
  const first = firstOf(lesson, swing.club);
  const f = swing.findings.find((x) => x.finding === first);
  if (!f || swing.sensor_moved || swing.headline.finding === first) return swing;
  const fits = f.fits.length ? tr(" It fits with the ball flight: {fits}.", { fits: f.fits.join(", ") }) : "";
  const headline: Headline = {
    text: f.says,
    plain_text: f.plain_says,
    tends: f.tends + fits,
    player_text: f.player_says,
    finding: f.finding,
    metric: f.metric,
    moment: f.moment.split("..").at(-1)!,
  };
  return { ...swing, headline };
}
