import type { ReactNode } from "react";

import type { Schemas } from "@/api/client";
import { changeInWords, intervalInWords, moment, wayInWords, type MetricWords, type Vocabulary } from "@/lib/words";
import { ChangeInterval } from "@/shared/charts/ChangeInterval";

import { beyond } from "./laid";
import { tr } from "@/lib/language";

interface Props {
  data: Schemas["CompareOut"];
  metric: MetricWords | undefined;
  words: Vocabulary;
  stretches: readonly Schemas["CurveStretchOut"][] | null;
  waiting: boolean;
  children?: ReactNode;
}

/** What is to be said: is it real first, then later or earlier, harder or softer, more or less, smoother or rougher. */
export function Said({ data, metric, words, stretches, waiting, children }: Props) {
  const sentences = words === "plain" ? data.plain_sentences : data.sentences;
  const change = data.metrics.find((m) => m.metric === data.metric)?.values.find((v) => v.moment === data.moment)?.change;
  const where = stretches?.length ? stretches.map((s) => s.words).join(", ") : "";
  return (
    <div className="figure flex-none pt-2">
      {data.question ? (
        <div className="mb-1 flex flex-wrap items-center gap-x-6">
          <p className="text-[34px] leading-[1.1] font-bold max-[700px]:text-2xl">{data.question}</p>
          {change?.ci95 && metric ? (
            <ChangeInterval
              difference={change.difference}
              interval={change.ci95}
              relevant={change.smallest_relevant}
              label={tr("{changeInWords} at {moment}, {intervalInWords}", {
                changeInWords: changeInWords(metric, change.difference, words),
                moment: moment(data.moment),
                intervalInWords: intervalInWords(metric, change.ci95, words),
              })}
              less={wayInWords(metric, -1, words)}
              more={wayInWords(metric, 1, words)}
              className="flex-none max-[700px]:hidden"
            />
          ) : null}
        </div>
      ) : null}
      {sentences.length ? (
        <ul className={data.question ? "text-2xl leading-tight max-[700px]:text-lg" : "text-[32px] leading-[1.12] max-[700px]:text-xl"}>
          {sentences.map((s, k) => (
            <li key={s} className={k === 0 && !data.question ? "font-bold" : ""}>
              {s}
            </li>
          ))}
        </ul>
      ) : data.question || (data.laid && beyond(data.laid).length > 0) ? null : (
        <p className="text-[32px] leading-[1.12] font-bold max-[700px]:text-xl">{tr("No difference beyond what is uncertain.")}</p>
      )}
      {where ? <p className="text-lg leading-tight text-muted">{tr("Along the swing they differ {where}.", { where })}</p> : null}
      {children}
      {waiting ? (
        <p role="status" className="text-lg text-muted">
          {tr("Looking along the swing…")}
        </p>
      ) : null}
    </div>
  );
}
