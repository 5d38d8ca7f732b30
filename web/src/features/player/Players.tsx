import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, ErrorLine, inputLook, Loading } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { TopLine } from "@/shared/ui/TopLine";

import { emptyPlayer, PlayerForm } from "./PlayerForm";

/** All players by name, with search. */
export function Players() {
  const [q, setQ] = useState("");
  const [adding, setAdding] = useState(false);
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
      <TopLine title="Players" />
      <div className="flex items-center gap-4 px-7 py-4 max-[700px]:px-4">
        <input className={inputLook} type="search" placeholder="Find by name" aria-label="Find by name" value={q} onChange={(e) => setQ(e.target.value)} />
        <Button tone="solid" className="flex-none" onClick={() => setAdding(true)}>
          New player
        </Button>
      </div>
      {players.isPending ? <Loading what="Looking" /> : null}
      <div className="px-7">
        <ErrorLine error={players.error} />
      </div>
      <ul className="grid min-h-0 flex-1 grid-cols-2 content-start gap-x-10 overflow-y-auto px-7 pb-8 max-[900px]:grid-cols-1 max-[700px]:px-4">
        {players.data?.map((p) => (
          <li key={p.id} className="border-b border-hairline">
            <Link to="/players/$playerId" params={{ playerId: p.id }} className="flex min-h-[68px] items-center justify-between gap-4">
              <span className="text-2xl">{p.name}</span>
              <span className="text-lg text-muted">
                {p.handedness === "left" ? "left-handed" : ""} {p.population === "adult" ? "" : p.population}
                {p.consent ? "" : " · no consent noted"}
              </span>
            </Link>
          </li>
        ))}
        {players.data?.length === 0 ? (
          <li className="py-8 text-xl text-muted">{q ? `Nobody is called “${q}”.` : "No players yet. Add the first one."}</li>
        ) : null}
      </ul>
      <Sheet open={adding} onClose={() => setAdding(false)} title="New player">
        <PlayerForm initial={emptyPlayer} submit="Add player" pending={add.isPending} error={add.error} onSubmit={(body) => add.mutate(body)} />
      </Sheet>
    </div>
  );
}
