import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { dayWords } from "@/lib/dates";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

type As = Schemas["ConsentIn"]["as"];
const day = (iso: string) => dayWords(iso, "full");

interface Props {
  player: Schemas["PlayerOut"];
  open: boolean;
  onClose: () => void;
  onErase: () => void;
  /** After the player's own record is put in place. */
  onChanged?: () => unknown;
}

/** Who agreed that data are kept; noting it, and taking it back. */
export function ConsentSheet({ player, open, onClose, onErase, onChanged }: Props) {
  const junior = player.population === "junior";
  const [by, setBy] = useState("");
  const [as, setAs] = useState<As>(junior ? "guardian" : "player");
  const client = useQueryClient();
  const at = { params: { path: { player_id: player.id } } };
  const told = useQuery({
    queryKey: keys.consents(player.id),
    enabled: open,
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}/consents", { ...at, signal })),
  });
  const onSuccess = (changed: Schemas["PlayerOut"]) => {
    setBy("");
    client.setQueryData(keys.player(player.id), changed);
    void client.invalidateQueries({ queryKey: keys.consents(player.id) });
    return onChanged?.();
  };
  const give = useMutation({ mutationFn: () => data(api.POST("/api/players/{player_id}/consents", { ...at, body: { by, as } })), onSuccess });
  const withdraw = useMutation({ mutationFn: () => data(api.DELETE("/api/players/{player_id}/consents", at)), onSuccess });
  const withdrawn = told.data?.[0]?.given === false;
  return (
    <Sheet open={open} onClose={onClose} title={tr("Consent")}>
      <div className="space-y-6">
        <ol>
          {told.data?.map((c, k) => (
            <li key={k} className="border-b border-hairline py-2 text-lg">
              <b>{c.given ? tr("Given by {by}", { by: c.by }) : tr("Taken back")}</b>
              {c.given && c.as === "guardian" ? tr(", parent or guardian") : ""}
              <span className="block text-base text-muted">
                {day(c.at)}
                {c.noted_by ? tr(", noted by {noted_by}", { noted_by: c.noted_by }) : ""}
              </span>
            </li>
          ))}
          {told.data?.length === 0 ? <li className="text-lg">{tr("Nobody has consented yet. Without it nothing is kept past a lesson.")}</li> : null}
        </ol>
        {player.consent_at ? (
          <section className="space-y-3">
            <p className="text-lg">{tr("Taken back, nothing more is captured, measured or compared. What there is can be exported and erased.")}</p>
            <Button onClick={() => withdraw.mutate()} disabled={withdraw.isPending}>
              {tr("It is taken back")}
            </Button>
          </section>
        ) : (
          <form
            className="space-y-3"
            onSubmit={(e) => {
              e.preventDefault();
              give.mutate();
            }}
          >
            <Field label={as === "guardian" ? tr("Name of the parent or guardian") : tr("Name")}>
              <input className={inputLook} required value={by} onChange={(e) => setBy(e.target.value)} />
            </Field>
            {junior ? (
              <p className="text-muted">{tr("A junior’s data are kept with a parent’s or guardian’s consent.")}</p>
            ) : (
              <Choice
                label={tr("Who agrees")}
                value={as ?? "player"}
                onChange={setAs}
                options={[
                  { id: "player", label: tr("The player") },
                  { id: "guardian", label: "A guardian" },
                ]}
              />
            )}
            <Button tone="solid" type="submit" disabled={give.isPending}>
              {tr("Note the consent")}
            </Button>
          </form>
        )}
        {withdrawn ? (
          <section className="flex flex-wrap gap-3">
            <a
              className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
              href={`/api/players/${player.id}/export`}
              download
            >
              {tr("Export")}
            </a>
            <Button onClick={onErase}>{tr("Erase …")}</Button>
          </section>
        ) : null}
        <ErrorLine error={told.error ?? give.error ?? withdraw.error} />
      </div>
    </Sheet>
  );
}
