import type { Schemas } from "@/api/client";
import { askedOf } from "@/lib/grip";
import { measureById } from "@/lib/measures";
import { change } from "@/lib/settings";
import { type Vocabulary } from "@/lib/words";
import { GripQuestion } from "@/shared/forms/GripQuestion";

import { Strip } from "./Strip";
import type { SwingData } from "./useSwingData";
import { tr, trn } from "@/lib/language";

/** The lesson's swings, in how many of them the first difference shows, and what is asked about a changed address:
 * on a phone that takes their place until it is answered. */
export function SwingStrip({
  found,
  mirror,
  words,
  follow,
  onChoose,
}: {
  found: SwingData;
  mirror: boolean;
  words: Vocabulary;
  follow: boolean;
  onChoose: (s: Schemas["SwingBrief"]) => void;
}) {
  const s = found.swing!;
  const view = found.traces!.columns[found.measure] ? measureById(found.measure) : undefined;
  const summary = found.lesson!.summaries.find((x) => x.club === s.club);
  const lead = summary?.findings.find((f) => f.finding === s.headline.finding) ?? summary?.findings[0];
  const counting = summary && summary.counting > 0;
  return (
    <>
      <div className={askedOf(found.lesson!.swings, s.number) ? "flex-none max-[700px]:hidden" : "flex-none"}>
        <Strip
          swings={found.swings}
          chosen={s.id}
          measure={view?.id ?? "lead_wrist_extension"}
          mirror={mirror}
          onChoose={onChoose}
          title={tr("{what}, this lesson", { what: view?.name ?? tr("Cup") })}
          count={
            lead
              ? trn("{shown} of {count} swing", "{shown} of {count} swings", lead.assessed, { shown: lead.shown })
              : counting
                ? trn("{count} swing", "{count} swings", summary.counting)
                : ""
          }
          countNote={lead ? (words === "plain" ? lead.plain_label : lead.label).toLowerCase() : counting ? tr("no finding") : tr("no swing counts yet")}
          follow={follow}
          onFollow={() => change({ follow: !follow })}
        />
      </div>
      <GripQuestion lesson={found.lesson!} upTo={s.number} className="flex-none border-b border-hairline px-7 py-2 max-[1180px]:px-4" />
    </>
  );
}
