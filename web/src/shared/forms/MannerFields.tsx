import { LANGUAGES, type Manner } from "@/lib/manner";
import { tr } from "@/lib/language";
import { Choice } from "@/shared/ui/controls";

/** Choices of somebody's own; an empty one is the academy's. */
export type OwnManner = { [K in keyof Manner]: Manner[K] | "" };

export const AS_ACADEMY: OwnManner = { language: "", lengths: "", distances: "", clock: "" };

interface Props<T> {
  value: T;
  onChange: (part: Partial<T>) => void;
  /** The academy's own manner can be chosen for each. */
  own?: boolean;
}

/** In which language, units and clock something is said. */
export function MannerFields<T extends OwnManner>({ value, onChange, own = false }: Props<T>) {
  const first = own ? [{ id: "" as const, label: tr("As the academy") }] : [];
  const set = (key: keyof Manner) => (chosen: string) => onChange({ [key]: chosen } as Partial<T>);
  return (
    <>
      <Choice
        label={tr("Language")}
        value={value.language}
        onChange={set("language")}
        options={[...first, ...Object.entries(LANGUAGES).map(([id, label]) => ({ id: id as Manner["language"], label }))]}
      />
      <Choice
        label={tr("Lengths")}
        value={value.lengths}
        onChange={set("lengths")}
        options={[...first, { id: "cm", label: tr("Centimetres") }, { id: "in", label: tr("Inches") }]}
      />
      <Choice
        label={tr("Distances")}
        value={value.distances}
        onChange={set("distances")}
        options={[...first, { id: "m", label: tr("Metres") }, { id: "ft", label: tr("Feet") }]}
      />
      <Choice
        label={tr("Clock")}
        value={value.clock}
        onChange={set("clock")}
        options={[...first, { id: "24", label: tr("24 hours") }, { id: "12", label: tr("12 hours") }]}
      />
    </>
  );
}
