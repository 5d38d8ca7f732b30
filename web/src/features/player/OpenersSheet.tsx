import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";
import { tr } from "@/lib/language";
import { ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

/** Which instructors open a player, and sharing the player with more of them. */
export function OpenersSheet({ playerId, open, onClose }: { playerId: string; open: boolean; onClose: () => void }) {
  const client = useQueryClient();
  const path = { player_id: playerId };
  const found = useQuery({
    queryKey: keys.openers(playerId),
    enabled: open,
    staleTime: 0,
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}/openers", { params: { path }, signal })),
  });
  const share = useMutation({
    mutationFn: (shared_with: string[]) => data(api.PUT("/api/players/{player_id}/openers", { params: { path }, body: { shared_with } })),
    onSuccess: (now) => client.setQueryData(keys.openers(playerId), now),
  });
  const told = found.data;
  const shared = told?.openers.filter((o) => o.shared).map((o) => o.id) ?? [];
  return (
    <Sheet open={open} onClose={onClose} title={tr("Who opens this player")}>
      {told ? (
        <p className="text-lg">
          {told.apart
            ? tr("Owners, whoever teaches the player, and whom you choose here.")
            : tr("Every instructor of the academy. An owner can keep players apart, under People; then this holds:")}
        </p>
      ) : null}
      <ul>
        {told?.openers.map((o) => (
          <li key={o.id} className="border-b border-hairline">
            <label className="flex min-h-16 items-center gap-4 text-xl">
              <input
                type="checkbox"
                className="size-7 accent-[var(--ink)]"
                checked={o.taught || o.shared}
                disabled={o.taught || share.isPending}
                onChange={(e) => share.mutate(e.target.checked ? [...shared, o.id] : shared.filter((id) => id !== o.id))}
              />
              <span>
                {o.name}
                {o.taught ? <span className="block text-base text-muted">{tr("teaches the player")}</span> : null}
              </span>
            </label>
          </li>
        ))}
      </ul>
      {told?.openers.length === 0 ? <p className="text-xl">{tr("Nobody teaches here but owners, who open everybody.")}</p> : null}
      <ErrorLine error={found.error ?? share.error} />
    </Sheet>
  );
}
