import { Link, useParams } from "@tanstack/react-router";

import { useLesson } from "@/api/hooks";
import { Gauge } from "@/shared/figure/Gauge";
import { useSettings } from "@/shared/ui/controls";
import { useLive } from "@/shared/ui/live";

/** Before any swing: one question, one answer, one instruction. */
export function Setup() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/setup" });
  const lesson = useLesson(lessonId);
  const { message } = useLive();
  const { words } = useSettings();
  if (!lesson.data) return null;
  const take = lesson.data.takes.at(-1);
  const setup = take?.setup;
  const pill = "inline-flex min-h-14 items-center rounded-full border-2 border-ink px-6 text-lg font-semibold";
  if (!take || !take.calibration || take.calibration.refused)
    return (
      <main className="px-7 py-10">
        <h2 className="text-[44px] font-bold">No calibration yet.</h2>
        <p className="mt-2 text-2xl">The setup check needs the two poses and a still address, no swing.</p>
        <Link to="/lessons/$lessonId" params={{ lessonId }} className={`${pill} mt-6 bg-ink text-paper`}>Fit and calibrate</Link>
      </main>
    );
  if (!setup)
    return (
      <main className="px-7 py-10">
        <h2 className="text-[56px] leading-tight font-bold">Take your address and stand still.</h2>
        <p className="mt-3 text-2xl text-muted">{message.type === "settling" || message.type === "calibrated" ? "Watching for stillness …" : take.source === "bundle" ? "This capture came as a bundle: its setup shows in the first swing." : "Nothing has come from the sensors yet. Calibrate again to start them."}</p>
        <Link to="/lessons/$lessonId/capture" params={{ lessonId }} className={`${pill} mt-6`}>Go on to capture</Link>
      </main>
    );
  const extension = setup.values.find((v) => v.metric === "lead_wrist_extension")!;
  return (
    <main className="grid h-full grid-cols-[1fr_460px] items-center gap-6 px-7">
      <div>
        <p className="text-2xl text-muted">{setup.question}</p>
        <p className="mt-2 text-[64px] leading-[1.08] font-bold">{words === "plain" ? setup.plain_answer : setup.answer}</p>
        <p className={`mt-6 text-[40px] leading-tight ${setup.good ? "" : "border-l-4 border-rust pl-4"}`}>{setup.instruction}</p>
        {take.warnings.map((w) => <p key={w} role="alert" className="mt-4 border-l-4 border-rust pl-4 text-2xl">{w}</p>)}
        <div className="mt-8 flex gap-3">
          <Link to="/lessons/$lessonId/capture" params={{ lessonId }} className={`${pill} bg-ink text-paper`}>Capture swings</Link>
          <Link to="/lessons/$lessonId" params={{ lessonId }} className={pill}>Calibrate again</Link>
        </div>
        <p className="mt-6 text-lg text-muted">
          ±{extension.uncertainty.toFixed(0)}°{extension.range_id ? ` · band ${extension.low?.toFixed(0)}° to ${extension.high?.toFixed(0)}° (${extension.range_id}, common practice)` : ""}. These sensors cannot see aim, posture or balance: add body sensors, markers or a mat.
        </p>
      </div>
      <svg viewBox="-170 -150 340 300" className="w-full" role="img" aria-label="The wrist at address">
        <Gauge metric="lead_wrist_extension" value={extension.value} low={extension.low} high={extension.high} out={!setup.good && extension.verdict !== "not_judged"} mirror={lesson.data.player.handedness === "left"} />
      </svg>
    </main>
  );
}
