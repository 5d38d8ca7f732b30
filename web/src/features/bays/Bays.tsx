import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data } from "@/api/client";
import { useMe } from "@/api/hooks";
import { keys } from "@/api/keys";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";
import { TopLine } from "@/shared/ui/TopLine";

import { DeviceLine } from "./DeviceLine";
import { NewToken } from "./NewToken";
import { PhoneLink } from "./PhoneLink";
import { ScreenCode } from "./ScreenCode";
import { saysBay, STATES, type Bay } from "./words";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";

type Makes = "token" | "phone" | "screen";

/** Every bay: what sends into it, how it is, and with which tokens. */
export function Bays() {
  const bays = useQuery({
    queryKey: keys.bays,
    queryFn: ({ signal }) => data(api.GET("/api/bays", { signal })),
    refetchInterval: 1000,
  });
  const [making, setMaking] = useState<{ bay: string; what: Makes } | null>(null);
  return (
    <div className="flex h-full flex-col">
      <TopLine title={tr("Bays")} />
      <div className="min-h-0 flex-1 overflow-y-auto px-7 py-4 max-[700px]:px-4" tabIndex={0} role="region" aria-label={tr("Bays")}>
        {bays.isPending ? <Loading what={tr("Looking into the bays")} /> : null}
        <ErrorLine error={bays.error} />
        {bays.data?.bays.map((bay) => (
          <BaySection key={bay.name} bay={bay} onMake={(what) => setMaking({ bay: bay.name, what })} />
        ))}
      </div>
      {making?.what === "token" ? <NewToken bay={making.bay} onClose={() => setMaking(null)} /> : null}
      {making?.what === "phone" ? <PhoneLink bay={making.bay} onClose={() => setMaking(null)} /> : null}
      {making?.what === "screen" ? <ScreenCode bay={making.bay} onClose={() => setMaking(null)} /> : null}
    </div>
  );
}

function BaySection({ bay, onMake }: { bay: Bay; onMake: (what: Makes) => void }) {
  const client = useQueryClient();
  const revoke = useMutation({
    mutationFn: (id: string) => data(api.DELETE("/api/bays/tokens/{token_id}", { params: { path: { token_id: id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.bays }),
  });
  const [asked, setAsked] = useState("");
  const fits = may(useMe(), "fit");
  return (
    <section aria-label={bay.name} className="border-b-2 border-hairline py-4 first:pt-0 last:border-0">
      <div className="flex flex-wrap items-baseline gap-x-5">
        <h2 className="text-[28px] leading-tight font-bold">{bay.name}</h2>
        <p className={`text-xl ${bay.trouble ? "border-l-4 border-rust pl-3" : ""}`} role={bay.trouble ? "alert" : undefined}>
          {saysBay(bay)}
        </p>
        <p className="text-lg text-muted">{STATES[bay.state] ?? ""}</p>
      </div>
      <ul className="mt-2 grid grid-cols-2 gap-x-10 max-[1100px]:grid-cols-1" aria-label={tr("Devices in {name}", { name: bay.name })}>
        {bay.devices.map((d) => (
          <DeviceLine key={d.id} device={d} />
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
        {fits && bay.tokens.length ? <span className="text-lg text-muted">{tr("Tokens")}</span> : null}
        {(fits ? bay.tokens : []).map((t) =>
          asked === t.id ? (
            <span key={t.id} className="flex items-center gap-2 text-lg">
              {tr("Whatever sends with {name} is let go.", { name: t.name })}
              <Button onClick={() => revoke.mutate(t.id)} disabled={revoke.isPending}>
                {tr("Revoke it")}
              </Button>
              <Button tone="quiet" onClick={() => setAsked("")}>
                {tr("Keep it")}
              </Button>
            </span>
          ) : (
            <button key={t.id} type="button" className="min-h-14 text-lg underline underline-offset-4" onClick={() => setAsked(t.id)}>
              {t.name}
              <span className="text-muted">{t.used_at ? "" : tr(" · not used yet")}</span>
            </button>
          ),
        )}
        {fits ? <Button onClick={() => onMake("token")}>{tr("New token")}</Button> : null}
        {fits ? <Button onClick={() => onMake("phone")}>{tr("A phone as sensor")}</Button> : null}
        <Button onClick={() => onMake("screen")}>{tr("A second screen")}</Button>
      </div>
      <ErrorLine error={revoke.error} />
    </section>
  );
}
