import { useKeys } from "@/shared/ui/keys";
import { useNavigate, useParams } from "@tanstack/react-router";

import { useCatalogue, useLesson, useSwing, useTraces } from "@/api/hooks";
import { arcMap, arcPath, laneRadius, point } from "@/lib/arc";
import { groupOf, measureById, measureOf } from "@/lib/measures";
import { ledBy } from "@/lib/lead";
import { withBands } from "@/lib/bands";
import { outOfBand } from "@/lib/traces";
import type { MetricWords } from "@/lib/words";
import { SHOWN, sentenceSize, shownOf } from "./look";
import { ShowGround } from "./ShowGround";
import { MeasureGauge } from "@/shared/figure/BodyGauge";
import { ErrorLine, Loading } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

/** Which measure the instructor was looking at. */
function lookedAt(lessonId: string): string {
  try {
    return (JSON.parse(sessionStorage.getItem(`view-${lessonId}`) ?? "{}") as { measure?: string }).measure ?? "";
  } catch {
    return "";
  }
}

/** What the player may see: one picture, one sentence. */
export function Show() {
  const { lessonId, swingId } = useParams({ from: "/signed-in/lessons/$lessonId/show/$swingId" });
  const lesson = useLesson(lessonId);
  const swing = useSwing(swingId);
  const traces = useTraces(swing.data);
  const catalogue = useCatalogue();
  const navigate = useNavigate();
  const back = () => void navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId } });
  useKeys({ v: back, Escape: back, Enter: back });
  if (lesson.isPending || swing.isPending || traces.isPending || catalogue.isPending) return <Loading what={tr("One moment")} />;
  const trouble = lesson.error ?? swing.error ?? traces.error ?? catalogue.error;
  if (trouble)
    return (
      <div className="p-8">
        <ErrorLine error={trouble} />
      </div>
    );
  const s = ledBy(swing.data!, lesson.data!);
  const t = withBands(traces.data!, s.bands);
  const onTheGround = [lookedAt(lessonId), s.headline.finding ? measureOf(s.headline.metric) : ""].some((m) => m !== "" && groupOf(m).id === "ground");
  if (s.ground && onTheGround) return <ShowGround swing={s} ground={s.ground} traces={t} mirror={lesson.data!.player.handedness === "left"} onBack={back} />;
  const seen = shownOf(s, t, catalogue.data!.metrics as MetricWords[]);
  const { id } = seen;
  const checkpoints = s.events.map((e) => ({ name: e.name, time: e.time_s }));
  const map = arcMap(checkpoints, t.time[0]!, t.time[t.n - 1]!);
  const mirror = lesson.data!.player.handedness === "left";
  const centre: [number, number] = [260, 256];
  const radii: [number, number] = [236, 208];
  return (
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-noninteractive-element-interactions -- the whole screen is the thumb target; v, Enter and Escape do the same
    <main className={SHOWN} onClick={back}>
      <svg viewBox="0 0 520 520" className="h-full max-h-full w-full min-h-0" role="img" aria-label={tr("Your swing")}>
        <path d={arcPath(map, map.start, map.impact, centre, radii, mirror)} fill="none" stroke="var(--ink)" strokeWidth={5} strokeLinecap="round" />
        {outOfBand(t, id).map(([a, b]) => {
          const path = arcPath(map, Math.max(a, map.start), Math.min(b, map.impact), centre, radii, mirror);
          return (
            <g key={a} fill="none" strokeLinecap="round">
              <path d={path} stroke="var(--rust)" strokeWidth={14} />
              <path d={path} stroke="var(--paper)" strokeWidth={5} />
            </g>
          );
        })}
        {seen.place === null ? null : (
          <Bead at={point(...centre, laneRadius(map, seen.place, radii, map.place(seen.place).lane), map.place(seen.place).angle, mirror)} out={seen.out} />
        )}
        <g transform="translate(266,262) scale(1.12)">
          <MeasureGauge
            metric={id}
            drawing={measureById(id)?.drawing ?? "cup"}
            value={seen.value}
            low={seen.low}
            high={seen.high}
            out={seen.out}
            mirror={mirror}
          />
        </g>
      </svg>
      <div>
        {seen.told ? (
          <>
            <p className="figure text-[190px] leading-none font-bold portrait:text-[150px] max-[700px]:text-[88px]">{seen.told.amount}</p>
            <p className="text-[72px] leading-[1.05] portrait:text-[56px] max-[700px]:text-[32px]">{seen.told.way}</p>
            <p className="text-[40px] text-muted max-[700px]:text-[24px]">{seen.told.of}</p>
          </>
        ) : null}
        <p className={`mt-5 leading-[1.08] font-bold ${sentenceSize(s.headline.player_text)}`}>{s.headline.player_text}</p>
      </div>
    </main>
  );
}

/** Where on the arc the number is told. */
function Bead({ at: [x, y], out }: { at: [number, number]; out: boolean }) {
  return (
    <>
      <circle cx={x} cy={y} r={17} fill="var(--paper)" stroke="var(--ink)" strokeWidth={6} />
      {out ? <path d={`M${x},${y - 9} l8.5,15 h-17 z`} fill="var(--rust)" /> : null}
    </>
  );
}
