import { useParams } from "@tanstack/react-router";
import { useEffect, useMemo, useState } from "react";

import type { Schemas } from "@/api/client";
import { groupsWith, measureById, nextGroup, MEASURES, type Group } from "@/lib/measures";
import { useMe } from "@/api/hooks";
import { may } from "@/lib/rights";
import { useKeys } from "@/shared/ui/keys";
import { change as changeSettings } from "@/lib/settings";
import { ballOfKey } from "@/lib/sides";
import type { Vocabulary } from "@/lib/words";
import { ErrorLine, Loading, useSettings } from "@/shared/ui/controls";
import { useLive } from "@/shared/ui/live";

import { GroundStage } from "./ground/GroundStage";
import { MeasureChooser } from "./MeasureChooser";
import { SwingBar } from "./SwingBar";
import { SwingSheets, type SheetName } from "./SwingSheets";
import { SwingStage } from "./SwingStage";
import { SwingStrip } from "./SwingStrip";
import { swingKeys } from "./swingKeys";
import { Training } from "./Training";
import { useCheckpoint } from "./useCheckpoint";
import { useLooks } from "./useLooks";
import { useSwingActions } from "./useSwingActions";
import { useSwingData } from "./useSwingData";
import { useView } from "./useView";
import { useClips } from "@/shared/clip/useClips";
import { tr } from "@/lib/language";

