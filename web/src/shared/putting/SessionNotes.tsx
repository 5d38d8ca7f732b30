import { useState } from "react";

import type { Given, Putting } from "@/api/putting";
import { Button, Choice, Field, inputLook } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  noted: NonNullable<Putting["noted"]>;
  busy: boolean;
  onNote: (noted: Given<"PuttingNotesIn">) => void;
}

const number = (text: string): number | null => (text.trim() === "" || !Number.isFinite(Number(text)) ? null : Number(text));

/** Green speed, grip, and how the face sits in the hands: of all putts of a fitting. */
export function SessionNotes({ noted, busy, onNote }: Props) {
  const [speed, setSpeed] = useState(noted.green_speed_ft?.toString() ?? "");
  const [grip, setGrip] = useState(noted.putter_grip);
  const [bias, setBias] = useState(noted.face_grip_bias_deg === null ? "" : Math.abs(noted.face_grip_bias_deg).toString());
  const [way, setWay] = useState<"open" | "closed">((noted.face_grip_bias_deg ?? 0) < 0 ? "closed" : "open");
  return (
    <form
      className="border-t border-hairline pt-3"
      onSubmit={(e) => {
        e.preventDefault();
        const turned = number(bias);
        onNote({ green_speed_ft: number(speed), putter_grip: grip, face_grip_bias_deg: turned === null ? null : way === "open" ? turned : -turned });
      }}
    >
      <h3 className="text-xl font-bold">{tr("This fitting")}</h3>
      <div className="grid grid-cols-2 gap-4 max-[700px]:grid-cols-1">
        <Field label={tr("Green speed, feet")}>
          <input className={inputLook} inputMode="decimal" value={speed} onChange={(e) => setSpeed(e.target.value)} placeholder="10.5" />
        </Field>
        <Field label={tr("Grip, in words")}>
          <input className={inputLook} value={grip} maxLength={200} onChange={(e) => setGrip(e.target.value)} />
        </Field>
        <Field label={tr("Face against the hands, degrees")} note={tr("As you see it; leave it empty where you did not look.")}>
          <input className={inputLook} inputMode="decimal" value={bias} onChange={(e) => setBias(e.target.value)} />
        </Field>
        <div className="self-end pb-7">
          <Choice
            label={tr("Which way")}
            value={way}
            onChange={setWay}
            options={[
              { id: "open", label: tr("Open") },
              { id: "closed", label: tr("Closed") },
            ]}
          />
        </div>
      </div>
      <Button tone="solid" type="submit" disabled={busy} className="mt-2">
        {tr("Keep these notes")}
      </Button>
    </form>
  );
}
