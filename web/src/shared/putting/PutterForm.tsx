import { useState } from "react";

import type { Putting } from "@/api/putting";
import { Button, Choice, Field, inputLook } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

type Putter = NonNullable<Putting["noted"]>["putter"];

interface Props {
  putter: Putter;
  busy: boolean;
  onNote: (putter: Putter) => void;
}

const PIVOTS: { id: Putter["pivot"]; label: string }[] = [
  { id: "fitted", label: tr("As it fits best") },
  { id: "sternum", label: tr("Sternum") },
  { id: "shoulders", label: tr("Between the shoulders") },
  { id: "grip", label: tr("Top of the grip") },
];

const cm = (m: number | null | undefined): string => (m === null || m === undefined ? "" : String(Math.round(1000 * m) / 10));
const metres = (text: string): number | null => (text.trim() === "" ? null : Math.round(10 * Number(text.replace(",", "."))) / 1000);

/** The putter's measures, with which a sensor on it says where head and handle are, and about what its free pendulum turns. */
export function PutterForm({ putter, busy, onNote }: Props) {
  const [typed, setTyped] = useState({
    length: cm(putter.length_m),
    lie: String(putter.lie_deg),
    offset: cm(putter.head_offset_m),
    sensor: cm(putter.sensor_m),
    height: cm(putter.pivot_height_m),
  });
  const [pivot, setPivot] = useState(putter.pivot);
  const set = (part: Partial<typeof typed>) => setTyped((old) => ({ ...old, ...part }));
  const wrong = Object.values(typed).some((text) => !Number.isFinite(Number(text.replace(",", "."))));
  const needsHeight = pivot === "sternum" || pivot === "shoulders";
  const field = (label: string, key: keyof typeof typed, note = "") => (
    <Field label={label} note={note}>
      <input className={inputLook} inputMode="decimal" value={typed[key]} onChange={(e) => set({ [key]: e.target.value })} />
    </Field>
  );
  return (
    <form
      className="space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        onNote({
          length_m: metres(typed.length),
          lie_deg: Number(typed.lie.replace(",", ".")) || 70,
          head_offset_m: metres(typed.offset) ?? 0,
          sensor_m: metres(typed.sensor) ?? 0.3,
          pivot,
          pivot_height_m: needsHeight ? metres(typed.height) : null,
        });
      }}
    >
      <p className="text-muted">{tr("The free pendulum turns about")}</p>
      <Choice label={tr("The free pendulum turns about")} value={pivot} onChange={setPivot} options={PIVOTS} />
      {needsHeight ? field(tr("Height over the ground, cm"), "height", tr("Over the grip end. Where markers on the body show it, they say where.")) : null}
      <p className="mt-2 text-muted">{tr("With its length, a sensor on the shaft also says where head and handle are.")}</p>
      <div className="grid grid-cols-4 items-end gap-4 max-[900px]:grid-cols-2">
        {field(tr("Length, cm"), "length")}
        {field(tr("Sensor below the grip end, cm"), "sensor")}
        {field(tr("Sweet spot from the shaft, cm"), "offset")}
        {field(tr("Lie, degrees"), "lie")}
      </div>
      {wrong ? <p className="text-lg">{tr("Write numbers, like 86.5.")}</p> : null}
      <Button tone="solid" type="submit" disabled={busy || wrong} className="mt-3">
        {tr("Measure with these")}
      </Button>
    </form>
  );
}
