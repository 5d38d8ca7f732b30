import { useState } from "react";

import type { Schemas } from "@/api/client";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  areas: Schemas["LimitArea"][];
  pending: boolean;
  error: unknown;
  onSubmit: (body: Schemas["LimitIn"]) => void;
}

/** A limit of movement: where, which, how far it goes in comfort, from when to when. */
export function LimitForm({ areas, pending, error, onSubmit }: Props) {
  const [area, setArea] = useState(areas[0]?.area ?? "back");
  const [side, setSide] = useState<"lead" | "trail" | "both">("both");
  const known = areas.find((a) => a.area === area) ?? areas[0];
  const [movement, setMovement] = useState(known?.movements[0] ?? "turn");
  const [comfortable, setComfortable] = useState("");
  const [from, setFrom] = useState("");
  const [until, setUntil] = useState("");
  const [note, setNote] = useState("");
  const degrees = Number(comfortable.replace(",", "."));
  const bad = comfortable !== "" && !(degrees > 0 && degrees <= 180);
  const choose = (name: string) => {
    setArea(name);
    setMovement(areas.find((a) => a.area === name)?.movements[0] ?? "any");
  };
  return (
    <form
      className="space-y-4"
      onSubmit={(e) => {
        e.preventDefault();
        if (!bad)
          onSubmit({
            area,
            side: known?.sided ? side : "",
            movement,
            note,
            from_date: from || null,
            until_date: until || null,
            comfortable: comfortable === "" ? null : degrees,
          });
      }}
    >
      <div className="grid grid-cols-2 gap-4">
        <Field label={tr("Where")}>
          <select className={inputLook} value={area} onChange={(e) => choose(e.target.value)}>
            {areas.map((a) => (
              <option key={a.area}>{a.area}</option>
            ))}
          </select>
        </Field>
        <Field label={tr("Movement that is limited")}>
          <select className={inputLook} value={movement} onChange={(e) => setMovement(e.target.value)}>
            {(known?.movements ?? ["any"]).map((x) => (
              <option key={x}>{x}</option>
            ))}
          </select>
        </Field>
      </div>
      {known?.sided ? (
        <Field label={tr("Side")}>
          <select className={inputLook} value={side} onChange={(e) => setSide(e.target.value as "lead")}>
            <option value="lead">{tr("lead")}</option>
            <option value="trail">{tr("trail")}</option>
            <option value="both">{tr("both")}</option>
          </select>
        </Field>
      ) : null}
      <Field label={tr("How far it goes in comfort, degrees (leave empty when not known)")}>
        <input className={inputLook} inputMode="decimal" value={comfortable} onChange={(e) => setComfortable(e.target.value)} aria-invalid={bad} />
      </Field>
      {bad ? (
        <p role="alert" className="text-lg">
          {tr("Degrees between 0 and 180, or leave it empty.")}
        </p>
      ) : null}
      <div className="grid grid-cols-2 gap-4">
        <Field label={tr("From")}>
          <input className={inputLook} type="date" value={from} onChange={(e) => setFrom(e.target.value)} />
        </Field>
        <Field label={tr("Until")}>
          <input className={inputLook} type="date" value={until} onChange={(e) => setUntil(e.target.value)} />
        </Field>
      </div>
      <Field label={tr("Note")}>
        <textarea className={inputLook} rows={2} value={note} onChange={(e) => setNote(e.target.value)} />
      </Field>
      <p className="text-lg">{tr("No finding and no drill will ask for more of it. With pain: stop, and see a licensed health professional.")}</p>
      <ErrorLine error={error} />
      <Button tone="solid" type="submit" disabled={pending || bad}>
        {tr("Add limit")}
      </Button>
    </form>
  );
}
