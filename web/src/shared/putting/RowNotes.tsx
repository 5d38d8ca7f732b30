import type { Given, Putt } from "@/api/putting";
import { distanceWords, type Unit } from "@/lib/putts";
import { Choice } from "@/shared/ui/controls";

interface Props {
  putts: readonly Putt[];
  /** Distances to choose from, where it is not noted. */
  distances: readonly number[];
  unit: Unit;
  onNote: (noted: Given<"PuttRow">) => void;
}

const SLOPES = [
  { id: "flat", label: "Flat" },
  { id: "uphill", label: "Uphill" },
  { id: "downhill", label: "Downhill" },
] as const;
const BREAKS = [
  { id: "none", label: "Straight" },
  { id: "left_to_right", label: "Left to right" },
  { id: "right_to_left", label: "Right to left" },
] as const;

/** What is noted of a whole row at once: how far, slope, break. */
export function RowNotes({ putts, distances, unit, onNote }: Props) {
  const common = (of: (p: Putt) => string) => (putts.every((p) => of(p) === of(putts[0]!)) && putts[0] ? of(putts[0]) : "");
  return (
    <div className="space-y-1">
      {distances.length ? (
        <Choice
          label="How far"
          value=""
          onChange={(d) => onNote({ distance_m: Number(d) })}
          options={distances.map((d) => ({ id: String(d), label: distanceWords(d, unit) }))}
        />
      ) : null}
      <Choice
        label="Slope"
        value={common((p) => p.putt.slope)}
        onChange={(slope) => onNote({ slope: slope as "flat" })}
        options={[...SLOPES] as { id: string; label: string }[]}
      />
      <Choice
        label="Break"
        value={common((p) => p.putt.breaks)}
        onChange={(breaks) => onNote({ breaks: breaks as "none" })}
        options={[...BREAKS] as { id: string; label: string }[]}
      />
    </div>
  );
}
