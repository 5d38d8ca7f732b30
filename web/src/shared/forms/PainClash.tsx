import type { Schemas } from "@/api/client";
import type { useChangeLesson } from "@/api/hooks";
import { Clash, type Edited } from "@/shared/ui/Clash";

const SAID: Record<string, string> = { yes: "Pain", no: "No pain", "": "Not asked" };
const FIELDS: Edited<Schemas["LessonPatch"]>[] = [
  { key: "pain", label: "Pain today", show: (said) => SAID[String(said)] ?? String(said) },
  { key: "pain_note", label: "Where", joins: true },
];

/** What a colleague noted of pain meanwhile is not written over: both are shown, and one is chosen. */
export function PainClash({ change }: { change: ReturnType<typeof useChangeLesson> }) {
  return (
    <Clash
      error={change.error}
      mine={change.variables ?? {}}
      fields={FIELDS}
      pending={change.isPending}
      onSave={(chosen, revision) => change.mutate({ ...chosen, revision })}
    />
  );
}
