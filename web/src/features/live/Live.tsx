import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";

import { api, data } from "@/api/client";
import { useCatalogue, useLesson } from "@/api/hooks";
import { keys } from "@/api/keys";
import { MEASURES } from "@/lib/measures";
import { QUESTIONS } from "@/lib/watched";
import { label, type MetricWords } from "@/lib/words";
import { LiveStage } from "@/shared/live/LiveStage";
import { useFeed, useNow } from "@/shared/live/useFeed";
import { Button, Choice, ErrorLine, inputLook, Loading, useSettings } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { tr } from "@/lib/language";

type Looked = (typeof QUESTIONS)[number]["id"] | "any";

/** The player as he moves: one question at a time at the address, or any measure through the swing. */
export function Live() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/live" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const club = lesson.data?.club ?? "";
  const bands = useQuery({
    queryKey: keys.bands(lessonId, club),
    enabled: club !== "",
    queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/bands", { params: { path: { lesson_id: lessonId } }, signal })),
  });
  const feed = useFeed(`/lessons/${lessonId}/feed`);
  const now = useNow(feed);
  const { words } = useSettings();
  const navigate = useNavigate();
  const [looked, setLooked] = useState<Looked>("grip");
  const [picked, setPicked] = useState("");
  const [figure, setFigure] = useState(false);
  const order: Looked[] = [...QUESTIONS.map((q) => q.id), "any"];
  const go = (by: number) => setLooked(order[(order.indexOf(looked) + by + order.length) % order.length]!);
  const back = () => void navigate({ to: "/lessons/$lessonId/capture", params: { lessonId } });
  useKeys({ ArrowRight: () => go(1), PageDown: () => go(1), ArrowLeft: () => go(-1), PageUp: () => go(-1), x: () => setFigure((f) => !f), Escape: back });
  const trouble = lesson.error ?? catalogue.error ?? bands.error;
  if (trouble)
    return (
      <div className="p-8">
        <ErrorLine error={trouble} />
      </div>
    );
  if (!lesson.data || !catalogue.data) return <Loading what={tr("One moment")} />;
  const metrics = catalogue.data.metrics as MetricWords[];
  const question = QUESTIONS.find((q) => q.id === looked);
  const here = MEASURES.filter((m) => m.id in now.values);
  const shown = question ? question.measures.find((m) => m in now.values) : (here.find((m) => m.id === picked)?.id ?? here[0]?.id);
  const metric = metrics.find((m) => m.id === shown);
  return (
    <main className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        {metric ? (
          <LiveStage
            now={now}
            metric={metric}
            words={words}
            mirror={lesson.data.player.handedness === "left"}
            bands={bands.data ?? []}
            figure={figure}
            {...(question ? { asks: question.asks } : {})}
          />
        ) : (
          <Unseen
            now={{ going: now.going, any: here.length > 0, connected: now.connected }}
            asks={question?.asks ?? "Any measure"}
            balance={looked === "balance"}
          />
        )}
      </div>
      <div className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-t border-hairline px-7 py-2 max-[700px]:px-4">
        <Choice
          label={tr("What is looked at")}
          value={looked}
          onChange={setLooked}
          options={[...QUESTIONS.map((q) => ({ id: q.id as Looked, label: q.name })), { id: "any" as Looked, label: tr("Any") }]}
        />
        {looked === "any" && here.length ? (
          <select className={`${inputLook} w-auto max-w-[300px]`} aria-label={tr("Measure")} value={shown} onChange={(e) => setPicked(e.target.value)}>
            {here.map((m) => (
              <option key={m.id} value={m.id}>
                {label(
                  metrics.find((x) => x.id === m.id)!,
                  words,
                )}
              </option>
            ))}
          </select>
        ) : null}
        <span className="flex-1" />
        {now.figure ? (
          <Button aria-pressed={figure} onClick={() => setFigure((f) => !f)} aria-keyshortcuts="x">
            {figure ? tr("Arc") : tr("Figure")}
          </Button>
        ) : null}
        <Button onClick={() => void navigate({ to: "/lessons/$lessonId/train", params: { lessonId } })}>{tr("Train")}</Button>
        <Button onClick={back} hint="Esc">
          {tr("Capture")}
        </Button>
      </div>
    </main>
  );
}

function Unseen({ now, asks, balance }: { now: { going: boolean; any: boolean; connected: boolean }; asks: string; balance: boolean }) {
  const words = !now.connected
    ? tr("Not connected; trying again.")
    : !now.going
      ? tr("No sensors yet: fit and calibrate first.")
      : balance
        ? tr("Stand still with both feet on the mat. Without a mat this cannot be seen.")
        : now.any
          ? tr("These sensors cannot see this.")
          : tr("The sensors are there; values come with the calibration.");
  return (
    <div className="grid h-full content-center px-7 max-[700px]:px-4">
      <p className="text-[40px] leading-tight font-bold max-[700px]:text-2xl">{asks}</p>
      <p className="mt-4 text-[56px] leading-tight text-muted max-[1100px]:text-[44px] max-[700px]:text-[30px]">{words}</p>
    </div>
  );
}
