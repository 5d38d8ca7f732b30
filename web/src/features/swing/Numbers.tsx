import type { Schemas } from "@/api/client";
import { useNumbers } from "@/api/hooks";
import { ORDER } from "@/lib/arc";
import { measures, said } from "@/lib/values";
import { moment, type Vocabulary } from "@/lib/words";
import { Choice, ErrorLine, Loading } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { Term } from "@/shared/ui/Term";
import { useStateFrom } from "@/shared/ui/useStateFrom";
import { number, tr } from "@/lib/language";
import { bare } from "@/lib/units";

interface Props {
  open: boolean;
  onClose: () => void;
  swing: Schemas["SwingOut"];
  catalogue: Schemas["Catalogue"];
  words: Vocabulary;
  summary: Schemas["SummaryOut"] | undefined;
  /** What is being looked at: the numbers open there. */
  measure: string;
  group: string;
}

/** In the order in which they are looked at. */
const FAMILIES: Record<string, string> = {
  wrist: tr("Wrist"),
  ground: tr("Ground"),
  club: tr("Club"),
  timing: tr("Timing"),
  turn: tr("Turn"),
  posture: tr("Posture"),
  travel: tr("Travel"),
  arms_legs: tr("Arms, legs"),
  sequence: tr("Sequence"),
};

const OUTSIDE: Record<string, string> = {
  low: tr("below"),
  edge_low: tr("at the edge"),
  high: tr("above"),
  edge_high: tr("at the edge"),
  in_range: tr("in the band"),
  not_judged: "",
};

const place = (event: string) => (event.includes("..") ? 100 : 0) + ORDER.indexOf(event.split("..")[0]!);

/** All values in words with uncertainty, on demand. */
export function Numbers({ open, onClose, swing, catalogue, words, summary, measure, group }: Props) {
  const looked = catalogue.metrics.find((m) => m.id === measure)?.family ?? group;
  const [family, setFamily] = useStateFrom(() => looked, `${looked} ${open}`); // each time it opens, on what is looked at
  const all = useNumbers(open ? swing : undefined);
  const measured = new Set<string>(catalogue.metrics.filter((m) => measures(swing, m.id)).map((m) => m.family));
  const families = [...Object.keys(FAMILIES), ...measured].filter((f, k, every) => measured.has(f) && every.indexOf(f) === k);
  const chosen = families.includes(family) ? family : (families[0] ?? "");
  const shown = catalogue.metrics.filter((m) => m.family === chosen);
  return (
    <Sheet open={open} onClose={onClose} title={tr("Numbers of swing {number}", { number: swing.number })} wide>
      <p className="text-lg text-muted">
        {tr("± is one standard uncertainty, poses included. Engine {engine}, ranges {benchmarks}.", { engine: swing.engine, benchmarks: swing.benchmarks })}{" "}
        <a className="underline" href={`/api/swings/${swing.id}/traces.csv`} download>
          {tr("Traces as CSV")}
        </a>
      </p>
      {summary && summary.spreads.length ? (
        <p className="mt-2 text-lg">
          {tr("Over {counting} counting swings: {what}", {
            counting: summary.counting,
            what: summary.spreads
              .map((s) =>
                tr("{label} {what}{words} (spread {spread})", {
                  label: catalogue.metrics.find((m) => m.id === s.metric)?.label.toLowerCase(),
                  what: s.moment === "swing" ? "" : tr("at {moment} ", { moment: moment(s.moment) }),
                  words: s.words,
                  spread: number(s.spread, s.metric === "tempo" ? 1 : 0),
                }),
              )
              .join(" · "),
          })}
        </p>
      ) : null}
      <Choice
        label={tr("Group of numbers")}
        value={chosen}
        onChange={setFamily}
        className="mt-2"
        options={families.map((f) => ({ id: f, label: FAMILIES[f] ?? f }))}
      />
      {all.isPending ? <Loading what={tr("Reading the numbers")} /> : <ErrorLine error={all.error} />}
      {shown.map((metric) => {
        const id = metric.id;
        const values = (all.data ?? []).filter((m) => m.metric === id).sort((a, b) => place(a.moment) - place(b.moment));
        if (values.length === 0) return null;
        return (
          <section key={id} className="mt-5">
            <h3 className="text-xl font-bold">
              <Term word={words === "plain" ? metric.plain_label : metric.label} explained={metric.explained} />
            </h3>
            <table className="tabular mt-1 w-full text-lg">
              <tbody>
                {values.map((v) => (
                  <tr key={v.moment} className="border-b border-hairline">
                    <td className="w-64 py-1.5 text-muted">{moment(v.moment)}</td>
                    <td>
                      <b>{said(v, words)}</b>
                      {v.others?.length ? (
                        <span className="block text-base text-muted">
                          {v.source}; {v.others.map((o) => `${o.source}: ${said(o, words)} ±${number(o.uncertainty, 1)}`).join("; ")}
                        </span>
                      ) : null}
                      {v.note ? <span className="block text-base text-muted">{v.note}</span> : null}
                    </td>
                    <td className="w-24 text-muted">
                      ±{bare(metric.unit, v.uncertainty, metric.unit === "s" ? 3 : metric.unit === "ratio" ? 2 : metric.unit === "cm" ? 1 : 0)}
                    </td>
                    <td className="w-72">
                      {v.verdict.includes("low") || v.verdict.includes("high") ? (
                        <span aria-hidden className="mr-1 text-rust">
                          ▲
                        </span>
                      ) : null}
                      {OUTSIDE[v.verdict]}
                      {v.not_judged_reason ? (
                        <span className="text-muted">{tr("not judged: {not_judged_reason}", { not_judged_reason: v.not_judged_reason })}</span>
                      ) : null}
                      {v.band ? (
                        <span className="text-muted">
                          {" "}
                          <Term
                            word={said(v.band, words)}
                            explained={tr("{by}. Range {range_id}, ranges {benchmarks}.", {
                              by: v.band.by,
                              range_id: v.band.range_id,
                              benchmarks: swing.benchmarks,
                            })}
                          />
                        </span>
                      ) : null}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        );
      })}
      {swing.absent_events.length ? (
        <section className="mt-5">
          <h3 className="text-xl font-bold">{tr("Checkpoints not found")}</h3>
          <ul className="text-lg">
            {swing.absent_events.map((a) => (
              <li key={a.name}>
                {moment(a.name)}: {a.reason}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </Sheet>
  );
}
