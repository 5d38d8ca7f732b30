import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useRef } from "react";

import { bringPlayer } from "@/api/hooks";
import { useImport } from "@/api/jobs";
import { keys } from "@/api/keys";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { Working } from "@/shared/ui/Working";
import { tr } from "@/lib/language";

/** The export of a player or a lesson, from here or from another academy, as a new player. */
export function BringSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const field = useRef<HTMLInputElement>(null);
  const bring = useImport(bringPlayer, async (job) => {
    await client.invalidateQueries({ queryKey: keys.players() });
    if (job.player_id) await navigate({ to: "/players/$playerId", params: { playerId: job.player_id } });
  });
  return (
    <Sheet open={open} onClose={onClose} title={tr("Bring a player")}>
      <div className="grid gap-4 text-lg">
        <p>
          {tr(
            "The export of a player or of a lesson (a .zip) becomes a new player here, with everything that was captured, marked, planned and agreed to. Lessons are yours from then on. What another academy judged by its own ranges is judged by yours.",
          )}
        </p>
        {bring.job ? (
          <Working job={bring.job} label={tr("Bringing the player")} onStop={bring.stop} />
        ) : (
          <div>
            <Button tone="solid" onClick={() => field.current?.click()} disabled={bring.isPending}>
              {tr("Choose the file")}
            </Button>
          </div>
        )}
        <ErrorLine error={bring.error} />
        <input
          ref={field}
          type="file"
          accept=".zip,application/zip"
          className="hidden"
          aria-label={tr("Export of a player or a lesson")}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) bring.mutate(file);
            e.target.value = "";
          }}
        />
      </div>
    </Sheet>
  );
}
