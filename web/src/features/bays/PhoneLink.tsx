import { useMutation, useQueryClient } from "@tanstack/react-query";
import { QRCodeSVG } from "qrcode.react";
import { useState } from "react";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, Choice, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

const WHERE = [
  { id: "pelvis", label: tr("Pelvis") },
  { id: "thorax", label: tr("Upper back") },
] as const;
type Where = (typeof WHERE)[number]["id"];

/** What hinders a phone from following a link to this address, in words. */
export function hindrance(at: { protocol: string; hostname: string }): string {
  if (["localhost", "127.0.0.1", "[::1]"].includes(at.hostname))
    return tr("This address is of this machine alone. For a phone, open Fine Arc by the address it has in your network, over https, and make the link there.");
  if (at.protocol !== "https:")
    return tr(
      "Over plain http a phone's browser gives no motion. Put TLS in front of Fine Arc (see TLS for phones in the documentation) and make the link there.",
    );
  return "";
}

/** A link with a code that makes a phone a sensor of the bay; the code is shown this once. */
export function PhoneLink({ bay, onClose }: { bay: string; onClose: () => void }) {
  const client = useQueryClient();
  const [where, setWhere] = useState<Where>("pelvis");
  const make = useMutation({
    mutationFn: () =>
      data(api.POST("/api/bays/tokens", { body: { bay, name: tr("phone, {what}", { what: WHERE.find((w) => w.id === where)!.label.toLowerCase() }) } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.bays }),
  });
  const link = make.data ? `${window.location.origin}/phone#${where}.${make.data.token}` : "";
  const hinders = hindrance(window.location);
  return (
    <Sheet open onClose={onClose} title={tr("A phone as sensor in {bay}", { bay })}>
      {make.data ? (
        <div className="grid gap-4 text-xl">
          <div className="flex flex-wrap items-center gap-8">
            <QRCodeSVG value={link} size={260} marginSize={3} title={tr("The link as a code for the phone's camera")} className="flex-none" />
            <p className="min-w-[220px] flex-1">
              {tr("Point the phone's camera at the code and open the link. It is not shown again; revoke it like any token.")}
            </p>
          </div>
          {hinders ? (
            <p className="border-l-4 border-rust pl-3 text-lg" role="alert">
              {hinders}
            </p>
          ) : null}
          <p className="text-lg break-all select-all">{link}</p>
        </div>
      ) : (
        <form
          className="grid gap-4"
          onSubmit={(e) => {
            e.preventDefault();
            make.mutate();
          }}
        >
          <p className="text-xl">{tr("Strapped tight, a phone measures like a body sensor, with fewer readings a second.")}</p>
          <Choice label={tr("Where the phone is worn")} value={where} options={[...WHERE]} onChange={setWhere} />
          <ErrorLine error={make.error} />
          <div>
            <Button tone="solid" type="submit" disabled={make.isPending}>
              {tr("Make the link")}
            </Button>
          </div>
        </form>
      )}
    </Sheet>
  );
}
