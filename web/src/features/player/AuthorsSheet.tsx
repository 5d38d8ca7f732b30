import { useQuery } from "@tanstack/react-query";
import { whenWords } from "@/lib/dates";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";
import { ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

const when = whenWords;

/** Who changed what of a player, the latest first. */
export function AuthorsSheet({ playerId, open, onClose }: { playerId: string; open: boolean; onClose: () => void }) {
  const told = useQuery({
    queryKey: keys.authors(playerId),
    enabled: open,
    staleTime: 0,
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}/authors", { params: { path: { player_id: playerId } }, signal })),
  });
  return (
    <Sheet open={open} onClose={onClose} title={tr("Who changed what")}>
      <ol>
        {told.data?.map((t, k) => (
          <li key={k} className="border-b border-hairline py-2 text-lg">
            <b>{t.who}</b>, {when(t.at)}
            <span className="block text-muted">{t.what}</span>
          </li>
        ))}
      </ol>
      {told.data?.length === 0 ? <p className="text-xl">{tr("Nothing was changed since changes have their author.")}</p> : null}
      <ErrorLine error={told.error} />
    </Sheet>
  );
}
