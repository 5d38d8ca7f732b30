import { tr } from "@/lib/language";
import { MannerFields } from "@/shared/forms/MannerFields";
import { ErrorLine } from "@/shared/ui/controls";

import { useAcademy, useSetManner } from "./api";

/** In which language, units and clock the academy's screens speak, and what goes home where a player has chosen nothing. */
export function HowItSpeaks() {
  const academy = useAcademy();
  const set = useSetManner();
  if (!academy.data) return null;
  const { language, lengths, distances, clock, revision } = academy.data;
  const now = { language, lengths, distances, clock };
  return (
    <div>
      <h2 className="text-2xl font-bold">{tr("How the screens speak")}</h2>
      <p className="text-base text-muted">{tr("What goes home speaks so too, where a player has chosen nothing. The page is loaded anew.")}</p>
      <MannerFields value={now} onChange={(part) => set.mutate({ manner: { ...now, ...part }, revision })} />
      <ErrorLine error={set.error} />
    </div>
  );
}
