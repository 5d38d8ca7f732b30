import { lazy, Suspense } from "react";

import type { Now } from "@/lib/feed";
import { drawingFor } from "@/lib/measures";
import { bandNow, beyond, type BandAt } from "@/lib/watched";
import { amount, direction, inWords, label, spread, type MetricWords, type Vocabulary } from "@/lib/words";
import { MeasureGauge } from "@/shared/figure/BodyGauge";

import { Loading } from "@/shared/ui/controls";

import { LiveArc } from "./LiveArc";
import { tr } from "@/lib/language";

const LiveFigure = lazy(() => import("./LiveFigure"));

interface Props {
  now: Now;
  metric: MetricWords;
  words: Vocabulary;
  mirror: boolean;
  bands: readonly BandAt[];
  asks?: string;
  /** The whole figure in place of the arc. */
  figure?: boolean;
}

/** One measure as it happens: the arc, the hand or body that moves, the value, and what it settles at. */
export function LiveStage({ now, metric, words, mirror, bands, asks, figure }: Props) {
  const value = now.values[metric.id]?.[0] ?? null;
  const settled = now.settled[metric.id];
  const band = bandNow(bands, metric.id, now.along);
  const drawing = drawingFor(metric.id);
  const over = value === null ? 0 : beyond(value, band);
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,48fr)_minmax(0,52fr)] items-center gap-x-8 px-7 portrait:grid-cols-1 portrait:grid-rows-[minmax(0,50fr)_minmax(0,50fr)] max-[700px]:px-4">
      {figure && now.figure ? (
        <Suspense fallback={<Loading what={tr("Drawing the figure")} />}>
          <LiveFigure now={now.figure} mirror={mirror} />
        </Suspense>
      ) : (
        <LiveArc along={now.along} mirror={mirror} out={over !== 0}>
          {drawing ? (
            <MeasureGauge
              metric={metric.id}
              drawing={drawing}
              value={value}
              low={band?.low ?? null}
              high={band?.high ?? null}
              out={over !== 0}
              mirror={mirror}
            />
          ) : null}
        </LiveArc>
      )}
      <div className="min-w-0">
        <p className="text-[40px] leading-tight font-bold max-[1100px]:text-[32px] max-[700px]:text-2xl">{asks ?? label(metric, words)}</p>
        <p
          className="figure mt-3 text-[190px] leading-none font-bold whitespace-nowrap max-[1300px]:text-[160px] max-[1100px]:text-[120px] max-[700px]:text-[76px]"
          data-testid="value"
        >
          {value === null ? "–" : amount(metric, value)}
        </p>
        <p className="min-h-[1.2em] text-[44px] leading-tight max-[1100px]:text-[34px] max-[700px]:text-2xl">
          {value === null ? "" : direction(metric, value, words)}
        </p>
        <p
          className={`mt-2 min-h-[1.3em] text-[32px] leading-snug max-[1100px]:text-[26px] max-[700px]:text-xl ${over ? "border-l-[6px] border-rust pl-3" : "text-muted"}`}
        >
          {band === null
            ? ""
            : over === 0
              ? tr("within the band")
              : tr("{amount} {what} the band{way}", {
                  amount: amount(metric, over),
                  what: over > 0 ? tr("above") : tr("below"),
                  way: way(metric, over, words),
                })}
        </p>
        <p className="mt-3 text-2xl text-muted max-[700px]:text-lg" data-testid="settled">
          {settled
            ? tr("Settled at {inWords}, wandering by ± {spread}", { inWords: inWords(metric, settled[0], words), spread: spread(metric, settled[1]) })
            : tr("Stand still, and it settles.")}
        </p>
      </div>
    </div>
  );
}

function way(metric: MetricWords, over: number, words: Vocabulary): string {
  const told = direction(metric, over, words);
  return told ? tr(": more {told}", { told }) : "";
}
