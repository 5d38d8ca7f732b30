import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";

import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { Button, Choice, ErrorLine, inputLook, Loading, useSettings } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { TopLine } from "@/shared/ui/TopLine";

import { ByLesson } from "./ByLesson";
import { FoundTable } from "./FoundTable";
import { named } from "./rows";
import { Saved } from "./Saved";
import { useFound, useSaved } from "./useSearch";
import { tr, trn } from "@/lib/language";

const WAIT_MS = 250;
const EXAMPLES = [tr("driver, early extension, this month"), tr("skilled 7-iron"), tr("wrist cup at the top above 30"), tr("markers, last 30 days")];

/** Swings across players and lessons, asked for in words; the address is the question. */
export function Search() {
  const { q = "", as = "lessons" } = useSearch({ from: "/signed-in/search" });
  const navigate = useNavigate();
  const catalogue = useCatalogue();
  const [text, setText] = useState(q);
  const field = useRef<HTMLInputElement>(null);
  const found = useFound(q);
  const { saved, keep, forget } = useSaved();
  const go = (to: { q?: string; as?: "lessons" | "table" }) => void navigate({ to: "/search", search: { q, as, ...to }, replace: true });
  const ask = (to: string) => {
    setText(to);
    go({ q: to });
  };
  useEffect(() => {
    const to = text.trim();
    if (to === q) return;
    const later = setTimeout(() => void navigate({ to: "/search", search: { q: to, as }, replace: true }), WAIT_MS);
    return () => clearTimeout(later);
  }, [text, q, as, navigate]);
  useKeys({
    "/": () => field.current?.focus(),
    t: () => go({ as: as === "table" ? "lessons" : "table" }),
  });
  const data = q ? found.data : undefined;
  return (
    <div className="flex h-full flex-col">
      <TopLine title={tr("Search")} />
      <main className="min-h-0 flex-1 overflow-y-auto px-7 pb-8 max-[700px]:px-4">
        <form
          role="search"
          className="py-4"
          onSubmit={(e) => {
            e.preventDefault();
            go({ q: text.trim() });
          }}
        >
          <input
            ref={field}
            className={`${inputLook} text-2xl!`}
            type="search"
            maxLength={300}
            aria-label={tr("Find swings")}
            placeholder={tr("driver, early extension, this month")}
            // eslint-disable-next-line jsx-a11y/no-autofocus -- the view is this one question
            autoFocus
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </form>
        <ErrorLine error={found.error ?? catalogue.error ?? keep.error ?? forget.error} />
        {q && found.isPending ? <Loading what={tr("Looking")} /> : null}
        {data && catalogue.data ? (
          <>
            <Understood data={data} text={q} onAsk={ask} />
            <h2 className="figure mt-1 text-[34px] leading-tight font-bold max-[700px]:text-2xl">{answer(data)}</h2>
            {data.swings ? (
              <>
                <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1">
                  <Choice
                    label={tr("Shown as")}
                    value={as}
                    onChange={(to) => go({ as: to })}
                    options={[
                      { id: "lessons", label: tr("By lesson") },
                      { id: "table", label: tr("Table") },
                    ]}
                  />
                  <span className="flex-1" />
                  <Compared data={data} />
                  <a
                    className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
                    href={`/api/search.csv?q=${encodeURIComponent(q)}`}
                    download
                  >
                    {tr("CSV")}
                  </a>
                  {saved.data?.some((s) => s.query === q) ? null : (
                    <Button disabled={keep.isPending} onClick={() => keep.mutate({ name: q, query: q })}>
                      {tr("Save")}
                    </Button>
                  )}
                </div>
                {as === "table" ? <FoundTable data={data} catalogue={catalogue.data} /> : <ByLesson data={data} catalogue={catalogue.data} />}
              </>
            ) : null}
          </>
        ) : null}
        {q ? null : (
          <p className="text-xl text-muted">
            {tr("Club, finding, tag, player, sensors, a measure above or below a number, a time: in any order. As in")}{" "}
            {EXAMPLES.map((e, k) => (
              <span key={e}>
                {k ? " · " : ""}
                <button type="button" className="min-h-14 text-left underline decoration-dotted underline-offset-4" onClick={() => ask(e)}>
                  {e}
                </button>
              </span>
            ))}
          </p>
        )}
        <Saved saved={saved.data ?? []} asked={q} onAsk={ask} onForget={(id) => forget.mutate(id)} />
      </main>
    </div>
  );
}

/** What the answer is, in one line. */
function answer(data: Schemas["FoundOut"]): string {
  if (!data.swings) return data.said.length ? tr("No swing is like that.") : tr("Nothing was understood.");
  const players = new Set(data.lessons.map((x) => x.player_id)).size;
  const all = `${trn("{count} swing", "{count} swings", data.swings)}, ${trn("{count} player", "{count} players", players)}, ${trn("{count} lesson", "{count} lessons", data.lessons.length)}`;
  return data.more ? tr("The newest {all}", { all }) : all;
}

/** What was made of the question; a tap takes a part out again. */
function Understood({ data, text, onAsk }: { data: Schemas["FoundOut"]; text: string; onAsk: (to: string) => void }) {
  const { words } = useSettings();
  return (
    <p className="flex flex-wrap items-center gap-x-2 text-lg" aria-label={tr("What was understood")}>
      {data.said.map((s) => (
        <button
          key={`${s.kind} ${s.text}`}
          type="button"
          className="min-h-14 px-1"
          title={tr("Leave it out")}
          onClick={() => onAsk(without(text, s.text))}
          aria-label={tr("{kind}: {named}; leave it out", { kind: s.kind, named: named(s, words) })}
        >
          <span className="text-muted">{s.kind}</span> <b>{named(s, words)}</b> <span aria-hidden>×</span>
        </button>
      ))}
      {data.unknown.length ? (
        <span className="border-l-4 border-rust pl-2">{tr("Not understood: {unknown}", { unknown: data.unknown.join(", ") })}</span>
      ) : null}
      {data.players.map((p) => (
        <Link key={p.id} to="/players/$playerId" params={{ playerId: p.id }} className="grid min-h-14 items-center underline underline-offset-4">
          {p.name}
        </Link>
      ))}
    </p>
  );
}

/** The question without a phrase of it. */
export function without(text: string, phrase: string): string {
  const loose = phrase.split(" ").map((w) => w.replaceAll(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return text
    .replace(new RegExp(loose.join(String.raw`[\s,;]+`), "i"), " ")
    .replaceAll(/\s+/g, " ")
    .replaceAll(/(^[\s,;]+|[\s,;]+$)/g, "")
    .replaceAll(/\s*,(\s*,)+/g, ",")
    .replaceAll(/\s+,/g, ",");
}

/** These swings as a group against the time before, or against whatever is chosen there. */
function Compared({ data }: { data: Schemas["FoundOut"] }) {
  const newest = data.lessons[0]!;
  const search = { a: `found:${data.text}`, ...(data.before ? { b: `found:${data.before}` } : {}), ...data.columns[0] };
  return (
    <Link
      to="/lessons/$lessonId/compare"
      params={{ lessonId: newest.lesson_id }}
      search={search}
      className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
    >
      {data.before ? tr("Compare with the time before") : tr("Compare")}
    </Link>
  );
}
