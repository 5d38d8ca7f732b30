import { useState } from "react";

import type { Schemas } from "@/api/client";
import { footName, leftToRight } from "@/lib/mat";
import { Button } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

type Side = "lead" | "even" | "trail";
type Along = "toes" | "middle" | "heels";
const ALONG: Along[] = ["heels", "middle", "toes"];

interface AskProps {
  mirror: boolean;
  onGuess: (side: Side, foot: Along) => void;
  onSkip: () => void;
}

/** Feel before real: where the player felt the pressure at impact, in words, before it is shown. */
export function AskGuess({ mirror, onGuess, onSkip }: AskProps) {
  const [side, setSide] = useState<Side | null>(null);
  const [first, second] = leftToRight(mirror);
  const sides: { id: Side; name: string }[] = [
    { id: first!, name: footName(first!, mirror) },
    { id: "even", name: tr("even") },
    { id: second!, name: footName(second!, mirror) },
  ];
  return (
    <section aria-label={tr("Guess before looking")}>
      <h2 className="text-[40px] leading-[1.1] font-bold">{side === null ? tr("At impact: where was your weight?") : tr("And along the foot?")}</h2>
      <div className="mt-4 flex gap-3">
        {side === null
          ? sides.map((s) => (
              <Button key={s.id} className="flex-1 px-2 text-2xl" onClick={() => setSide(s.id)}>
                {s.name}
              </Button>
            ))
          : ALONG.map((a) => (
              <Button key={a} className="flex-1 px-2 text-2xl" onClick={() => onGuess(side, a)}>
                {a}
              </Button>
            ))}
      </div>
      <div className="mt-3 flex gap-3">
        {side !== null ? (
          <Button tone="quiet" onClick={() => setSide(null)}>
            {tr("Back")}
          </Button>
        ) : null}
        <Button tone="quiet" onClick={onSkip}>
          {tr("Show without a guess")}
        </Button>
      </div>
    </section>
  );
}

const said = (side: string, foot: string | null, mirror: boolean) =>
  `${side === "even" ? tr("even on both") : footName(side as "lead" | "trail", mirror)}${foot ? `, ${foot}` : ""}`;

/** Feel against real, side by side. */
export function FeelAndReal({ ground, mirror }: { ground: Schemas["GroundOut"]; mirror: boolean }) {
  const { guess, real } = ground;
  if (!guess || !real) return null;
  const same = guess.side === real.side && (!real.foot || guess.foot === real.foot);
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-4 text-[22px] leading-snug" aria-label={tr("Feel against real at impact")}>
      <dt className="text-muted">{tr("Felt")}</dt>
      <dd>{said(guess.side, guess.foot, mirror)}</dd>
      <dt className="text-muted">{tr("Was")}</dt>
      <dd className="font-bold">{same ? tr("just that") : said(real.side, real.foot, mirror)}</dd>
    </dl>
  );
}