/** One swing: arc, value, sentence, trace; the rest on demand. */
export function SwingPage() {
  const { lessonId, swingId } = useParams({ from: "/signed-in/lessons/$lessonId/swings/$swingId" });
  const { words, follow, bar } = useSettings();
  const { captured } = useLive();
  const teaches = may(useMe(), "teach");
  const [sheet, setSheet] = useState<SheetName>("");
  const [peek, setPeek] = useState(false);
  const view = useView(lessonId);
  const found = useSwingData(lessonId, swingId, view, peek);
  const clips = useClips(lessonId, swingId, view.video);
  const act = useSwingActions(lessonId, swingId, found);
  const at = useCheckpoint(found, view);
  const { swing: s, traces: t, group, measure } = found;
  const hand = found.lesson?.player.handedness ?? "right";

  const newest = found.swings.at(-1);
  useEffect(() => {
    if (follow && captured && captured !== swingId && newest?.id === captured) act.go(newest);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only a capture, or following it, may take the screen along
  }, [captured, follow, newest?.id]);

  const { charted, toGroup, groupSeen, toFigure, toVideo } = useLooks(found, view);
  const toggle = (name: SheetName) => (teaches || name !== "why") && setSheet((open) => (open === name ? "" : name));
  const opened = s?.events.find((e) => e.name === found.opened);
  useKeys(
    swingKeys({
      step: at.step,
      sample: at.sample,
      nudge: (way) => opened && act.move(opened.name, opened.time_s + way * at.dt),
      next: () => act.go(found.swings[found.index + 1]),
      previous: () => act.go(found.swings[found.index - 1]),
      peek: () => setPeek((p) => !p),
      sheet: toggle,
      figure: toFigure,
      video: toVideo,
      pin: act.togglePin,
      train: () => void (teaches && act.train()),
      show: act.show,
      compare: () => void (teaches && act.compare()),
      table: () => void (teaches && act.table()),
      ball: (key) => {
        const b = ballOfKey(key, hand);
        act.patch({ reason: "", ball_start: b.start, ball_curve: b.curve });
      },
      measure: () => {
        const ids = charted(group);
        view.setMeasure(ids[(ids.indexOf(measure) + 1) % Math.max(ids.length, 1)] ?? measure);
      },
      group: () => toGroup(nextGroup(group, groupsWith(s?.club ?? "", groupSeen))),
      follow: () => changeSettings({ follow: !follow }),
      undo: () => act.undo(),
      redo: () => act.redo(),
    }),
  );
  const verdicts = useMemo(() => verdictsOf(s, measure), [s, measure]);

  if (found.pending) return <Loading what={tr("Opening the swing")} />;
  if (found.error || !s || !t || !found.lesson || !found.catalogue) return <ErrorLine error={found.error} />;
  const seen = groupSeen(group) && (group.measures.length === 0 || (Boolean(t.columns[measure]) && measureById(measure) !== undefined));
  const mirror = hand === "left";
  const figure = view.figure && Boolean(s.figure) && group.id !== "ground";
  const chooser = (shown: Group) => (
    <MeasureChooser
      group={shown}
      groups={groupsWith(s.club, groupSeen)}
      measure={measure}
      seen={(m) => Boolean(t.columns[m.id])}
      groupSeen={groupSeen}
      onGroup={toGroup}
      onMeasure={view.setMeasure}
    />
  );

  return (
    <div className="flex h-full flex-col">
      <SwingStrip found={found} mirror={mirror} words={words} follow={follow} onChoose={act.go} />
      <Training
        lesson={found.lesson}
        onTest={(b) => act.block.mutate({ kind: "test", finding: b.finding, metric: b.metric, moment: b.moment, drill: b.drill })}
        onEnd={() => act.endBlock.mutate()}
        onPin={(ids) => act.pin.mutate(ids)}
      />
      {group.id === "ground" && seen && s.ground ? (
        <GroundStage
          swing={s}
          ground={s.ground}
          traces={t}
          checkpoints={found.checkpoints}
          cursor={at.cursor}
          ghost={found.ghost}
          mirror={mirror}
          words={words}
          selected={at.selected}
          verdicts={verdicts}
          bar={bar}
          chooser={chooser({ ...group, measures: [] })}
          measure={measure}
          onSelect={at.select}
          onMove={act.move}
          onGuess={(side, foot) => act.ground.mutate({ guess: { side, foot } as Schemas["GuessIn"] })}
          onSplit={(y) => act.ground.mutate({ split: { split_m: y } })}
          onShift={(to) => act.ground.mutate({ clock: { shift_s: to } })}
          busy={act.ground.isPending}
          error={act.ground.error ?? act.undoError}
        />
      ) : (
        <SwingStage
          found={found}
          act={act}
          at={at}
          mirror={mirror}
          words={words}
          peek={peek}
          flipped={bar === "left"}
          figure={figure}
          clips={view.video ? clips : null}
          seen={seen}
          chooser={chooser(group)}
          over={view.over}
          onBack={() => view.setMeasure(MEASURES.find((m) => t.columns[m.id])?.id ?? "")}
        />
      )}
      <SwingBar
        found={found}
        act={act}
        hand={hand}
        flipped={bar === "left"}
        figure={figure}
        peek={peek}
        follow={follow}
        over={view.over}
        onOver={view.setOver}
        more={sheet === "more"}
        trains={trainsOf(found, words)}
        onFigure={toFigure}
        video={view.video && group.id !== "ground"}
        onVideo={toVideo}
        onPeek={() => setPeek((p) => !p)}
        onSheet={setSheet}
      />
      <SwingSheets
        found={found}
        act={act}
        hand={hand}
        words={words}
        open={sheet}
        onClose={() => setSheet("")}
        onGo={(m, c) => {
          view.setMeasure(m);
          at.select(c);
        }}
      />
    </div>
  );
}

/** What *Train* would train: the finding the swing opens on. */
function trainsOf({ swing, catalogue }: ReturnType<typeof useSwingData>, words: Vocabulary): string {
  const finding = catalogue?.findings.find((f) => f.id === swing?.headline.finding);
  return finding ? (words === "plain" ? finding.plain_label : finding.label).toLowerCase() : "";
}

const verdictsOf = (s: Schemas["SwingOut"] | undefined, measure: string) =>
  Object.fromEntries((s?.judged ?? []).filter((m) => m.metric === measure).map((m) => [m.moment, m.verdict]));
