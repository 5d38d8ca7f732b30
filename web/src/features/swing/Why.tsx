import type { Schemas } from "@/api/client";
import { type Vocabulary } from "@/lib/words";
import { Sheet } from "@/shared/ui/Sheet";
import { tr, trn } from "@/lib/language";

interface Props {
  open: boolean;
  onClose: () => void;
  swing: Schemas["SwingOut"];
  summary: Schemas["SummaryOut"] | undefined;
  catalogue: Schemas["Catalogue"];
  words: Vocabulary;
  onGo: (metric: string, event: string) => void;
}

const ID = / \(([A-Z]+\d+\w*)\)$/;
/** Which range a line of evidence was judged by: said where somebody asks where the bands come from. */
const idOf = (sentence: string) => ID.exec(sentence)?.[1] ?? "";
const withoutId = (sentence: string) => sentence.replace(ID, "");

/** Findings with their evidence, what is good, and what these sensors cannot see. */
export function Why({ open, onClose, swing, summary, catalogue, words, onGo }: Props) {
  const overAll = Boolean(summary?.findings.length);
  const findings = overAll ? summary!.findings : swing.findings;
  const unseen = summary?.not_assessed.length ? summary.not_assessed : swing.not_assessed;
  const label = (id: string) => {
    const found = catalogue.findings.find((f) => f.id === id);
    return (words === "plain" ? found?.plain_label : found?.label)?.toLowerCase() ?? id;
  };
  return (
    <Sheet open={open} onClose={onClose} title={tr("Why?")} wide>
      {summary?.matched.map((m) => (
        <p key={m.id} className="mt-3 border-l-4 border-ink pl-3 text-lg">
          <b>{tr("Change both or neither.")}</b> {m.says}
        </p>
      ))}
      {summary?.held.map((h) => (
        <p key={h} className="mt-2 text-lg text-muted">
          {h}.
        </p>
      ))}
      <p className="text-lg text-muted">
        {overAll
          ? trn("Over all {count} swing that counts.", "Over all {count} swings that count.", summary!.counting)
          : tr("Of swing {number} alone.", { number: swing.number })}
      </p>
      {findings.length === 0 ? <p className="mt-4 text-2xl">{tr("Nothing to change is an answer too.")}</p> : null}
      {findings.map((f) => (
        <article key={f.finding} className="mt-5 border-t border-hairline pt-4">
          <p className="text-lg text-muted">
            {trn(
              "{what} · {shown} of {count} swing · outside its band with {what2} % certainty{what3}",
              "{what} · {shown} of {count} swings · outside its band with {what2} % certainty{what3}",
              f.assessed,
              {
                what: f.status === "hint" ? tr("A hint: seldom or mild so far") : tr("A finding"),
                shown: f.shown,
                what2: Math.min(99, Math.round(100 * f.confidence)),
                what3: f.explained_by ? tr(" · fits with {label}, which comes first", { label: label(f.explained_by) }) : "",
              },
            )}
          </p>
          <h3 className="text-2xl font-bold">{words === "plain" ? f.plain_says : f.says}</h3>
          <p className="text-xl">
            {f.tends}
            {f.fits.length ? tr(" Fits with: {fits}.", { fits: f.fits.join(", ") }) : ""}
          </p>
          {f.caution ? <p className="border-l-4 border-ink pl-3 text-lg">{f.caution}</p> : null}
          {f.note ? <p className="text-lg text-muted">{f.note}</p> : null}
          <ul className="mt-1 text-lg">
            {f.evidence.map((e) => (
              <li key={e.sentence}>
                <button type="button" className="min-h-14 text-left underline decoration-dotted underline-offset-4" onClick={() => onGo(e.metric, e.moment)}>
                  {withoutId(words === "plain" ? e.plain_sentence : e.sentence)}
                </button>
              </li>
            ))}
          </ul>
          <details className="text-base text-muted">
            <summary className="flex min-h-14 cursor-pointer items-center">{tr("Where the bands come from ▾")}</summary>
            {[...new Set(f.evidence.map((e) => idOf(e.sentence)).filter(Boolean))].map((id) => (
              <span key={id} className="block">
                {tr("Range {id}, ranges {benchmarks}: see Benchmarks.", { id, benchmarks: swing.benchmarks })}
              </span>
            ))}
          </details>
          {f.drills.map((id) => {
            const d = catalogue.drills.find((x) => x.id === id);
            const withheld = summary?.withheld.find((w) => w.drill === id);
            if (!d) return null;
            return withheld ? (
              <p key={id} className="mt-1 text-lg">
                <b>{d.label}</b> {tr("is withheld: {reason}.", { reason: withheld.reason })}
              </p>
            ) : (
              <p key={id} className="mt-1 text-lg">
                <b>{d.label}.</b> {d.how} <i>{tr("Feel: {feel}", { feel: d.feel })}</i>
                {d.caution ? <b> {d.caution}</b> : null}
              </p>
            );
          })}
        </article>
      ))}
      {summary?.good.length ? (
        <section className="mt-6 border-t border-hairline pt-4">
          <h3 className="text-xl font-bold">{tr("Keep this")}</h3>
          <ul className="text-lg">
            {(words === "plain" ? summary.plain_good : summary.good).map((g) => (
              <li key={g}>{g}</li>
            ))}
          </ul>
        </section>
      ) : null}
      {unseen.length ? (
        <section className="mt-6 border-t border-hairline pt-4">
          <h3 className="text-xl font-bold">{tr("Not assessable here, which is not the same as absent")}</h3>
          <ul className="text-lg">
            {[...new Set(unseen.map((n) => n.reason))].map((reason) => (
              <li key={reason} className="border-b border-hairline py-1">
                <b>{reason}:</b>{" "}
                {unseen
                  .filter((n) => n.reason === reason)
                  .map((n) => n.label)
                  .join(", ")}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </Sheet>
  );
}
