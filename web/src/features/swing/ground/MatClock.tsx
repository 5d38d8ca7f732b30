import type { Schemas } from "@/api/client";
import { Button } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { number, tr } from "@/lib/language";

const STEPS = [-0.05, -0.005, 0.005, 0.05];
const seconds = (s: number) => `${number(Math.abs(s), 3)} s ${s >= 0 ? tr("later") : tr("earlier")}`;

interface Props {
  open: boolean;
  onClose: () => void;
  ground: Schemas["GroundOut"];
  onShift: (shift: number | null) => void;
  busy: boolean;
}

/** How the mat's own clock was set, and by how much it may be off; it can be shifted by hand. */
export function MatClock({ open, onClose, ground, onShift, busy }: Props) {
  const shift = ground.offset?.shift_s ?? ground.recording_shift_s ?? 0;
  return (
    <Sheet open={open} onClose={onClose} title={tr("The mat's clock")}>
      <p className="text-2xl">
        {ground.offset
          ? tr("Set {seconds}, good to about {sd_s} ms.", { seconds: seconds(shift), sd_s: Math.round(1000 * ground.offset.sd_s) })
          : tr("The mat shares the clock of the other sensors.")}
      </p>
      <p className="mt-2 text-lg text-muted">
        {ground.recording_shift_s !== null
          ? tr("Shifted by you.")
          : ground.has_own_clock
            ? tr("Found by a heel tap, else by impact. Tap a heel once before the first swing for a better fit.")
            : tr("Shift it only when the push clearly does not fit the strike.")}
      </p>
      <div className="mt-5 flex flex-wrap gap-3">
        {STEPS.map((s) => (
          <Button key={s} disabled={busy} onClick={() => onShift(Math.round((shift + s) * 1000) / 1000)}>
            {tr("{what}{what2} ms", { what: s > 0 ? "+" : "−", what2: Math.abs(s * 1000) })}
          </Button>
        ))}
        {ground.recording_shift_s !== null ? (
          <Button tone="quiet" disabled={busy} onClick={() => onShift(null)}>
            {tr("Find it again")}
          </Button>
        ) : null}
      </div>
      <p className="mt-4 text-lg text-muted">{tr("All swings of this fit are read again; it can be undone.")}</p>
    </Sheet>
  );
}
