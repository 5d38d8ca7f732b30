import { Link } from "@tanstack/react-router";
import { useState } from "react";

import type { Schemas } from "@/api/client";
import { label, moment, type MetricWords } from "@/lib/words";
import { useSettings } from "@/shared/ui/controls";

import { cellOf, findingOf, sortedSwings, type FoundSort } from "./rows";
import { tr } from "@/lib/language";

interface Props {
  data: Schemas["FoundOut"];
  catalogue: Schemas["Catalogue"];
}

/** One row a swing; a tap on a head sorts, a tap on a swing opens it. */
export function FoundTable({ data, catalogue }: Props) {
  const { words } = useSettings();
  const [sort, setSort] = useState<FoundSort>({ by: "day", down: true });
  const metric = (id: string) => catalogue.metrics.find((m) => m.id === id) as MetricWords | undefined;
  const head = (c: Schemas["FoundColumnOut"]) => {
    const m = metric(c.metric);
    return `${m ? label(m, words) : c.metric}${c.moment === "swing" ? "" : tr(" at {moment}", { moment: moment(c.moment) })}`;
  };
  const by = (key: string) => setSort((s) => ({ by: key, down: s.by === key ? !s.down : key === "day" }));
  /** A phone has room for the player with the day, the swing and one value. */
  const hidden = (key: string) => (key === "day" || Number(key) > 0 ? "max-[700px]:hidden" : "");
  const heads: [string, string][] = [
    ["player", tr("Player")],
    ["day", tr("Lesson")],
    ["swing", tr("Swing")],
    ...data.columns.map((c, k): [string, string] => [String(k), head(c)]),
  ];
  return (
    <table className="w-full border-collapse text-lg">
      <thead>
        <tr className="border-b-2 border-hairline text-left align-bottom">
          {heads.map(([key, name]) => (
            <th key={key} scope="col" aria-sort={sort.by === key ? (sort.down ? "descending" : "ascending") : "none"} className={`font-normal ${hidden(key)}`}>
              <button type="button" className="min-h-14 pr-3 text-left leading-tight text-muted" onClick={() => by(key)}>
                {name}
                {sort.by === key ? (sort.down ? " ↓" : " ↑") : ""}
              </button>
            </th>
          ))}
          <th scope="col" className="font-normal text-muted max-[900px]:hidden">
            {tr("Findings")}
          </th>
        </tr>
      </thead>
      <tbody className="tabular-nums">
        {sortedSwings(data, sort).map(({ lesson, swing }) => (
          <tr key={swing.id} className="border-b border-hairline">
            <td className="pr-3 leading-tight">
              {lesson.player}
              <span className="hidden text-base text-muted max-[700px]:block">{lesson.on}</span>
            </td>
            <td className="pr-3 whitespace-nowrap max-[700px]:hidden">{lesson.on}</td>
            <td>
              <Link
                to="/lessons/$lessonId/swings/$swingId"
                params={{ lessonId: lesson.lesson_id, swingId: swing.id }}
                className="grid min-h-14 min-w-14 place-items-center font-semibold underline decoration-dotted underline-offset-4"
                aria-label={tr("Swing {number} of {player}", { number: swing.number, player: lesson.player })}
              >
                {swing.number}
              </Link>
            </td>
            {data.columns.map((c, k) => (
              <td key={`${c.metric} ${c.moment}`} className={`pr-3 whitespace-nowrap ${hidden(String(k))}`}>
                {cellOf(metric(c.metric), swing.values[k], words)}
              </td>
            ))}
            <td className="text-muted max-[900px]:hidden">{swing.findings.map((f) => findingOf(data, f, words)).join(", ")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
