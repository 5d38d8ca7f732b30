import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { dayWords } from "@/lib/dates";
import { term } from "@/lib/terms";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, ErrorLine, inputLook, Loading } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { TopLine } from "@/shared/ui/TopLine";

import { BringSheet } from "./BringSheet";
import { emptyPlayer, PlayerForm } from "./PlayerForm";
import { tr } from "@/lib/language";

const day = (iso: string) => dayWords(iso);

/** A player with what one looks for in a list: who they are, what they work on, when they were and will be here. */
function Listed({ player: p }: { player: Schemas["PlayerListed"] }) {
  const about = [p.handedness === "left" ? tr("left-handed") : "", p.population === "adult" ? "" : term(p.population), p.consent ? "" : tr("no consent noted")];
  const when = [p.last_lesson ? tr("last {day}", { day: day(p.last_lesson) }) : "", p.next_lesson ? tr("next {day}", { day: day(p.next_lesson) }) : ""];
  return (
    <Link to="/players/$playerId" params={{ playerId: p.id }} className="grid min-h-[84px] grid-cols-[1fr_auto] content-center gap-x-4 py-2">
      <span className="text-2xl leading-tight">
        {p.name}
        {p.limits ? <span className="ml-3 border-l-4 border-ink pl-2 text-lg font-bold">{tr("limits")}</span> : null}
      </span>
      <span className="text-right text-lg leading-tight text-muted">{about.filter(Boolean).join(" · ")}</span>
      <span className="text-lg leading-tight text-muted max-[700px]:col-span-2">
        {p.priority || (p.last_lesson ? tr("nothing to change") : tr("not seen yet"))}
      </span>
      <span className="text-right text-lg whitespace-nowrap text-muted max-[700px]:col-span-2 max-[700px]:text-left">{when.filter(Boolean).join(" · ")}</span>
    </Link>
  );
}

/** All players by name, with search. */
export function Players() {
  const [q, setQ] = useState("");
  const [adding, setAdding] = useState(false);
  const [bringing, setBringing] = useState(false);
  const navigate = useNavigate();
  const client = useQueryClient();
  const players = useQuery({
    queryKey: keys.players(q),
    queryFn: ({ signal }) => data(api.GET("/api/players", { params: { query: { q } }, signal })),
    placeholderData: (old) => old,
  });
  const add = useMutation({
    mutationFn: (body: Schemas["PlayerIn"]) => data(api.POST("/api/players", { body })),
    onSuccess: async (player) => {
      await client.invalidateQueries({ queryKey: keys.players() });
      await navigate({ to: "/players/$playerId", params: { playerId: player.id } });
    },
  });
  return (
    <div className="flex h-full flex-col">
      <TopLine title={tr("Players")} />
      <div className="flex items-center gap-4 px-7 py-4 max-[700px]:px-4">
        <input
          className={inputLook}
          type="search"
          placeholder={tr("Find by name")}
          aria-label={tr("Find by name")}
          value={q}
          onChange={(e) => setQ(e.target.value)}
        />
        <Button tone="solid" className="flex-none" onClick={() => setAdding(true)}>
          {tr("New player")}
        </Button>
        <Button className="flex-none max-[700px]:hidden" aria-haspopup="dialog" onClick={() => setBringing(true)}>
          {tr("Bring one")}
        </Button>
      </div>
      {players.isPending ? <Loading what={tr("Looking")} /> : null}
      <div className="px-7">
        <ErrorLine error={players.error} />
      </div>
      <ul className="grid min-h-0 flex-1 grid-cols-2 content-start gap-x-10 overflow-y-auto px-7 pb-8 max-[900px]:grid-cols-1 max-[700px]:px-4">
        {players.data?.map((p) => (
          <li key={p.id} className="border-b border-hairline">
            <Listed player={p} />
          </li>
        ))}
        {players.data?.length === 0 ? (
          <li className="py-8 text-xl text-muted">{q ? tr("Nobody is called “{q}”.", { q }) : tr("No players yet. Add the first one.")}</li>
        ) : null}
      </ul>
      <BringSheet open={bringing} onClose={() => setBringing(false)} />
      <Sheet open={adding} onClose={() => setAdding(false)} title={tr("New player")}>
        <PlayerForm initial={emptyPlayer} submit={tr("Add player")} pending={add.isPending} error={add.error} onSubmit={(body) => add.mutate(body)} />
      </Sheet>
    </div>
  );
}
