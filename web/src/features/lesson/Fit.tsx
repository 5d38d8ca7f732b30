import { useMutation } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { useCatalogue, useChangeLesson, useLesson, useRefresh } from "@/api/hooks";
import { settings } from "@/lib/settings";
import { sounds } from "@/lib/sound";
import { PainClash } from "@/shared/forms/PainClash";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { useLive, type LiveMessage } from "@/shared/ui/live";

import { PoseDrawing } from "./PoseDrawing";
import { number, tr } from "@/lib/language";

const POSES: Record<string, { name: string; how: string }> = {
  square_upright: { name: tr("Square"), how: tr("Stand straight, square to the target line, arms hanging.") },
  bow: { name: tr("Bow"), how: tr("Straight forward from the hips, and hold.") },
  lifted: { name: tr("Lifted"), how: tr("Elbow straight ahead, as high as the shoulder; forearm pointing up.") },
  flat: { name: tr("Flat"), how: tr("Forearm and hand level, palm down, wrist straight.") },
  raised: { name: tr("Raised"), how: tr("Same straight line, fingers well above the elbow.") },
  straight: { name: tr("Straight"), how: tr("Forearm resting, wrist straight.") },
  flexion: { name: tr("Bend"), how: tr("Slowly toward the palm and back, three times.") },
  deviation: { name: tr("Hinge"), how: tr("Slowly toward the thumb and back, three times.") },
};

const randomSeed = () => Math.floor(Math.random() * 100_000);

