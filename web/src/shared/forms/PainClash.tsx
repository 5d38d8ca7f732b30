import type { Schemas } from "@/api/client";
import type { useChangeLesson } from "@/api/hooks";
import { Clash, type Edited } from "@/shared/ui/Clash";
import { tr } from "@/lib/language";

const SAID: Record<string, string> = { yes: tr("Pain"), no: tr("No pain"), "": tr("Not asked") };
const FIELDS: Edited<Schemas["LessonPatch"]>[] = [
  { key: "pain", label: tr("Pain today"), show: (said) => SAID[String(said)] ?? String(said) },
  { key: "pain_note", label: tr("Where"), joins: true },
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
