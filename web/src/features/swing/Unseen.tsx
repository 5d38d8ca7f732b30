import type { Schemas } from "@/api/client";
import { Button } from "@/shared/ui/controls";

/** What the present sensors cannot see, why, and what to add. */
export function Unseen({ group, swing, onBack }: { group: { name: string; families: string[] }; swing: Schemas["SwingOut"]; onBack: () => void }) {
  const missing = swing.missing.filter((m) => group.families.includes(m.family));
  const ground = group.name === "Ground";
  return (
    <main className="min-h-0 flex-1 overflow-y-auto px-7 py-8">
      <h2 className="text-[56px] leading-tight font-bold">These sensors cannot see this.</h2>
      <p className="mt-2 text-[28px]">{ground ? "A wrist pair knows nothing of the feet. Add a pressure mat." : "A wrist pair knows nothing of pelvis, spine or knees. Add body sensors for turn and bend, markers for positions."}</p>
      <p className="mt-1 text-xl text-muted">No finding here rests on {ground ? "the ground" : "the body"}; not seen is not the same as good.</p>
      <ul className="mt-6 columns-2 gap-10 text-xl">
        {missing.map((m) => <li key={m.metric} className="break-inside-avoid border-b border-hairline py-1.5">{m.label}<span className="block text-base text-muted">{m.reason}</span></li>)}
      </ul>
      <Button className="mt-6" onClick={onBack}>Back to the wrist</Button>
    </main>
  );
}