/** Fit the sensors, hold two poses: started by stillness, counted down by sound and number, no touch. */
export function Fit() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const refresh = useRefresh(lessonId);
  const changeLesson = useChangeLesson(lessonId);
  const navigate = useNavigate();
  const { message } = useLive();
  const [chosen, setScenario] = useState("over-extended");
  const [glove, setGlove] = useState<"on" | "off">("on");
  const [clip, setClip] = useState<"yes" | "no">("yes");
  const [pack, setPack] = useState<"yes" | "no">("no");
  const [mat, setMat] = useState<"yes" | "no">("no");
  const [upper, setUpper] = useState<"yes" | "no">("no");
  const [seen, setSeen] = useState<"yes" | "no">("no");
  const [waiting, setWaiting] = useState<string | null>(null);
  const putts = lesson.data?.club === "putter";
  const stories = catalogue.data?.scenarios.filter((s) => s.putts === putts) ?? [];
  const scenario = chosen === OWN || stories.some((s) => s.id === chosen) ? chosen : putts ? "putt-quiet" : "over-extended";

  const start = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/lessons/{lesson_id}/recordings", {
          params: { path: { lesson_id: lessonId } },
          body: {
            devices: scenario === OWN,
            scenario: scenario || "over-extended",
            seed: randomSeed(),
            glove: glove === "on",
            club_clip: clip === "yes",
            upper_arm: upper === "yes",
            body_pack: pack === "yes",
            mat: mat === "yes",
            putter_markers: seen === "yes",
          },
        }),
      ),
    onSuccess: async (found) => {
      setWaiting(found.recording_id);
      await refresh();
    },
  });

  const mine = waiting !== null && message.recording_id === waiting;
  const fitted = mine && (message.type === "setup" || message.type === "ready");
  useEffect(() => {
    if (fitted) void navigate({ to: "/lessons/$lessonId/setup", params: { lessonId } });
  }, [fitted, navigate, lessonId]);

  if (!lesson.data) return null;
  if (waiting && !fitted && !(mine && message.type === "refused"))
    return <Countdown message={mine ? message : { type: "idle" }} mirror={lesson.data.player.handedness === "left"} />;
  const recording = lesson.data.recordings.at(-1);
  const calibrated = recording?.calibration && !recording.calibration.refused;

  return (
    <main className="panes h-full grid-cols-[1fr_500px] max-[1100px]:grid-cols-[1fr_400px]">
      <section className="overflow-y-auto px-7 py-7">
        {recording?.calibration?.refused ? (
          <Refusal text={recording.calibration.refused} onRetry={() => start.mutate()} />
        ) : calibrated ? (
          <Quality recording={recording} />
        ) : (
          <Poses
            pack={!putts && pack === "yes"}
            upper={!putts && upper === "yes"}
            mat={!putts && mat === "yes"}
            mirror={lesson.data.player.handedness === "left"}
          />
        )}
        <div className="mt-6 flex flex-wrap gap-3">
          <Button tone={calibrated ? "line" : "solid"} onClick={() => start.mutate()} disabled={start.isPending}>
            {recording ? tr("Calibrate again") : tr("Start the poses")}
          </Button>
          {calibrated ? (
            <Link
              to="/lessons/$lessonId/setup"
              params={{ lessonId }}
              className="inline-flex min-h-14 items-center rounded-full border-2 border-ink bg-ink px-6 text-lg font-semibold text-paper"
            >
              {tr("Setup check")}
            </Link>
          ) : null}
        </div>
        <div className="mt-3">
          <ErrorLine error={start.error} />
        </div>
      </section>
      <aside className="space-y-4 overflow-y-auto border-l border-hairline px-7 py-6">
        <PainClash change={changeLesson} />
        {lesson.data.pain === "" ? (
          <div>
            <p className="text-xl font-bold">{tr("Any pain today?")}</p>
            <div className="mt-2 flex gap-3">
              <Button onClick={() => changeLesson.mutate({ pain: "no" })}>{tr("No pain")}</Button>
              <Button onClick={() => changeLesson.mutate({ pain: "yes" })}>{tr("Pain")}</Button>
            </div>
          </div>
        ) : null}
        <Field label={tr("Club")}>
          <select className={inputLook} value={lesson.data.club} onChange={(e) => changeLesson.mutate({ club: e.target.value })}>
            {catalogue.data?.clubs.map((c) => (
              <option key={c.id} value={c.id}>
                {c.label}
              </option>
            ))}
          </select>
        </Field>
        <div className="flex flex-wrap gap-x-6">
          <Choice
            label={tr("Glove")}
            value={glove}
            onChange={setGlove}
            options={[
              { id: "on", label: tr("Glove on") },
              { id: "off", label: tr("Glove off") },
            ]}
          />
          {putts ? null : (
            <>
              <Choice
                label={tr("Body pack")}
                value={pack}
                onChange={setPack}
                options={[
                  { id: "yes", label: tr("Body pack") },
                  { id: "no", label: tr("No body pack") },
                ]}
              />
              <Choice
                label={tr("Upper arm")}
                value={upper}
                onChange={setUpper}
                options={[
                  { id: "yes", label: tr("Upper arm") },
                  { id: "no", label: tr("No upper arm") },
                ]}
              />
            </>
          )}
          <Choice
            label={putts ? tr("Putter clip") : tr("Club clip")}
            value={clip}
            onChange={setClip}
            options={[
              { id: "yes", label: putts ? "Clip on the putter" : "Club clip" },
              { id: "no", label: tr("No clip") },
            ]}
          />
          {putts ? (
            <Choice
              label={tr("Putter markers")}
              value={seen}
              onChange={setSeen}
              options={[
                { id: "yes", label: tr("Putter markers") },
                { id: "no", label: tr("No markers") },
              ]}
            />
          ) : (
            <Choice
              label={tr("Pressure mat")}
              value={mat}
              onChange={setMat}
              options={[
                { id: "yes", label: tr("Mat") },
                { id: "no", label: tr("No mat") },
              ]}
            />
          )}
        </div>
        <Field
          label={putts ? tr("Stand-in device: its player putts like this") : tr("Stand-in device: its player swings like this")}
          note={scenario === OWN ? tr("Whatever sends into this bay now is used.") : stories.find((s) => s.id === scenario)?.about}
        >
          <select className={inputLook} value={scenario} onChange={(e) => setScenario(e.target.value)}>
            <option value={OWN}>{tr("none: the bay's own devices")}</option>
            {stories.map((s) => (
              <option key={s.id} value={s.id}>
                {s.label}
              </option>
            ))}
          </select>
        </Field>
        <p className="text-lg text-muted">
          {putts ? tr("Stop if it hurts.") : tr("Clear space, a net or screen rated for it, nobody in the arc. Stop if it hurts.")}
        </p>
      </aside>
    </main>
  );
}

/** In place of a story: nothing simulated is asked for. */
const OWN = "";
const NUMBERS = [tr("no"), tr("one"), tr("two"), tr("three"), tr("four"), tr("five")];

/** What to fit, and the poses that follow in their order. */
function Poses({ pack, upper, mat, mirror }: { pack: boolean; upper: boolean; mat: boolean; mirror: boolean }) {
  const poses = [...(pack ? ["square_upright", "bow"] : []), "flat", "raised", ...(upper ? ["lifted"] : [])];
  const parts = [tr("the wrist pair"), ...(upper ? [tr("the upper arm")] : []), ...(pack ? [tr("the body pack")] : [])];
  const fitted = parts.length < 3 ? parts.join(tr(" and ")) : tr("{what} and {at}", { what: parts.slice(0, -1).join(", "), at: parts.at(-1) });
  return (
    <>
      <h2 className="text-[44px] leading-tight font-bold">{tr("Fit {fitted}, then hold {what} poses.", { fitted, what: NUMBERS[poses.length] })}</h2>
      <p className="mt-3 text-2xl">
        {tr("One sensor on the lead forearm, one on the back of the lead hand{what}{what2}. The poses start by themselves when the {what3} is still.{what4}", {
          what: upper ? tr(", one on the outside of the upper arm") : "",
          what2: pack ? tr(", one on the pelvis, one between the shoulder blades. Stand square, bow, then the arm") : "",
          what3: pack ? tr("player") : tr("arm"),
          what4: mat ? tr(" Step onto the mat only when it runs: it takes its zero while it is empty.") : "",
        })}
      </p>
      <div className="mt-4 grid max-w-[720px] gap-6" style={{ gridTemplateColumns: `repeat(${poses.length}, minmax(0, 1fr))` }}>
        {poses.map((p) => (
          <PoseDrawing key={p} pose={p} mirror={mirror} />
        ))}
      </div>
    </>
  );
}

