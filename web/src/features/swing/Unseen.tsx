import type { Schemas } from "@/api/client";
import type { Group } from "@/lib/measures";
import { Button } from "@/shared/ui/controls";

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
  return (
    <section className="min-h-0 flex-1 overflow-y-auto pt-2" aria-label={`${group.name}: not seen`}>
      <h2 className="text-[44px] leading-tight font-bold">These sensors cannot see this.</h2>
      <p className="mt-1 text-[26px] leading-snug">{group.add}</p>
      <p className="mt-1 text-xl text-muted">No finding here rests on it; not seen is not the same as good.</p>
      <ul className="mt-4 columns-2 gap-8 text-lg">
        {missing.map((m) => (
          <li key={m.id} className="break-inside-avoid border-b border-hairline py-1">
            {m.label}
            <span className="block text-base text-muted">{why.get(m.id)}</span>
          </li>
        ))}
      </ul>
      <Button className="mt-5" onClick={onBack}>
        Back to what is seen
      </Button>
    </section>
  );
}
