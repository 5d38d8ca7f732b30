import { useNavigate, useParams } from "@tanstack/react-router";

import { useCatalogue, useLesson } from "@/api/hooks";
import { clubLabel } from "@/lib/clubs";
import type { MetricWords } from "@/lib/words";
import { useFeed, useNow } from "@/shared/live/useFeed";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";

import { Choose } from "./Choose";
import { Running } from "./Running";
import { useTraining } from "./useTraining";
import { tr } from "@/lib/language";

/** Live feedback: choose a band, train it, test it. Nothing here asks for more than the plan does. */
export function Train() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/train" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const training = useTraining(lessonId);
  const feed = useFeed(`/lessons/${lessonId}/feed`);
  const now = useNow(feed);
  const navigate = useNavigate();
  const back = () => void navigate({ to: "/lessons/$lessonId/capture", params: { lessonId } });
  useKeys({ Escape: back });
  const trouble = lesson.error ?? catalogue.error ?? training.page.error;
  if (trouble)
    return (
      <div className="p-8">
        <ErrorLine error={trouble} />
      </div>
    );
  if (!lesson.data || !catalogue.data || !training.page.data) return <Loading what={tr("One moment")} />;
  const page = training.page.data;
  const metrics = catalogue.data.metrics as MetricWords[];
  const player = lesson.data.player;
  const clubs = catalogue.data.clubs;
  const clubOf = (id: string) => clubLabel(clubs, id);
  return (
    <main className="flex h-full flex-col">
      <header className="flex flex-none items-center gap-x-5 border-b border-hairline px-7 max-[700px]:px-4">
        <h1 className="py-3 text-[28px] leading-tight font-bold max-[700px]:text-xl">{player.name || tr("Walk-in")}</h1>
        <p className="min-w-0 flex-1 py-1 text-xl leading-tight text-muted max-[700px]:text-base">
          {saysState(now.connected, now.going, page.running ? `${clubOf(page.running.club)} · ${page.running.plain_words}` : "")}
        </p>
        <Button tone="quiet" onClick={back} hint="Esc">
          {tr("Capture")}
        </Button>
      </header>
      {lesson.data.pain === "yes" ? (
        <p role="alert" className="border-b border-hairline px-7 py-2 text-lg">
          <b>{tr("Pain: stop, and see a licensed health professional.")}</b>
        </p>
      ) : null}
      <div className="min-h-0 flex-1">
        {page.running ? (
          <Running
            lessonId={lessonId}
            feed={feed}
            now={now}
            running={page.running}
            metric={metrics.find((m) => m.id === page.running!.metric)!}
            training={training}
            mirror={player.handedness === "left"}
          />
        ) : (
          <Choose page={page} metrics={metrics} now={now} training={training} />
        )}
      </div>
    </main>
  );
}

function saysState(connected: boolean, going: boolean, words: string): string {
  if (!connected) return tr("Not connected; trying again.");
  if (!going) return tr("No sensors yet: fit and calibrate first.");
  return words;
}