function Refusal({ text, onRetry }: { text: string; onRetry: () => void }) {
  return (
    <div role="alert">
      <h2 className="text-[44px] leading-tight font-bold">{tr("Not calibrated.")}</h2>
      <p className="mt-3 border-l-4 border-rust pl-4 text-[28px] leading-snug">{text}.</p>
      <p className="mt-4 text-xl text-muted">{tr("No value is taken from a refused calibration.")}</p>
      <Button tone="solid" className="mt-5" onClick={onRetry}>
        {tr("Hold both poses again")}
      </Button>
    </div>
  );
}

function Quality({ recording }: { recording: Schemas["RecordingOut"] }) {
  const c = recording.calibration!;
  return (
    <div>
      <p className="text-xl text-muted">
        {tr("Calibration {number}{what}{what2}", {
          number: recording.number,
          what: recording.glove ? tr(" · glove on") : "",
          what2: c.method === "functional" ? tr(" · by movement") : c.method === "markers" ? tr(" · markers") : c.method === "mat" ? tr(" · pressure mat") : "",
        })}
      </p>
      <h2 className="text-[44px] leading-tight font-bold">{c.sentence}</h2>
      {recording.warnings.map((w) => (
        <p key={w} role="alert" className="mt-4 border-l-4 border-rust pl-4 text-[28px] leading-snug">
          {w}
        </p>
      ))}
      <dl className="mt-5 grid max-w-[640px] grid-cols-[1fr_auto] gap-y-1 text-xl">
        {c.quality != null ? (
          <>
            <dt>{tr("Quality")}</dt>
            <dd className="tabular font-bold">{tr("{what} of 100", { what: Math.round(100 * c.quality) })}</dd>
          </>
        ) : null}
        {c.pose_angle_deg ? (
          <>
            <dt>{tr("Angle between the poses")}</dt>
            <dd className="tabular">{Math.round(c.pose_angle_deg)}°</dd>
          </>
        ) : null}
        {c.disagreement_deg != null ? (
          <>
            <dt>{tr("The two poses disagree by")}</dt>
            <dd className="tabular">{number(c.disagreement_deg, 1)}°</dd>
          </>
        ) : null}
        {c.value_sd_deg ? (
          <>
            <dt>{tr("What this leaves open in every angle")}</dt>
            <dd className="tabular">{tr("about ±{value_sd_deg}°", { value_sd_deg: number(c.value_sd_deg, 0) })}</dd>
          </>
        ) : null}
      </dl>
      {(c.notes ?? []).slice(c.quality != null ? 1 : 0).map((n) => (
        <p key={n} className="mt-3 max-w-[640px] text-lg text-muted">
          {n}
        </p>
      ))}
    </div>
  );
}

function Countdown({ message, mirror }: { message: LiveMessage; mirror: boolean }) {
  const pose = POSES[message.pose ?? "flat"] ?? POSES["flat"]!;
  const holding = message.type === "pose" && message.hold;
  const left = Math.ceil(message.left_s ?? 0);
  const spoken = useRef("");
  useEffect(() => {
    const key = `${message.pose}-${left}`;
    if (holding && spoken.current !== key && settings().sound) {
      spoken.current = key;
      sounds.count();
    }
  }, [holding, left, message.pose]);
  if (message.type === "settling" || message.type === "calibrated")
    return (
      <main className="grid h-full place-items-center text-center" aria-live="assertive">
        <div>
          <p className="text-[96px] font-bold">{tr("Good.")}</p>
          <p className="text-[44px]">{message.sentence ?? tr("Take your address and stand still.")}</p>
        </div>
      </main>
    );
  return (
    <main className="grid h-full grid-cols-[1fr_1fr] items-center px-10 portrait:grid-cols-1 portrait:content-evenly portrait:px-4" aria-live="assertive">
      <div>
        <p className="text-[88px] leading-none font-bold">{pose.name}</p>
        <p className="mt-5 text-[40px] leading-tight">{pose.how}</p>
        <p className="mt-5 text-[40px] text-muted">
          {message.type === "idle" ? tr("Waiting for the sensors …") : holding ? tr("Hold still") : tr("Move there")}
        </p>
      </div>
      <div className="text-center">
        {holding ? (
          <p className="figure text-[420px] leading-none font-bold">{Math.max(1, left)}</p>
        ) : (
          <PoseDrawing pose={message.pose ?? "flat"} mirror={mirror} />
        )}
      </div>
    </main>
  );
}
