import type { Schemas } from "@/api/client";
import type { Group } from "@/lib/measures";
import { Button } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

const MOST = 6;
/** A few names, and how many more there are; Numbers has them all. */
const listed = (names: string[]) => names.slice(0, MOST).join(" · ") + (names.length > MOST ? tr(" · and {what} more", { what: names.length - MOST }) : "");

/** What the present sources cannot see, why, and what to add. */
export function Unseen({
  group,
  swing,
  metrics,
  onBack,
}: {
  group: Group;
  swing: Schemas["SwingOut"];
  metrics: readonly Schemas["MetricInfo"][];
  onBack: () => void;
}) {
  const why = new Map(swing.missing.flatMap((m) => m.metrics.map((id) => [id, m.reason] as const)));
  const missing = metrics.filter((m) => why.has(m.id) && m.family === group.id);
  const reasons = [...new Set(missing.map((m) => why.get(m.id)!))];
  return (
    <section className="min-h-0 flex-1 pt-2" aria-label={tr("{name}: not seen", { name: group.name })}>
      <h2 className="text-[40px] leading-tight max-[700px]:text-[28px] font-bold">{tr("These sensors cannot see this.")}</h2>
      <p className="mt-1 text-[26px] leading-snug max-[700px]:text-xl">{group.add}</p>
      <p className="mt-1 text-xl text-muted">{tr("No finding here rests on it; not seen is not the same as good.")}</p>
      <ul className="mt-3 text-lg [@container(height<430px)]:hidden">
        {reasons.slice(0, 2).map((reason) => (
          <li key={reason} className="border-b border-hairline py-1">
            {listed(missing.filter((m) => why.get(m.id) === reason).map((m) => m.label))}
            <span className="block text-base text-muted">{reason}</span>
          </li>
        ))}
      </ul>
      <Button className="mt-5" onClick={onBack}>
        {tr("Back to what is seen")}
      </Button>
    </section>
  );
}
