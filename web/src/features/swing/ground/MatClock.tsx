import type { Schemas } from "@/api/client";
import { Button } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

const STEPS = [-0.05, -0.005, 0.005, 0.05];
const seconds = (s: number) => `${Math.abs(s).toFixed(3)} s ${s >= 0 ? "later" : "earlier"}`;

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
    <Sheet open={open} onClose={onClose} title="The mat's clock">
      <p className="text-2xl">
        {ground.offset ? `Set ${seconds(shift)}, good to about ${Math.round(1000 * ground.offset.sd_s)} ms.` : "The mat shares the clock of the other sensors."}
      </p>
      <p className="mt-2 text-lg text-muted">
        {ground.recording_shift_s !== null
          ? "Shifted by you."
          : ground.has_own_clock
            ? "Found by a heel tap, else by impact. Tap a heel once before the first swing for a better fit."
            : "Shift it only when the push clearly does not fit the strike."}
      </p>
      <div className="mt-5 flex flex-wrap gap-3">
        {STEPS.map((s) => (
          <Button key={s} disabled={busy} onClick={() => onShift(Math.round((shift + s) * 1000) / 1000)}>
            {s > 0 ? "+" : "−"}
            {Math.abs(s * 1000)} ms
          </Button>
        ))}
        {ground.recording_shift_s !== null ? (
          <Button tone="quiet" disabled={busy} onClick={() => onShift(null)}>
            Find it again
          </Button>
        ) : null}
      </div>
      <p className="mt-4 text-lg text-muted">All swings of this fit are read again; it can be undone.</p>
    </Sheet>
  );
}
