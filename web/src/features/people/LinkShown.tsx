import { useState } from "react";

import { tr } from "@/lib/language";
import { Button } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

/** A link, this once: it is kept as a hash only. */
export function LinkShown({ link, onClose }: { link: { path: string; name: string } | null; onClose: () => void }) {
  const [copied, setCopied] = useState("");
  const address = link ? `${window.location.origin}${link.path}` : "";
  return (
    <Sheet open={link !== null} onClose={onClose} title={tr("A link for {name}", { name: link?.name ?? "" })}>
      <div className="space-y-4">
        <p className="text-lg">{tr("It works once, for 24 hours, and is shown this once. Hand it over yourself.")}</p>
        <p className="rounded-lg border-2 border-hairline p-3 text-lg break-all select-all">{address}</p>
        <Button tone="solid" onClick={() => void navigator.clipboard.writeText(address).then(() => setCopied(address))}>
          {copied && copied === address ? tr("Copied") : tr("Copy")}
        </Button>
      </div>
    </Sheet>
  );
}
