import type { Schemas } from "@/api/client";
import { measureOf } from "@/lib/measures";
import { restOf, toldOf, type Told } from "@/lib/rest";
import { valueAt, type Traces } from "@/lib/traces";
import { shownValue } from "@/lib/values";
import { moment, type MetricWords } from "@/lib/words";
import { tr } from "@/lib/language";

/** Picture and words side by side, or one over the other where the screen stands upright; nothing scrolls. */
export const SHOWN =
  "grid h-full cursor-pointer grid-cols-[minmax(0,44fr)_minmax(0,56fr)] grid-rows-[minmax(0,1fr)] items-center gap-x-10 px-10 portrait:grid-cols-[minmax(0,1fr)] portrait:grid-rows-[minmax(0,46fr)_minmax(0,54fr)] max-[700px]:px-4";

/** Letters as large as the sentence allows. */
export const sentenceSize = (text: string) =>
  text.length > 96
    ? "text-[48px] max-[1100px]:text-[40px] max-[700px]:text-[26px]"
    : text.length > 64
      ? "text-[60px] max-[1100px]:text-[48px] max-[700px]:text-[30px]"
      : "text-[72px] max-[1100px]:text-[60px] max-[700px]:text-[34px]";

interface Seen {
  /** The measure that is drawn. */
  id: string;
  /** Where in the swing it is told, s. */
  place: number | null;
  value: number | null;
  low: number | null;
  high: number | null;
  out: boolean;
  /** The number with its meaning; null where nothing was measured. */
  told: Told | null;
}

const at = (name: string) => tr("at {what}", { what: name === "top" ? tr("the top") : moment(name) });
const WRIST = "lead_wrist_extension";

/** One picture and one number of what the sentence speaks of. */
export function shownOf(s: Schemas["SwingOut"], t: Traces, metrics: readonly MetricWords[]): Seen {
  const words = (id: string) => metrics.find((m) => m.id === id)!;
  const rest = restOf(s, t);
  const wanted = measureOf(s.headline.metric);
  const id = rest?.column ?? (t.columns[wanted] ? wanted : WRIST);
  const known = s.events.find((e) => e.name === (rest?.checkpoint ?? s.headline.moment)) ?? s.events.find((e) => e.name === "top");
  const place = known?.name ?? "top";
  if (rest) {
    const { metric, moment: key, value } = rest.said ?? { metric: rest.column, moment: place, value: rest.to.value };
    const told = toldOf(words(metric), { moment: key, value }, "plain");
    const of = key.includes("..") ? `${told.of}, ${at(place)}` : told.way ? at(place) : `${told.of} ${at(place)}`;
    return { id, place: rest.to.time, value: rest.to.value, low: rest.low, high: rest.high, out: rest.out, told: { ...told, of } };
  }
  const drawn = shownValue(s, id, place);
  const own = s.headline.finding && id !== s.headline.metric ? shownValue(s, s.headline.metric, s.headline.moment) : undefined;
  const told = own
    ? toldOf(words(s.headline.metric), { moment: s.headline.moment, value: own.value }, "plain")
    : drawn
      ? { ...toldOf(words(id), { moment: place, value: drawn.value }, "plain"), of: at(place) }
      : null;
  const judged = drawn?.judged;
  return {
    id,
    place: known?.time_s ?? null,
    value: drawn?.value ?? (known ? valueAt(t, id, known.time_s) : null),
    low: judged?.band?.low ?? null,
    high: judged?.band?.high ?? null,
    out: Boolean(judged && /low|high/.test(judged.verdict)),
    told,
  };
}
