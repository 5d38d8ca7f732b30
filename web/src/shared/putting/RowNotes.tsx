import type { Given, Putt } from "@/api/putting";
import { distanceWords, type Unit } from "@/lib/putts";
import { Choice } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  putts: readonly Putt[];
  /** Distances to choose from, where it is not noted. */
  distances: readonly number[];
  unit: Unit;
  onNote: (noted: Given<"PuttRow">) => void;
}

const SLOPES = [
  { id: "flat", label: tr("Flat") },
  { id: "uphill", label: tr("Uphill") },
  { id: "downhill", label: tr("Downhill") },
] as const;
const BREAKS = [
  { id: "none", label: tr("Straight") },
  { id: "left_to_right", label: tr("Left to right") },
  { id: "right_to_left", label: tr("Right to left") },
] as const;

/** What is noted of a whole row at once: how far, slope, break. */
export function RowNotes({ putts, distances, unit, onNote }: Props) {
  const common = (of: (p: Putt) => string) => (putts.every((p) => of(p) === of(putts[0]!)) && putts[0] ? of(putts[0]) : "");
  return (
    <div className="space-y-1">
      {distances.length ? (
        <Choice
          label={tr("How far")}
          value=""
          onChange={(d) => onNote({ distance_m: Number(d) })}
          options={distances.map((d) => ({ id: String(d), label: distanceWords(d, unit) }))}
        />
      ) : null}
      <Choice
        label={tr("Slope")}
        value={common((p) => p.putt.slope)}
        onChange={(slope) => onNote({ slope: slope as "flat" })}
        options={[...SLOPES] as { id: string; label: string }[]}
      />
      <Choice
        label={tr("Break")}
        value={common((p) => p.putt.breaks)}
        onChange={(breaks) => onNote({ breaks: breaks as "none" })}
        options={[...BREAKS] as { id: string; label: string }[]}
      />
    </div>
  );
}
