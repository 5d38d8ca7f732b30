import { Link, useParams } from "@tanstack/react-router";

import { useCatalogue, useLesson } from "@/api/hooks";
import { measureById, measureOf } from "@/lib/measures";
import { said } from "@/lib/values";
import { label, spread, type MetricWords } from "@/lib/words";
import { MeasureGauge } from "@/shared/figure/BodyGauge";
import { Soles } from "@/shared/ground/Soles";
import { useSettings } from "@/shared/ui/controls";
import { useLive } from "@/shared/ui/live";
import { tr } from "@/lib/language";

/** Before any swing: one question, one answer, one instruction. */
export function Setup() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/setup" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const { message } = useLive();
  const { words } = useSettings();
  if (!lesson.data) return null;
  const recording = lesson.data.recordings.at(-1);
  const setup = recording?.setup;
  const pill = "inline-flex min-h-14 items-center rounded-full border-2 border-ink px-6 text-lg font-semibold";
  if (!recording || !recording.calibration || recording.calibration.refused)
    return (
      <main className="px-7 py-10">
        <h2 className="text-[44px] font-bold">{tr("No calibration yet.")}</h2>
        <p className="mt-2 text-2xl">{tr("The setup check needs the two poses and a still address, no swing.")}</p>
        <Link to="/lessons/$lessonId" params={{ lessonId }} className={`${pill} mt-6 bg-ink text-paper`}>
          {tr("Fit and calibrate")}
        </Link>
      </main>
    );
  if (!setup)
    return (
      <main className="px-7 py-10">
        <h2 className="text-[56px] leading-tight font-bold">{tr("Take your address and stand still.")}</h2>
        <p className="mt-3 text-2xl text-muted">
          {message.type === "settling" || message.type === "calibrated"
            ? tr("Watching for stillness …")
            : recording.source === "bundle"
              ? tr("This capture came as a bundle: its setup shows in the first swing.")
              : tr("Nothing has come from the sensors yet. Calibrate again to start them.")}
        </p>
        <Link to="/lessons/$lessonId/capture" params={{ lessonId }} className={`${pill} mt-6`}>
          {tr("Go on to capture")}
        </Link>
      </main>
    );
  const chosen = setup.values.find((v) => v.metric === setup.metric) ?? setup.values[0]!;
  const metrics = catalogue.data?.metrics ?? [];
  const about = (id: string) => metrics.find((m) => m.id === id) as MetricWords | undefined;
  const metric = about(chosen.metric);
  const drawing =
    measureById(chosen.metric)?.drawing ?? (/heel_toe|lead_share/.test(chosen.metric) ? measureById(measureOf(chosen.metric))?.drawing : undefined);
  const foot = (side: "lead" | "trail") => {
    const v = setup.values.find((x) => x.metric === `${side}_heel_toe`);
    const share = setup.values.find((x) => x.metric === "lead_share")?.value;
    return {
      along: v?.value ?? null,
      low: v?.band?.low ?? null,
      high: v?.band?.high ?? null,
      out: Boolean(v && /low|high/.test(v.verdict)),
      share: share === undefined ? null : side === "lead" ? share : 100 - share,
    };
  };
  const wristOnly = !setup.values.some((v) => v.metric !== "lead_wrist_extension" && v.metric !== "lead_wrist_radial_deviation");
  return (
    <main className="panes h-full grid-cols-[1fr_460px] items-center gap-6 px-7 max-[1100px]:grid-cols-[1fr_380px] max-[1100px]:px-4">
      <div>
        <p className="text-2xl text-muted">{setup.question}</p>
        <p className="mt-2 text-[64px] leading-[1.08] font-bold">{words === "plain" ? setup.plain_answer : setup.answer}</p>
        <p className={`mt-6 text-[40px] leading-tight ${setup.good ? "" : "border-l-4 border-rust pl-4"}`}>{setup.instruction}</p>
        {recording.warnings.map((w) => (
          <p key={w} role="alert" className="mt-4 border-l-4 border-rust pl-4 text-2xl">
            {w}
          </p>
        ))}
        <div className="mt-8 flex gap-3">
          <Link to="/lessons/$lessonId/capture" params={{ lessonId }} className={`${pill} bg-ink text-paper`}>
            {tr("Capture swings")}
          </Link>
          <Link to="/lessons/$lessonId" params={{ lessonId }} className={pill}>
            {tr("Calibrate again")}
          </Link>
        </div>
        <p className="mt-6 text-lg text-muted">
          {metric ? `±${spread(metric, chosen.uncertainty)}` : ""}
          {chosen.band ? tr(" · band {said} ({range_id}, common practice)", { said: said(chosen.band, words), range_id: chosen.band.range_id }) : ""}.
          {wristOnly ? tr(" These sensors cannot see aim, posture or balance: add body sensors, markers or a mat.") : ""}
        </p>
      </div>
      <div>
        {drawing === "feet" ? (
          <Soles lead={foot("lead")} trail={foot("trail")} mirror={lesson.data.player.handedness === "left"} />
        ) : drawing ? (
          <svg
            viewBox="-190 -170 380 340"
            className="w-full"
            role="img"
            aria-label={metric ? tr("{label} at address", { label: label(metric, words) }) : tr("At address")}
          >
            <MeasureGauge
              metric={chosen.metric}
              drawing={drawing}
              value={chosen.value}
              low={chosen.band?.low ?? null}
              high={chosen.band?.high ?? null}
              out={!setup.good && chosen.verdict !== "not_judged"}
              mirror={lesson.data.player.handedness === "left"}
            />
          </svg>
        ) : null}
        {wristOnly ? null : (
          <ul className="mt-2 text-xl">
            {setup.values
              .filter((v) => v.metric !== chosen.metric && v.band)
              .slice(0, 6)
              .map((v) => (
                <li key={v.metric} className="flex justify-between gap-4 border-b border-hairline py-1">
                  <span className="text-muted">{about(v.metric) ? label(about(v.metric)!, words) : v.metric}</span>
                  <span>
                    {/low|high/.test(v.verdict) ? (
                      <span aria-label={tr("outside the band")} className="mr-1 text-rust">
                        ▲
                      </span>
                    ) : null}
                    {said(v, words)}
                  </span>
                </li>
              ))}
          </ul>
        )}
      </div>
    </main>
  );
}
