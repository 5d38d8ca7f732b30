import { useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { whenWords } from "@/lib/dates";
import { tr } from "@/lib/language";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";

const PAGE = 100;

/** Who changed, opened or took out what of whom, the latest first. Nobody can change it. */
export function Log({ people }: { people: readonly Schemas["StaffPerson"][] }) {
  const [by, setBy] = useState("");
  const found = useInfiniteQuery({
    queryKey: keys.log(by),
    initialPageParam: "",
    queryFn: ({ pageParam, signal }) =>
      data(api.GET("/api/people/log", { params: { query: { ...(pageParam ? { before: pageParam } : {}), ...(by ? { by } : {}) } }, signal })),
    getNextPageParam: (page) => (page.length < PAGE ? undefined : page.at(-1)!.at),
  });
  const lines = found.data?.pages.flat() ?? [];
  return (
    <section>
      <label className="flex flex-wrap items-center gap-3 text-lg">
        {tr("Whose")}
        <select className="min-h-14 rounded-lg border-2 border-[var(--control)] bg-paper px-3" value={by} onChange={(e) => setBy(e.target.value)}>
          <option value="">{tr("everybody's")}</option>
          {people.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </label>
      {found.isPending ? <Loading what={tr("Reading the log")} /> : null}
      <ErrorLine error={found.error} />
      {found.data && !lines.length ? <p className="py-4 text-lg text-muted">{tr("Nothing yet.")}</p> : null}
      <ul>
        {lines.map((line) => (
          <li
            key={line.id}
            className="grid min-h-14 grid-cols-[190px_200px_1fr] items-center gap-4 border-b border-hairline text-lg max-[900px]:flex max-[900px]:flex-wrap max-[900px]:gap-y-0"
          >
            <span className="text-muted">{whenWords(line.at)}</span>
            <b>{line.who}</b>
            <span>
              {line.player && line.player_id ? (
                <Link to="/players/$playerId" params={{ playerId: line.player_id }} className="inline-flex min-h-14 items-center underline underline-offset-4">
                  {line.player}
                </Link>
              ) : null}
              {line.player ? ": " : ""}
              <span>{tr("{what} {how}", { what: line.what, how: line.how })}</span>
              {line.fields ? <span className="text-muted">{` (${line.fields})`}</span> : null}
            </span>
          </li>
        ))}
      </ul>
      {found.hasNextPage ? (
        <Button className="mt-3" onClick={() => void found.fetchNextPage()} disabled={found.isFetchingNextPage}>
          {tr("Earlier")}
        </Button>
      ) : null}
    </section>
  );
}
