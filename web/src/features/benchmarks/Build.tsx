import { useState } from "react";

import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { count } from "@/lib/words";
import { Button, Choice, ErrorLine, Field, inputLook, Loading } from "@/shared/ui/controls";

import { useCohort, useCohortChanges } from "./api";
import { RangeDots } from "./RangeDots";

type Share = "middle" | "most" | "nearly_all";

/** Ranges from chosen skilled swings: who, which club, which tag; what they would make beside what holds now. */
export function Build() {
  const catalogue = useCatalogue();
  const [ask, setAsk] = useState<Schemas["CohortIn"]>({ club: "7-iron", players: [], tag: "skilled", synthetic: false, share: "most", base: "" });
  const [leftOut, setLeftOut] = useState<string[]>([]);
  const [name, setName] = useState("From our swings");
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
          label="From"
          value={ask.synthetic ? "model" : "own"}
          options={[
            { id: "own", label: "Our swings" },
            { id: "model", label: "Synthetic" },
          ]}
          onChange={(v) => set({ synthetic: v === "model" })}
        />
        <Field label="Club">
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
            <b>Synthetic:</b> drawn by the golfer model, not measured on people. Good for trying this out.
          </p>
        ) : (
          <>
            <Field label="Tag">
              <select className={inputLook} value={ask.tag} onChange={(e) => set({ tag: e.target.value, players: [] })}>
                <option value="">any swing that counts</option>
                {[...new Set([...(c?.tags ?? []), ...(ask.tag ? [ask.tag] : [])])].map((t) => (
                  <option key={t}>{t}</option>
                ))}
              </select>
            </Field>
            <div>
              <p className="text-muted">Players {chosen.length ? "" : "(all)"}</p>
              {(c?.players ?? []).map((p) => (
                <label key={p.id} className="flex min-h-14 items-center gap-3 text-lg">
                  <input type="checkbox" className="size-6 accent-[var(--ink)]" checked={chosen.includes(p.id)} onChange={() => toggle(p.id)} />
                  {p.name} <span className="text-muted">{p.swings}</span>
                </label>
              ))}
              {c && !c.players.length ? <p className="text-lg">No counting swing with this club and tag.</p> : null}
            </div>
          </>
        )}
      </aside>
      <section className="flex min-h-0 flex-col">
        <div className="flex flex-none flex-wrap items-center gap-x-6 px-7 pt-2">
          <p className="text-xl">
            <b>{count(c?.swings ?? 0, "swing")}</b>
            {c?.warning ? <span> · {c.warning}</span> : null}
          </p>
          <Choice<Share>
            label="How much of them a range takes in"
            value={(ask.share ?? "most") as Share}
            options={[
              { id: "middle", label: "the middle half" },
              { id: "most", label: "most (10–90 %)" },
              { id: "nearly_all", label: "nearly all (5–95 %)" },
            ]}
            onChange={(share) => set({ share })}
          />
        </div>
        {cohort.isPending ? <Loading what="Gathering the swings" /> : null}
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
                  aria-label={`Use ${r.id}`}
                />
                <span className="text-lg">
                  <b>{r.label}</b> {r.moment === "whole swing" ? "" : r.moment}
                  <span className="block text-base text-muted">
                    {r.id}
                    {r.school ? ` · ${r.school}` : ""} · {count(r.swings, "swing")} of {count(r.players, "player")}
                  </span>
                </span>
                <RangeDots row={r} />
                <span className="text-lg max-[1180px]:col-start-2">
                  <b>{r.made}</b>
                  <span className="block text-base text-muted">
                    middle {r.centre}, spread {r.spread}
                  </span>
                  <span className="block text-base text-muted">now {r.now}</span>
                </span>
              </label>
              {r.warning && r.warning !== c?.warning ? <p className="pl-12 text-base">{r.warning}</p> : null}
              {r.outliers.length ? (
                <details className="pl-12 text-base text-muted">
                  <summary className="flex min-h-14 cursor-pointer items-center">
                    {r.outliers.length} outlier{r.outliers.length === 1 ? "" : "s"} left out
                  </summary>
                  {r.outliers.join("; ")}
                </details>
              ) : null}
            </li>
          ))}
          {c && !rows.length ? (
            <li className="py-8 text-2xl">Nothing to build from yet. Tag skilled swings on their own page (Mark), or choose any swing that counts.</li>
          ) : null}
        </ul>
        <div className="flex flex-none flex-wrap items-center gap-3 border-t-2 border-ink px-7 py-2">
          <input
            aria-label="Name of the version"
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
            Make {used.length} ranges
          </Button>
          {ask.synthetic ? null : (
            <Button disabled={!rows.length || reference.isPending} onClick={() => reference.mutate({ ...ask, name: `${name.trim() || "Mean"} (mean trace)` })}>
              Keep the mean as reference
            </Button>
          )}
          <p role="status" className="text-lg">
            {ranges.data ? `Saved as ${ranges.data.label}; see Ranges.` : reference.data ? `${reference.data.name} kept; see References.` : ""}
          </p>
          <ErrorLine error={ranges.error ?? reference.error} />
        </div>
      </section>
    </div>
  );
}
