import { useState } from "react";

import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { Button, Choice, ErrorLine, Field, inputLook, Loading } from "@/shared/ui/controls";

import { useCohort, useCohortChanges } from "./api";
import { RangeDots } from "./RangeDots";
import { tr, trn } from "@/lib/language";

type Share = "middle" | "most" | "nearly_all";

/** Ranges from chosen skilled swings: who, which club, which tag; what they would make beside what holds now. */
export function Build() {
  const catalogue = useCatalogue();
  const [ask, setAsk] = useState<Schemas["CohortIn"]>({ club: "7-iron", players: [], tag: "skilled", synthetic: false, share: "most", base: "" });
  const [leftOut, setLeftOut] = useState<string[]>([]);
  const [name, setName] = useState(tr("From our swings"));
  const set = (part: Partial<Schemas["CohortIn"]>) => setAsk((old) => ({ ...old, ...part }));
  const cohort = useCohort(ask);
  const { ranges, reference } = useCohortChanges();
  const c = cohort.data;
  const chosen = ask.players ?? [];
  const toggle = (id: string) => set({ players: chosen.includes(id) ? chosen.filter((p) => p !== id) : [...chosen, id] });
  const rows = c?.rows ?? [];
  const used = rows.filter((r) => !leftOut.includes(r.id));
  return (
    <div className="panes h-full grid-cols-[330px_1fr]">
      <aside className="min-h-0 space-y-4 overflow-y-auto border-r border-hairline px-7 py-4">
        <Choice
          label={tr("From")}
          value={ask.synthetic ? "model" : "own"}
          options={[
            { id: "own", label: tr("Our swings") },
            { id: "model", label: tr("Synthetic") },
          ]}
          onChange={(v) => set({ synthetic: v === "model" })}
        />
        <Field label={tr("Club")}>
          <select className={inputLook} value={ask.club} onChange={(e) => set({ club: e.target.value, players: [] })}>
            {catalogue.data?.clubs.map((x) => (
              <option key={x.id} value={x.id}>
                {x.label}
              </option>
            ))}
          </select>
        </Field>
        {ask.synthetic ? (
          <p className="text-lg">
            <b>{tr("Synthetic:")}</b> {tr("drawn by the golfer model, not measured on people. Good for trying this out.")}
          </p>
        ) : (
          <>
            <Field label={tr("Tag")}>
              <select className={inputLook} value={ask.tag} onChange={(e) => set({ tag: e.target.value, players: [] })}>
                <option value="">{tr("any swing that counts")}</option>
                {[...new Set([...(c?.tags ?? []), ...(ask.tag ? [ask.tag] : [])])].map((t) => (
                  <option key={t}>{t}</option>
                ))}
              </select>
            </Field>
            <div>
              <p className="text-muted">{tr("Players {what}", { what: chosen.length ? "" : tr("(all)") })}</p>
              {(c?.players ?? []).map((p) => (
                <label key={p.id} className="flex min-h-14 items-center gap-3 text-lg">
                  <input type="checkbox" className="size-6 accent-[var(--ink)]" checked={chosen.includes(p.id)} onChange={() => toggle(p.id)} />
                  {p.name} <span className="text-muted">{p.swings}</span>
                </label>
              ))}
              {c && !c.players.length ? <p className="text-lg">{tr("No counting swing with this club and tag.")}</p> : null}
            </div>
          </>
        )}
      </aside>
      <section className="flex min-h-0 flex-col">
        <div className="flex flex-none flex-wrap items-center gap-x-6 px-7 pt-2">
          <p className="text-xl">
            <b>{trn("{count} swing", "{count} swings", c?.swings ?? 0)}</b>
            {c?.warning ? <span> · {c.warning}</span> : null}
          </p>
          <Choice<Share>
            label={tr("How much of them a range takes in")}
            value={(ask.share ?? "most") as Share}
            options={[
              { id: "middle", label: tr("the middle half") },
              { id: "most", label: tr("most (10–90 %)") },
              { id: "nearly_all", label: tr("nearly all (5–95 %)") },
            ]}
            onChange={(share) => set({ share })}
          />
        </div>
        {cohort.isPending ? <Loading what={tr("Gathering the swings")} /> : null}
        <ErrorLine error={cohort.error} />
        <ul className="min-h-0 flex-1 overflow-y-auto px-7">
          {rows.map((r) => (
            <li key={r.id} className={`border-b border-hairline py-2 ${leftOut.includes(r.id) ? "opacity-50" : ""}`}>
              <label className="grid grid-cols-[36px_1fr_280px_290px] items-center gap-x-3 max-[1180px]:grid-cols-[36px_1fr]">
                <input
                  type="checkbox"
                  className="size-6 accent-[var(--ink)]"
                  checked={!leftOut.includes(r.id)}
                  onChange={() => setLeftOut((o) => (o.includes(r.id) ? o.filter((x) => x !== r.id) : [...o, r.id]))}
                  aria-label={tr("Use {id}", { id: r.id })}
                />
                <span className="text-lg">
                  <b>{r.label}</b> {r.moment === tr("whole swing") ? "" : r.moment}
                  <span className="block text-base text-muted">
                    {tr("{id}{what} · {what2} of {what3}", {
                      id: r.id,
                      what: r.school ? ` · ${r.school}` : "",
                      what2: trn("{count} swing", "{count} swings", r.swings),
                      what3: trn("{count} player", "{count} players", r.players),
                    })}
                  </span>
                </span>
                <RangeDots row={r} />
                <span className="text-lg max-[1180px]:col-start-2">
                  <b>{r.made}</b>
                  <span className="block text-base text-muted">{tr("middle {centre}, spread {spread}", { centre: r.centre, spread: r.spread })}</span>
                  <span className="block text-base text-muted">{tr("now {now}", { now: r.now })}</span>
                </span>
              </label>
              {r.warning && r.warning !== c?.warning ? <p className="pl-12 text-base">{r.warning}</p> : null}
              {r.outliers.length ? (
                <details className="pl-12 text-base text-muted">
                  <summary className="flex min-h-14 cursor-pointer items-center">
                    {trn("{count} outlier left out", "{count} outliers left out", r.outliers.length)}
                  </summary>
                  {r.outliers.join("; ")}
                </details>
              ) : null}
            </li>
          ))}
          {c && !rows.length ? (
            <li className="py-8 text-2xl">{tr("Nothing to build from yet. Tag skilled swings on their own page (Mark), or choose any swing that counts.")}</li>
          ) : null}
        </ul>
        <div className="flex flex-none flex-wrap items-center gap-3 border-t-2 border-ink px-7 py-2">
          <input
            aria-label={tr("Name of the version")}
            className={`${inputLook} max-w-[300px]`}
            maxLength={60}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <Button
            tone="solid"
            disabled={!used.length || !name.trim() || ranges.isPending}
            onClick={() => ranges.mutate({ ...ask, name: name.trim(), leave_out: leftOut, note: "" })}
          >
            {tr("Make {length} ranges", { length: used.length })}
          </Button>
          {ask.synthetic ? null : (
            <Button
              disabled={!rows.length || reference.isPending}
              onClick={() => reference.mutate({ ...ask, name: tr("{what} (mean trace)", { what: name.trim() || tr("Mean") }) })}
            >
              {tr("Keep the mean as reference")}
            </Button>
          )}
          <p role="status" className="text-lg">
            {ranges.data
              ? tr("Saved as {label}; see Ranges.", { label: ranges.data.label })
              : reference.data
                ? tr("{name} kept; see References.", { name: reference.data.name })
                : ""}
          </p>
          <ErrorLine error={ranges.error ?? reference.error} />
        </div>
      </section>
    </div>
  );
}
