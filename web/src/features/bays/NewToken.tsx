import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

/** Makes a token and shows it this once. */
export function NewToken({ bay, onClose }: { bay: string; onClose: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [copied, setCopied] = useState(false);
  const make = useMutation({
    mutationFn: () => data(api.POST("/api/bays/tokens", { body: { bay, name } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.bays }),
  });
  const command = make.data ? `finearc devices --url ${window.location.origin} --token ${make.data.token}` : "";
  return (
    <Sheet open onClose={onClose} title={tr("A token for {bay}", { bay })}>
      {make.data ? (
        <div className="grid gap-4 text-xl">
          <p>
            {tr("Put it into")} <b>{make.data.name}</b> {tr("now. It is not shown again.")}
          </p>
          <p className="rounded-lg border-2 border-ink p-4 text-lg break-all select-all">{make.data.token}</p>
          <div className="flex items-center gap-4">
            <Button
              tone="solid"
              onClick={() => {
                void navigator.clipboard.writeText(make.data.token).then(() => setCopied(true));
              }}
            >
              {tr("Copy")}
            </Button>
            <span className="text-lg text-muted" aria-live="polite">
              {copied ? tr("Copied.") : ""}
            </span>
          </div>
          <p className="text-lg text-muted">{tr("Without hardware, a simulated player sends with it:")}</p>
          <p className="text-lg break-all select-all">{command}</p>
        </div>
      ) : (
        <form
          className="grid gap-4"
          onSubmit={(e) => {
            e.preventDefault();
            make.mutate();
          }}
        >
          <p className="text-lg text-muted">
            {tr("A device with this token sends into {bay} and hears what the bay is doing. It reads nothing about players.", { bay })}
          </p>
          <Field label={tr("What will send with it")}>
            <input className={inputLook} value={name} maxLength={60} onChange={(e) => setName(e.target.value)} placeholder={tr("wrist pair")} required />
          </Field>
          <ErrorLine error={make.error} />
          <div>
            <Button tone="solid" type="submit" disabled={!name.trim() || make.isPending}>
              {tr("Make the token")}
            </Button>
          </div>
        </form>
      )}
    </Sheet>
  );
}
