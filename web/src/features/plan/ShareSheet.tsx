import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { QRCodeSVG } from "qrcode.react";
import { useState } from "react";
import { dayWords } from "@/lib/dates";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, Choice, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr, trn } from "@/lib/language";

const DAYS = [
  { id: "7", label: tr("A week") },
  { id: "30", label: tr("A month") },
  { id: "90", label: tr("Three months") },
] as const;

const day = (at: string) => dayWords(at, "dated");

type Purpose = Schemas["LinkOut"]["purpose"];

const SAID: Record<Purpose, { title: string; words: string }> = {
  page: {
    title: tr("A link for the player"),
    words: tr(
      "It opens the page on any phone, without an account, read only. Pain, limits, your name and coming dates are not on it. Whoever has the link can open it.",
    ),
  },
  practice: {
    title: tr("Practice on the player's phone"),
    words: tr(
      "It opens the plan's days on any phone, without an account, also offline after the first visit. Ticks, moved days and pain come back here. Whoever has the link can open it.",
    ),
  },
};

/** A link that opens the page, or the practice, on the player's own phone, for a while; it can be taken back. */
export function ShareSheet({ open, onClose, lessonId, purpose = "page" }: { open: boolean; onClose: () => void; lessonId: string; purpose?: Purpose }) {
  const client = useQueryClient();
  const [days, setDays] = useState<(typeof DAYS)[number]["id"]>("30");
  const [copied, setCopied] = useState(false);
  const at = { params: { path: { lesson_id: lessonId } } };
  const links = useQuery({
    queryKey: keys.links(lessonId),
    enabled: open,
    queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/links", { ...at, signal })),
  });
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.links(lessonId) });
  const make = useMutation({
    mutationFn: () => data(api.POST("/api/lessons/{lesson_id}/links", { ...at, body: { days: Number(days), purpose } })),
    onSuccess,
  });
  const revoke = useMutation({
    mutationFn: (link_id: string) => data(api.DELETE("/api/links/{link_id}", { params: { path: { link_id } } })),
    onSuccess: () => {
      make.reset();
      return onSuccess();
    },
  });
  const mine = (links.data ?? []).filter((x) => x.purpose === purpose);
  const link = make.data ? `${window.location.origin}${make.data.path}` : "";
  return (
    <Sheet open={open} onClose={onClose} title={SAID[purpose].title}>
      <div className="grid gap-4 text-lg">
        <p>{SAID[purpose].words}</p>
        {make.data ? (
          <>
            <QRCodeSVG value={link} size={220} marginSize={3} title={tr("The link as a code for the phone's camera")} />
            <p className="break-all select-all">{link}</p>
            <div className="flex items-center gap-4">
              <Button tone="solid" onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}>
                {tr("Copy")}
              </Button>
              <span className="text-muted" aria-live="polite">
                {copied ? tr("Copied.") : tr("It is not shown again.")}
              </span>
            </div>
          </>
        ) : (
          <>
            <Choice label={tr("It opens for")} value={days} onChange={setDays} options={[...DAYS]} />
            <div>
              <Button tone="solid" onClick={() => make.mutate()} disabled={make.isPending}>
                {tr("Make the link")}
              </Button>
            </div>
          </>
        )}
        <ErrorLine error={make.error ?? revoke.error ?? links.error} />
        {mine.length ? (
          <ul aria-label={tr("Links that were made")}>
            {mine.map((x) => (
              <OneLink key={x.id} link={x} busy={revoke.isPending} onRevoke={() => revoke.mutate(x.id)} />
            ))}
          </ul>
        ) : null}
      </div>
    </Sheet>
  );
}

function OneLink({ link, busy, onRevoke }: { link: Schemas["LinkOut"]; busy: boolean; onRevoke: () => void }) {
  const seen = link.opened ? trn("opened once", "opened {count} times", link.opened) : tr("not opened yet");
  return (
    <li className="flex min-h-14 items-center gap-3 border-t border-hairline py-1">
      <span className="flex-1">
        {link.open ? tr("Open until {day}", { day: day(link.expires_at) }) : tr("Not open any more")}, <span className="text-muted">{seen}</span>
      </span>
      {link.open ? (
        <Button className="px-4" onClick={onRevoke} disabled={busy}>
          {tr("Take back")}
        </Button>
      ) : null}
    </li>
  );
}
