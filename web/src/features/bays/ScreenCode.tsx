import { useMutation, useQueryClient } from "@tanstack/react-query";
import { QRCodeSVG } from "qrcode.react";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

/** A code with which a second screen follows the bay; shown this once. */
export function ScreenCode({ bay, onClose }: { bay: string; onClose: () => void }) {
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => data(api.POST("/api/bays/screens", { body: { bay } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.bays }),
  });
  const link = make.data ? `${window.location.origin}/screen#${make.data.code}` : "";
  return (
    <Sheet open onClose={onClose} title={tr("A second screen for {bay}", { bay })}>
      {make.data ? (
        <div className="grid gap-4 text-xl">
          <p>{tr("Open this on the other screen, or type the code at {host}/screen. It is not shown again.", { host: window.location.host })}</p>
          <p className="figure text-[44px] leading-none font-bold tracking-[0.12em] select-all">{make.data.code}</p>
          <QRCodeSVG value={link} size={240} marginSize={3} title={tr("The link as a code for a camera")} />
          <p className="text-lg break-all select-all">{link}</p>
        </div>
      ) : (
        <div className="grid gap-4">
          <p className="text-xl">
            {tr(
              "A big display or a tablet follows what happens in {bay}: the movement, the value, the trainer. It shows no names, no notes, nothing of the record.",
              { bay },
            )}
          </p>
          <ErrorLine error={make.error} />
          <div>
            <Button tone="solid" onClick={() => make.mutate()} disabled={make.isPending}>
              {tr("Make the code")}
            </Button>
          </div>
        </div>
      )}
    </Sheet>
  );
}
