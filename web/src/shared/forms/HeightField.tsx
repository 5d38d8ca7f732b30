import { useState } from "react";

import { manner } from "@/lib/manner";
import { CM_PER_INCH } from "@/lib/units";
import { Field, inputLook } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  metres: number | null;
  onChange: (metres: number | null) => void;
}

/** How tall somebody is, in the page's lengths. */
export function HeightField({ metres, onChange }: Props) {
  return manner().lengths === "in" ? (
    <FeetAndInches metres={metres} onChange={onChange} />
  ) : (
    <Field label={tr("Height (cm)")}>
      <input
        className={inputLook}
        type="number"
        min={60}
        max={270}
        value={metres ? Math.round(metres * 100) : ""}
        onChange={(e) => onChange(e.target.value ? Number(e.target.value) / 100 : null)}
      />
    </Field>
  );
}

function FeetAndInches({ metres, onChange }: Props) {
  const inches = metres === null ? null : Math.round((100 * metres) / CM_PER_INCH);
  const [feet, setFeet] = useState(inches === null ? "" : String(Math.floor(inches / 12)));
  const [rest, setRest] = useState(inches === null ? "" : String(inches % 12));
  const say = (f: string, r: string) => {
    setFeet(f);
    setRest(r);
    onChange(f === "" ? null : ((12 * Number(f) + Number(r || 0)) * CM_PER_INCH) / 100);
  };
  return (
    <div className="grid grid-cols-2 gap-4">
      <Field label={tr("Height: feet")}>
        <input className={inputLook} type="number" min={2} max={8} value={feet} onChange={(e) => say(e.target.value, rest)} />
      </Field>
      <Field label={tr("and inches")}>
        <input className={inputLook} type="number" min={0} max={11} value={rest} onChange={(e) => say(feet, e.target.value)} />
      </Field>
    </div>
  );
}
