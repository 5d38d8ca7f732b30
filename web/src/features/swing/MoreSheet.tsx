import { useMe } from "@/api/hooks";
import { may } from "@/lib/rights";
import { change as changeSettings } from "@/lib/settings";
import { ballWords, type Hand } from "@/lib/sides";
import { ActionList, type Action } from "@/shared/ui/ActionList";
import { Sheet } from "@/shared/ui/Sheet";

import type { SheetName } from "./SwingSheets";
import type { SwingActions } from "./useSwingActions";
import type { SwingData } from "./useSwingData";
import { tr } from "@/lib/language";

interface Props {
  open: boolean;
  onClose: () => void;
  found: SwingData;
  act: SwingActions;
  hand: Hand;
  figure: boolean;
  peek: boolean;
  follow: boolean;
  over: string;
  onOver: (reference: string) => void;
  onFigure: () => void;
  video: boolean;
  onVideo: () => void;
  onPeek: () => void;
  onSheet: (sheet: SheetName) => void;
}

/** Everything that can be done with a swing, each with what it does and its key. */
export function MoreSheet({ open, onClose, found, act, hand, figure, peek, follow, over, onOver, onFigure, video, onVideo, onPeek, onSheet }: Props) {
  const me = useMe();
  const { lesson, swing: s } = found;
  const pinned = lesson!.pinned.includes(s!.id);
  const then = (work: () => unknown) => () => {
    onClose();
    work();
  };
  const actions: Action[] = [
    { name: tr("Numbers"), says: tr("every value with its band"), hint: "n", onClick: then(() => onSheet("numbers")) },
    {
      name: tr("Figure"),
      says: s!.figure ? tr("the whole body, from four sides") : tr("needs body sensors or markers"),
      hint: "x",
      pressed: figure,
      disabled: !s!.figure,
      onClick: then(onFigure),
    },
    { name: tr("Video"), says: tr("of a camera or a phone, beside the arc"), hint: "o", pressed: video, onClick: then(onVideo) },
    {
      name: tr("Before"),
      says: found.before ? tr("swing {number} laid under this one", { number: found.before.number }) : tr("no swing before this one"),
      hint: tr("Esc"),
      pressed: peek,
      disabled: !found.before,
      onClick: then(onPeek),
    },
    ...(may(me, "teach")
      ? [
          { name: tr("Compare"), says: tr("with the last lesson, another swing, a reference"), hint: "e", onClick: then(act.compare) },
          { name: tr("Table"), says: tr("all swings of this lesson, one row each"), hint: "l", onClick: then(act.table) },
        ]
      : []),
    { name: tr("Show"), says: tr("what the player may see, large"), hint: "v", onClick: then(act.show) },
    {
      name: tr("Ball"),
      says: s!.ball_start ? ballWords(s!.ball_start, s!.ball_curve, hand) : tr("flight and strike, not noted yet"),
      hint: "s",
      onClick: then(() => onSheet("ball")),
    },
    { name: tr("Mark"), says: tr("warm-up, drill, discard, tags, a best swing"), hint: "k", onClick: then(() => onSheet("kind")) },
    { name: tr("Club"), says: tr("another club for this swing"), hint: "c", onClick: then(() => onSheet("club")) },
    {
      name: pinned ? tr("Unpin") : tr("Pin"),
      says: pinned ? tr("no longer the swing to compare with") : tr("as the swing to compare with"),
      hint: "b",
      pressed: pinned,
      onClick: then(act.togglePin),
    },
    { name: tr("Undo"), says: lesson!.can_undo || tr("nothing to undo"), hint: "z", disabled: !lesson!.can_undo, onClick: then(() => act.undo()) },
    { name: tr("Redo"), says: tr("what was undone"), hint: "Z", onClick: then(() => act.redo()) },
    {
      name: tr("Follow"),
      says: follow ? tr("new swings come up by themselves") : tr("new swings wait in the strip"),
      hint: "f",
      pressed: follow,
      onClick: then(() => changeSettings({ follow: !follow })),
    },
  ];
  return (
    <Sheet open={open} onClose={onClose} title={tr("Swing {number}", { number: s!.number })}>
      <ActionList actions={actions} />
      <label className="mt-4 block text-lg">
        <span className="block text-muted">{tr("Lay over")}</span>
        <select
          aria-label={tr("Lay over")}
          className="min-h-14 w-full rounded-lg border-2 border-[var(--control)] bg-paper px-3 text-lg"
          value={over}
          onChange={(e) => onOver(e.target.value)}
        >
          <option value="">{tr("no reference")}</option>
          {found.references.map((r) => (
            <option key={r.id} value={r.id}>
              {r.name}
            </option>
          ))}
        </select>
      </label>
    </Sheet>
  );
}
