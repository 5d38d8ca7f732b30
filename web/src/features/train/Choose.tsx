import { useState } from "react";

import { label, type MetricWords } from "@/lib/words";
import type { Now } from "@/lib/feed";
import { PHASES } from "@/shared/live/TrainerStage";
import { Button, ErrorLine, Field, inputLook, useSettings } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import type { Offer, Page, useTraining } from "./useTraining";
import { tr } from "@/lib/language";

interface Props {
  page: Page;
  metrics: MetricWords[];
  now: Now;
  training: ReturnType<typeof useTraining>;
}

/** What can be trained: the priorities' drills first, then what was found, then anything by hand. */
export function Choose({ page, metrics, now, training }: Props) {
  const { words } = useSettings();
  const [byHand, setByHand] = useState(false);
  const seen = Object.keys(now.values);
  const begin = (o: Offer) => {
    const { metric, low, high, phase, relative, above_address, finding, drill } = o;
    training.start.mutate({
      kind: "drill",
      metric,
      low,
      high,
      phase,
      relative,
      above_address,
      finding,
      drill,
      told_from: o.label,
      fades: true,
      locked: false,
      practice: o.practice !== "",
    });
  };
  return (
    <div className="h-full overflow-y-auto px-7 py-5 max-[700px]:px-4" tabIndex={0} role="region" aria-label={tr("What to train")}>
      <h2 className="text-[40px] leading-tight font-bold max-[700px]:text-[28px]">
        {page.offers.length ? tr("What is trained?") : tr("Nothing was found to train.")}
      </h2>
      {page.retention ? (
        <p className="mt-3 border-l-4 border-[var(--ink)] pl-4 text-2xl leading-snug" data-testid="retention">
          {words === "plain" ? page.retention.plain_line : page.retention.line}
        </p>
      ) : null}
      {page.offers.length ? null : <p className="mt-2 max-w-[52ch] text-xl">{tr("Measure a few swings, or choose a band by hand.")}</p>}
      <ul className="mt-4">
        {page.offers.map((o) => (
          <li key={`${o.source}-${o.finding}-${o.drill}`} className="flex min-h-16 flex-wrap items-center gap-x-6 gap-y-1 border-t border-hairline py-2">
            <p className="min-w-[280px] flex-1 text-2xl leading-snug">
              <b>{o.label}</b>
              <span className="block text-xl text-muted">{words === "plain" ? o.plain_words : o.words}</span>
              {o.practice ? <span className="block text-xl">{o.practice}</span> : null}
              {seen.length && !seen.includes(o.metric) ? (
                <span className="block border-l-4 border-rust pl-2 text-lg">{tr("The sensors that are worn do not show this as it happens.")}</span>
              ) : null}
            </p>
            <Button tone="solid" onClick={() => begin(o)} disabled={training.start.isPending}>
              {tr("Train")}
            </Button>
          </li>
        ))}
      </ul>
      <div className="mt-4 border-t border-hairline pt-4">
        <Button onClick={() => setByHand(true)}>{tr("A band by hand")}</Button>
      </div>
      <ErrorLine error={training.start.error} />
      {page.done.length ? (
        <section aria-label={tr("Trained in this lesson")} className="mt-6">
          <h3 className="text-2xl font-bold">{tr("In this lesson")}</h3>
          <ul>
            {page.done.map((d) => (
              <li key={d.block_id} className="border-t border-hairline py-2 text-xl">
                <b>{d.kind === "test" ? tr("Test") : d.told_from || tr("By hand")}</b>{" "}
                <span className="text-muted">{words === "plain" ? d.plain_words : d.words}</span>
                <span className="block">{d.line}</span>
                {d.real ? <span className="block">{tr("Real? {real}", { real: d.real })}</span> : null}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {byHand ? <ByHand metrics={metrics} seen={seen} training={training} onClose={() => setByHand(false)} /> : null}
    </div>
  );
}

const numberOf = (text: string): number | null => (text.trim() === "" ? null : Number(text));

function ByHand({ metrics, seen, training, onClose }: { metrics: MetricWords[]; seen: string[]; training: Props["training"]; onClose: () => void }) {
  const { words } = useSettings();
  const known = metrics.filter((m) => (seen.length ? seen : ["lead_wrist_extension"]).includes(m.id));
  const [metric, setMetric] = useState(known[0]?.id ?? "lead_wrist_extension");
  const [phase, setPhase] = useState("at_top");
  const [low, setLow] = useState("");
  const [high, setHigh] = useState("");
  const [relative, setRelative] = useState(false);
  const chosen = metrics.find((m) => m.id === metric);
  const ways = chosen ? [words === "plain" ? chosen.plain_negative : chosen.negative, words === "plain" ? chosen.plain_positive : chosen.positive] : ["", ""];
  const wrong = [low, high].some((v) => Number.isNaN(numberOf(v) ?? 0));
  return (
    <Sheet open onClose={onClose} title={tr("A band by hand")}>
      <form
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          training.start.mutate(
            {
              kind: "drill",
              metric: metric as Offer["metric"],
              low: numberOf(low),
              high: numberOf(high),
              phase: phase as Offer["phase"],
              relative,
              told_from: tr("by hand"),
              fades: true,
              locked: false,
              practice: false,
              finding: "",
              drill: "",
            },
            { onSuccess: onClose },
          );
        }}
      >
        <Field label={tr("Measure")}>
          <select className={inputLook} value={metric} onChange={(e) => setMetric(e.target.value)}>
            {known.map((m) => (
              <option key={m.id} value={m.id}>
                {label(m, words)}
              </option>
            ))}
          </select>
        </Field>
        <div className="grid grid-cols-2 gap-4">
          <Field label={tr("From")} note={ways[0] ? tr("below zero: {what}", { what: ways[0] }) : ""}>
            <input className={inputLook} inputMode="decimal" value={low} onChange={(e) => setLow(e.target.value)} placeholder={tr("open")} />
          </Field>
          <Field label={tr("To")} note={ways[1] ? tr("above zero: {what}", { what: ways[1] }) : ""}>
            <input className={inputLook} inputMode="decimal" value={high} onChange={(e) => setHigh(e.target.value)} placeholder={tr("open")} />
          </Field>
        </div>
        <Field label={tr("Where")}>
          <select className={inputLook} value={phase} onChange={(e) => setPhase(e.target.value)}>
            {Object.entries(PHASES).map(([id, says]) => (
              <option key={id} value={id}>
                {says}
              </option>
            ))}
          </select>
        </Field>
        <label className="flex min-h-14 items-center gap-4 text-lg">
          <input type="checkbox" className="size-7 accent-[var(--ink)]" checked={relative} onChange={(e) => setRelative(e.target.checked)} />
          {tr("Counted from the value at address")}
        </label>
        {wrong ? <p className="text-lg">{tr("Write limits as numbers, like -10 or 4.5.")}</p> : null}
        <ErrorLine error={training.start.error} />
        <div>
          <Button tone="solid" type="submit" disabled={wrong || training.start.isPending || (!low.trim() && !high.trim())}>
            {tr("Train it")}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
