import type { Schemas } from "@/api/client";
import { amount, inWords, label, moment, spread, type MetricWords } from "@/lib/words";
import { useSettings } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { sideName } from "./words";
import { tr } from "@/lib/language";

type Value = Schemas["CompareValueOut"];

const VERDICT: Record<string, string> = {
  changed: tr("real"),
  unchanged: tr("no difference that matters"),
  not_distinguishable: tr("not yet distinguishable"),
  too_few: tr("too few swings"),
};

interface Props {
  open: boolean;
  onClose: () => void;
  data: Schemas["CompareOut"];
  catalogue: Schemas["Catalogue"];
  onChoose: (metric: string, moment: string) => void;
}

/** Every value of both sides; a tap looks at that measure. */
export function TableSheet({ open, onClose, data, catalogue, onChoose }: Props) {
  const { words } = useSettings();
  const grouped = data.metrics.some((m) => m.values.some((v) => v.change));
  return (
    <Sheet open={open} onClose={onClose} title={tr("{sideName} and {sideName2}: all values", { sideName: sideName(data.a), sideName2: sideName(data.b) })} wide>
      {data.notes.map((n) => (
        <p key={n} className="hidden text-lg max-[700px]:block">
          {n}
        </p>
      ))}
      <p className="text-lg text-muted">
        {tr("± is one standard uncertainty of the difference.{what}", {
          what: grouped
            ? tr(" What was asked first is tested by itself; the rest was also looked at, and is called real only where it stands after so many looks.")
            : "",
        })}
      </p>
      {data.metrics.map((m) => {
        const metric = catalogue.metrics.find((x) => x.id === m.metric) as MetricWords | undefined;
        if (!metric) return null;
        return (
          <section key={m.metric} className="mt-5">
            <h3 className="text-xl font-bold">{label(metric, words)}</h3>
            <table className="tabular mt-1 w-full text-lg">
              <thead className="text-left text-base text-muted">
                <tr>
                  <th className="w-56 font-normal">{tr("at")}</th>
                  <th className="font-normal">{sideName(data.a)}</th>
                  <th className="font-normal">{sideName(data.b)}</th>
                  <th className="font-normal">{tr("difference")}</th>
                </tr>
              </thead>
              <tbody>
                {m.values.map((v) => (
                  <tr key={v.moment} className="border-b border-hairline">
                    <td className="py-0">
                      <button
                        type="button"
                        className={`min-h-14 w-full text-left underline decoration-dotted underline-offset-4 ${m.metric === data.metric && v.moment === data.moment ? "font-bold" : ""}`}
                        onClick={() => onChoose(m.metric, v.moment)}
                      >
                        {moment(v.moment)}
                      </button>
                    </td>
                    <td>{inWords(metric, v.a, words)}</td>
                    <td>{inWords(metric, v.b, words)}</td>
                    <td>
                      <Difference value={v} metric={metric} plain={words === "plain"} asked={m.metric === data.metric && v.moment === data.moment} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        );
      })}
    </Sheet>
  );
}

function Difference({ value, metric, plain, asked }: { value: Value; metric: MetricWords; plain: boolean; asked: boolean }) {
  const said = plain ? value.plain_words : value.words;
  const change = value.change;
  return (
    <>
      {said ? <b>{said}</b> : <span className="text-muted">{amount(metric, value.difference)}</span>}{" "}
      <span className="text-muted">± {spread(metric, value.uncertainty)}</span>
      {change ? (
        <span className="block text-base text-muted">
          {change.verdict === "changed" && !asked && !change.real ? tr("may be chance") : VERDICT[change.verdict]}
        </span>
      ) : null}
    </>
  );
}
