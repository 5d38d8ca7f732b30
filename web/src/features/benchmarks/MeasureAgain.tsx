import type { ReactNode } from "react";

import type { Schemas } from "@/api/client";
import { useMeasuring, useMeasuringChanges } from "@/api/jobs";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";
import { Working } from "@/shared/ui/Working";
import { number, tr, trn } from "@/lib/language";

type Report = Schemas["MeasuringReport"];

/** Every recording read again with this engine, beside what is kept, until somebody decides. */
export function MeasureAgain() {
  const measuring = useMeasuring();
  const { start, decide, stop, goOn } = useMeasuringChanges();
  if (measuring.isPending) return <Loading what={tr("Looking for work")} />;
  if (!measuring.data)
    return (
      <div className="p-7">
        <ErrorLine error={measuring.error} />
      </div>
    );
  const { engine, job, accepting, stopped, report } = measuring.data;
  const busy = start.isPending || decide.isPending || stop.isPending || goOn.isPending;
  return (
    <main className="h-full overflow-y-auto px-7 py-6">
      {accepting ? (
        <>
          <h2 className="text-[40px] leading-tight font-bold">{tr("The new values are being put in place.")}</h2>
          <div className="mt-6">
            {accepting.state === "failed" || accepting.state === "cancelled" ? (
              <div className="flex gap-3">
                <Button tone="solid" onClick={() => goOn.mutate(accepting.id)} disabled={busy}>
                  {tr("Go on")}
                </Button>
              </div>
            ) : (
              <Working job={accepting} label={tr("Putting in place")} />
            )}
          </div>
          {accepting.message ? <p className="mt-3 text-xl">{accepting.message}</p> : null}
        </>
      ) : job && report ? (
        job.state === "done" ? (
          <Found report={report} largest={measuring.data.largest}>
            {isSame(report) ? (
              <Button tone="solid" disabled={busy} onClick={() => decide.mutate({ id: job.id, decision: "dismiss" })}>
                {tr("Done")}
              </Button>
            ) : null}
            <Button tone={isSame(report) ? "line" : "solid"} disabled={busy} onClick={() => decide.mutate({ id: job.id, decision: "accept" })}>
              {tr("Accept the new values")}
            </Button>
            {isSame(report) ? null : (
              <Button disabled={busy} onClick={() => decide.mutate({ id: job.id, decision: "dismiss" })}>
                {tr("Leave everything as it is")}
              </Button>
            )}
          </Found>
        ) : (
          <>
            <h2 className="text-[40px] leading-tight font-bold">{tr("Measuring everything again.")}</h2>
            <p className="mt-1 text-xl text-muted">{tr("Lessons go on meanwhile; nothing that is kept changes.")}</p>
            <div className="mt-6">
              <Working job={job} label={tr("Measuring again")} onStop={() => stop.mutate(job.id)} />
            </div>
            {report.swings ? <p className="mt-4 text-xl">{tr("So far: {changedWords}", { changedWords: changedWords(report) })}</p> : null}
          </>
        )
      ) : (
        <>
          <h2 className="text-[40px] leading-tight font-bold">{tr("Measure everything again.")}</h2>
          <p className="mt-2 max-w-[52ch] text-2xl">
            {tr("Every recording is read again from its raw samples by engine {engine}. The new values stand beside the old ones until you accept them.", {
              engine,
            })}
          </p>
          {stopped ? (
            <p className="mt-3 text-xl text-muted">
              {tr("The last time it stopped after {done} of {what}{what2}", {
                done: stopped.done,
                what: trn("{count} recording", "{count} recordings", stopped.total),
                what2: stopped.message && stopped.state === "failed" ? `: ${stopped.message}` : ".",
              })}
            </p>
          ) : null}
          <div className="mt-6 flex gap-3">
            {stopped ? (
              <Button tone="solid" disabled={busy} onClick={() => goOn.mutate(stopped.id)}>
                {tr("Go on where it stopped")}
              </Button>
            ) : null}
            <Button tone={stopped ? "line" : "solid"} disabled={busy} onClick={() => start.mutate()}>
              {stopped ? tr("Begin anew") : tr("Measure again")}
            </Button>
          </div>
        </>
      )}
      <div className="mt-4">
        <ErrorLine error={start.error ?? decide.error ?? stop.error ?? goOn.error} />
      </div>
    </main>
  );
}

const isSame = (r: Report) => r.changed + r.gone + r.new === 0;

function changedWords(r: Report): string {
  if (isSame(r)) return tr("all {number} values of {n} read the same.", { number: number(r.values), n: trn("{count} swing", "{count} swings", r.swings) });
  const parts = [
    r.changed ? tr("{number} of {number2} values read otherwise", { number: number(r.changed), number2: number(r.values) }) : "",
    r.new ? tr("{number} are new", { number: number(r.new) }) : "",
    r.gone ? tr("{number} are gone", { number: number(r.gone) }) : "",
    r.verdicts ? trn("{count} value falls on another side of a band", "{count} values fall on another side of a band", r.verdicts) : "",
    r.findings ? tr("other differences show in {n}", { n: trn("{count} swing", "{count} swings", r.findings) }) : "",
  ].filter(Boolean);
  return `${parts.join("; ")}.`;
}

/** What would change, largest first, and the two ways to go on. */
function Found({ report, largest, children }: { report: Report; largest: Schemas["ChangeShown"][]; children: ReactNode }) {
  const same = isSame(report);
  return (
    <>
      <h2 className="text-[40px] leading-tight font-bold">{same ? tr("Nothing changes.") : tr("Some values change.")}</h2>
      <p className="mt-2 max-w-[60ch] text-2xl first-letter:uppercase">{changedWords(report)}</p>
      <p className="mt-1 text-lg text-muted">
        {tr("{what}, {what2}; kept values are by engine {what3}, new ones by {engine}. Closed lessons go on being judged by the rules of their day.", {
          what: trn("{count} recording", "{count} recordings", report.recordings),
          what2: trn("{count} swing", "{count} swings", report.swings),
          what3: report.engines.join(", ") || tr("unknown"),
          engine: report.engine,
        })}
      </p>
      <div className="mt-5 flex flex-wrap gap-3">{children}</div>
      {largest.length ? (
        <table className="mt-6 w-full max-w-[1100px] text-lg">
          <caption className="text-left text-xl font-bold">{tr("Largest changes, beside what a value is certain to")}</caption>
          <thead>
            <tr className="border-b border-hairline text-left text-muted">
              <th className="py-1 font-normal">{tr("Swing")}</th>
              <th className="font-normal">{tr("Measure")}</th>
              <th className="font-normal">{tr("Kept")}</th>
              <th className="font-normal">{tr("New")}</th>
            </tr>
          </thead>
          <tbody>
            {largest.map((c, k) => (
              <tr key={k} className="border-b border-hairline">
                <td className="py-2">{c.label}</td>
                <td>
                  {c.metric}, {c.moment}
                </td>
                <td>{c.before}</td>
                <td className="font-bold">{c.after}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {report.unreadable.length ? (
        <div className="mt-6 border-l-4 border-rust pl-4">
          <p className="text-xl font-bold">
            {trn(
              "{what} cannot be read any more; its swings stay as they are.",
              "{what} cannot be read any more; their swings stay as they are.",
              report.unreadable.length,
              { what: trn("{count} recording", "{count} recordings", report.unreadable.length) },
            )}
          </p>
          {report.unreadable.map((u) => (
            <p key={u.recording_id} className="text-lg">
              {u.why}
            </p>
          ))}
        </div>
      ) : null}
    </>
  );
}
