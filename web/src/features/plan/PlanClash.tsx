import { priorityWords, type Choice } from "@/lib/plan";
import { Clash, type Edited } from "@/shared/ui/Clash";

import type { usePlan } from "./usePlan";
import { tr } from "@/lib/language";

interface Plan {
  priorities: Choice[];
}
const FIELDS: Edited<Plan>[] = [{ key: "priorities", label: tr("Priorities"), show: priorityWords }];

/** A colleague kept other priorities, or wrote a note, meanwhile: both are shown, and one is chosen. `proposed`: what *as proposed* means. */
export function PlanClash({ keep, drop, proposed }: Pick<ReturnType<typeof usePlan>, "keep" | "drop"> & { proposed: Choice[] }) {
  const mine = drop.error ? proposed : (keep.variables?.priorities ?? []);
  return (
    <Clash
      error={drop.error ?? keep.error}
      mine={{ priorities: mine }}
      fields={FIELDS}
      pending={keep.isPending || drop.isPending}
      onSave={({ priorities }, revision) => {
        const asProposed = drop.error !== null && priorities === mine;
        drop.reset();
        if (asProposed) drop.mutate(revision);
        else keep.mutate({ priorities, revision });
      }}
    />
  );
}
