import { useState } from "react";

import type { Schemas } from "@/api/client";
import type { Choice } from "@/lib/plan";
import { Button, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

/** A priority of the instructor's own, seen by eye and not measured; it is put first. */
export function OwnSheet({
  open,
  onClose,
  drills,
  onAdd,
}: {
  open: boolean;
  onClose: () => void;
  drills: Schemas["DrillInfo"][];
  onAdd: (choice: Choice) => void;
}) {
  const [label, setLabel] = useState("");
  const [reason, setReason] = useState("");
  const [drill, setDrill] = useState("");
  const add = () => {
    onAdd({ finding: "", label: label.trim(), drill, why: "", override_reason: reason.trim() });
    setLabel("");
    setReason("");
    setDrill("");
  };
  return (
    <Sheet open={open} onClose={onClose} title={tr("A priority of your own")}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <Field label={tr("What to work on, in words the player understands")}>
          <input className={inputLook} required maxLength={200} value={label} onChange={(e) => setLabel(e.target.value)} />
        </Field>
        <Field label={tr("Drill")}>
          <select className={inputLook} value={drill} onChange={(e) => setDrill(e.target.value)}>
            <option value="">{tr("none")}</option>
            {drills.map((d) => (
              <option key={d.id} value={d.id}>
                {d.label}
              </option>
            ))}
          </select>
        </Field>
        <Field label={tr("Why it comes first")}>
          <input className={inputLook} required maxLength={1000} value={reason} onChange={(e) => setReason(e.target.value)} />
        </Field>
        <p className="text-lg text-muted">
          {tr("It carries no number, and is said to be seen by you. Drills that do not suit the player today are left out.")}
        </p>
        <Button tone="solid" type="submit" disabled={!label.trim() || !reason.trim()}>
          {tr("Put it first")}
        </Button>
      </form>
    </Sheet>
  );
}
