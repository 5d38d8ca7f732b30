import type { Schemas } from "@/api/client";
import { useChangeSwing } from "@/api/hooks";
import { ballOfKey, columnOfSide, LEFT_RIGHT } from "@/lib/sides";
import { KINDS } from "@/lib/words";
import { Button, ErrorLine, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

/** Which swings count and where their balls flew: both decide what comes first. */
export function SwingsSheet({
  open,
  onClose,
  lesson,
  onOpen,
}: {
  open: boolean;
  onClose: () => void;
  lesson: Schemas["LessonOut"];
  onOpen: (id: string) => void;
}) {
  const change = useChangeSwing(lesson.id);
  const hand = lesson.player.handedness;
  const keyOf = (s: Schemas["SwingBrief"]) => (s.ball_start && s.ball_curve ? 1 + columnOfSide(s.ball_start, hand) + 3 * columnOfSide(s.ball_curve, hand) : 0);
  return (
    <Sheet open={open} onClose={onClose} title={tr("Swings and balls")} wide>
      <p className="text-lg text-muted">{tr("Normal and test swings count. Discard one from its own page, with a reason.")}</p>
      <ul>
        {lesson.swings.map((s) => {
          const counts = s.kind === "normal" || s.kind === "test";
          return (
            <li
              key={s.id}
              className={`grid grid-cols-[92px_286px_1fr_72px] items-center gap-3 max-[700px]:grid-cols-[1fr_72px] border-b border-hairline py-2 ${s.club === lesson.club ? "" : "text-muted"}`}
            >
              <button type="button" className="min-h-14 text-left text-xl font-bold underline" onClick={() => onOpen(s.id)}>
                {tr("Swing {number}", { number: s.number })}
              </button>
              <div className="flex flex-wrap gap-1">
                {s.kind === "discard" ? (
                  <span className="text-lg">{tr("discarded: {discard_reason}", { discard_reason: s.discard_reason })}</span>
                ) : (
                  (["normal", "warm_up", "drill"] as const).map((k) => (
                    <Button
                      key={k}
                      className="px-3!"
                      tone={s.kind === k ? "solid" : "line"}
                      aria-pressed={s.kind === k}
                      disabled={change.isPending}
                      onClick={() => change.mutate({ id: s.id, patch: { reason: "", kind: k } })}
                    >
                      {KINDS[k]}
                    </Button>
                  ))
                )}
              </div>
              <select
                aria-label={tr("Ball of swing {number}", { number: s.number })}
                className={inputLook}
                value={keyOf(s)}
                disabled={change.isPending}
                onChange={(e) => {
                  const key = Number(e.target.value);
                  const ball = key ? ballOfKey(key, hand) : { start: "" as const, curve: "" as const };
                  change.mutate({ id: s.id, patch: { reason: "", ball_start: ball.start, ball_curve: ball.curve } });
                }}
              >
                <option value={0}>{tr("ball not noted")}</option>
                {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((key) => (
                  <option key={key} value={key}>
                    {tr("starts {what}, {what2}", {
                      what: LEFT_RIGHT[(key - 1) % 3],
                      what2: key > 3 && key < 7 ? tr("straight") : tr("curves {left_right}", { left_right: LEFT_RIGHT[Math.floor((key - 1) / 3)] }),
                    })}
                  </option>
                ))}
              </select>
              <span className="text-base text-muted">
                {counts && !s.sensor_moved ? (s.club === lesson.club ? tr("counts") : tr("other club")) : tr("left out")}
              </span>
            </li>
          );
        })}
      </ul>
      <ErrorLine error={change.error} />
    </Sheet>
  );
}
