import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { tr } from "@/lib/language";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

import { ROLES, type Role } from "./roles";

/** Name, address, role: a link comes of it, which the owner hands over. */
export function Invite(props: { open: boolean; onClose: () => void; onMade: (made: Schemas["StaffLink"], name: string) => void }) {
  const [name, setName] = useState("");
  const [email, setEmail] = useState("");
  const [role, setRole] = useState<Role>("instructor");
  const invite = useMutation({
    mutationFn: () => data(api.POST("/api/people/invitations", { body: { name, email, role } })),
    onSuccess: (made) => {
      props.onMade(made, name);
      setName("");
      setEmail("");
    },
  });
  return (
    <Sheet open={props.open} onClose={props.onClose} title={tr("Invite somebody")}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          invite.mutate();
        }}
      >
        <Field label={tr("Name")}>
          <input className={inputLook} required maxLength={100} value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Field label={tr("E-mail")} note={tr("They sign in with it. Nothing is sent: you hand the link over.")}>
          <input className={inputLook} type="email" required maxLength={200} value={email} onChange={(e) => setEmail(e.target.value)} />
        </Field>
        <Field label={tr("Role")} note={ROLES.find((r) => r.id === role)?.may ?? ""}>
          <select className={inputLook} value={role} onChange={(e) => setRole(e.target.value as Role)}>
            {ROLES.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
              </option>
            ))}
          </select>
        </Field>
        <ErrorLine error={invite.error} />
        <Button tone="solid" type="submit" disabled={invite.isPending}>
          {tr("Make the link")}
        </Button>
      </form>
    </Sheet>
  );
}
