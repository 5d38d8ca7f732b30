import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useRef } from "react";

import { api, data } from "@/api/client";
import { bringRound, takeHandedOver } from "@/api/hooks";
import { useImport } from "@/api/jobs";
import { keys } from "@/api/keys";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { Working } from "@/shared/ui/Working";
import { tr, trn } from "@/lib/language";

/** The rounds of a player, and bringing another: a zip with the clips' logs. */
export function Rounds({ playerId, day }: { playerId: string; day: (iso: string) => string }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const field = useRef<HTMLInputElement>(null);
  const rounds = useQuery({
    queryKey: keys.rounds(playerId),
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}/rounds", { params: { path: { player_id: playerId } }, signal })),
  });
  const handed = useQuery({
    queryKey: keys.handedOver(playerId),
    refetchInterval: 15_000, // a dock may be handing over just now
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}/handed-over", { params: { path: { player_id: playerId } }, signal })),
  });
  const bring = useImport(
    (what: File | { log: string }) => (what instanceof File ? bringRound(playerId, what) : takeHandedOver(playerId, what.log)),
    async (job) => {
      await Promise.all([keys.rounds(playerId), keys.handedOver(playerId)].map((queryKey) => client.invalidateQueries({ queryKey })));
      if (job.round_id) await navigate({ to: "/rounds/$roundId", params: { roundId: job.round_id } });
    },
  );
  return (
    <div className="mt-6">
      <div className="flex items-center justify-between gap-4">
        <h2 className="text-2xl font-bold">{tr("Rounds")}</h2>
        <Button onClick={() => field.current?.click()} disabled={bring.isPending}>
          {tr("Bring a round")}
        </Button>
      </div>
      {handed.data?.map((x) => (
        <div key={x.key} className="flex flex-wrap items-center gap-4 border-b border-hairline py-2 text-xl">
          <p className="min-w-0 flex-1">
            {tr("Handed over in {bay}: {n}, {day}", { bay: x.bay, n: trn("{count} club", "{count} clubs", x.clubs.length), day: day(x.began) })}
            <span className="block text-lg text-muted">{tr("{device}, nobody's yet", { device: x.device })}</span>
          </p>
          <Button disabled={bring.isPending} onClick={() => bring.mutate({ log: x.key })}>
            {tr("It is this player's")}
          </Button>
        </div>
      ))}
      <ol>
        {rounds.data?.map((r) => (
          <li key={r.id} className="border-b border-hairline">
            <Link
              to="/rounds/$roundId"
              params={{ roundId: r.id }}
              className="grid min-h-[76px] grid-cols-[200px_1fr] items-center gap-4 py-3 max-[700px]:grid-cols-1"
            >
              <span className="text-xl font-bold">{day(r.played_at)}</span>
              <span className="text-xl">{`${trn("{count} shot", "{count} shots", r.shots)}, ${trn("{count} putt", "{count} putts", r.putts)}, ${trn("{count} practice swing", "{count} practice swings", r.practice)}`}</span>
            </Link>
          </li>
        ))}
      </ol>
      {rounds.data?.length === 0 && !bring.job ? (
        <p className="mt-1 text-xl text-muted">{tr("None yet. A round is the log of the clips on the clubs: a .zip, or handed over by a dock in a bay.")}</p>
      ) : null}
      {bring.job ? <Working job={bring.job} label={tr("Reading the round")} onStop={bring.stop} /> : null}
      <ErrorLine error={bring.error ?? rounds.error ?? handed.error} />
      <input
        ref={field}
        type="file"
        accept=".zip,application/zip"
        className="hidden"
        aria-label={tr("Log of a round")}
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) bring.mutate(file);
          e.target.value = "";
        }}
      />
    </div>
  );
}
