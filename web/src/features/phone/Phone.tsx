import { useState } from "react";

import { Button, Choice } from "@/shared/ui/controls";

import { usePhone, type Segment } from "./usePhone";
import { doing, TROUBLES, WHERE } from "./words";
import { tr } from "@/lib/language";

/** The code in the link: where the phone is strapped, and the bay's token. It stays in the phone: what follows # is never sent. */
function codeOf(hash: string): { segment: Segment; token: string } | null {
  const [where, ...rest] = hash.replace(/^#/, "").split(".");
  const token = rest.join(".");
  return (where === "pelvis" || where === "thorax") && token ? { segment: where, token } : null;
}

/** A phone strapped to pelvis or upper back, as a sensor of its bay. It shows nothing of players. */
export function Phone() {
  const [code] = useState(() => codeOf(window.location.hash));
  return (
    <main className="mx-auto flex h-full max-w-[560px] flex-col gap-5 px-5 py-6">
      <p className="text-lg text-muted">{tr("Fine Arc · phone as sensor")}</p>
      {code ? (
        <Sensor token={code.token} first={code.segment} />
      ) : (
        <h1 className="text-[32px] leading-tight font-bold">{tr("This link has no code. Open the one that the screen of the bays shows.")}</h1>
      )}
    </main>
  );
}

function Sensor({ token, first }: { token: string; first: Segment }) {
  const [segment, setSegment] = useState<Segment>(first);
  const phone = usePhone(token);
  const link = phone.link;
  const trouble = phone.trouble ? TROUBLES[phone.trouble] : null;
  if (!phone.running || trouble) {
    return (
      <>
        <h1 className="text-[34px] leading-tight font-bold">{trouble ? trouble[0] : tr("Strap the phone to {at}.", { at: WHERE[segment].at })}</h1>
        <p className="text-xl">
          {trouble ? trouble[1] : tr("Flat against the body and tight: it must not rock. Any way round will do. Start it first, then strap it on.")}
        </p>
        <Choice
          label={tr("Where the phone is worn")}
          value={segment}
          options={(["pelvis", "thorax"] as const).map((id) => ({ id, label: WHERE[id].name }))}
          onChange={setSegment}
        />
        <Button
          tone="solid"
          className="h-20 text-2xl"
          onClick={() => {
            phone.stop();
            void phone.start(segment);
          }}
        >
          {trouble ? tr("Try again") : tr("Start")}
        </Button>
        <p className="mt-auto text-lg text-muted">
          {tr("It tells the bay how it moves, nothing else, and only while this page is open. Stop at any pain from the strap.")}
        </p>
      </>
    );
  }
  return (
    <>
      <p className="text-2xl">{WHERE[segment].name}</p>
      <h1 className="text-[44px] leading-tight font-bold" aria-live="polite">
        {doing(link)}
      </h1>
      {link?.notice ? <p className="border-l-4 border-rust pl-3 text-xl">{link.notice}</p> : null}
      <p className="text-xl tabular-nums" data-testid="rate">
        {phone.rate ? tr("{rate} readings a second", { rate: phone.rate }) : tr("Waiting for the phone's sensors …")}
        {link ? (
          <span className="block text-muted">
            {link.sent - link.safe > 2 * phone.rate ? tr("What it sends is kept here until it has arrived.") : tr("All that was sent has arrived.")}
          </span>
        ) : null}
      </p>
      <p className="text-lg text-muted">{tr("Leave this page open and the screen on: a dark phone measures nothing.")}</p>
      <Button className="mt-auto h-20 text-2xl" onClick={phone.stop}>
        {tr("Stop")}
      </Button>
    </>
  );
}
