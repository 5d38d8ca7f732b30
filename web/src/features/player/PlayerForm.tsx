import { useState } from "react";
import { heightWords } from "@/lib/units";

import { isClash, type Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { Clash, type Edited } from "@/shared/ui/Clash";
import { AS_ACADEMY, MannerFields } from "@/shared/forms/MannerFields";
import { HeightField } from "@/shared/forms/HeightField";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

type PlayerIn = Schemas["PlayerIn"];

export const emptyPlayer: PlayerIn = {
  name: "",
  handedness: "right",
  height_m: null,
  population: "adult",
  goals: "",
  usual_miss: "",
  schools: {},
  consent_by: "",
  consent_as: "",
  words: "plain",
  ...AS_ACADEMY,
};

const FIELDS: Edited<PlayerIn>[] = [
  { key: "name", label: tr("Name") },
  { key: "handedness", label: tr("Plays") },
  { key: "population", label: tr("Age group") },
  { key: "height_m", label: tr("Height"), show: (m) => (m ? heightWords(Number(m)) : tr("nothing")) },
  { key: "goals", label: tr("Goals"), joins: true },
  { key: "usual_miss", label: tr("Usual miss"), joins: true },
  { key: "schools", label: tr("Schools"), show: (s) => Object.values(s as object).join(", ") || tr("as the academy") },
  { key: "words", label: tr("Words on the page") },
  { key: "language", label: tr("Language") },
  { key: "lengths", label: tr("Lengths on the page") },
  { key: "distances", label: tr("Distances") },
  { key: "clock", label: tr("Clock") },
  { key: "consent_by", label: tr("Consent given by") },
];

interface Props {
  initial: PlayerIn;
  submit: string;
  pending: boolean;
  error: unknown;
  /** `revision`: on top of which one it is saved, where somebody saved meanwhile. */
  onSubmit: (body: PlayerIn, revision?: string) => void;
}

/** Who the player is: hand, age group, goals, usual miss, school, consent. */
export function PlayerForm({ initial, submit, pending, error, onSubmit }: Props) {
  const [form, setForm] = useState<PlayerIn>(initial);
  const catalogue = useCatalogue();
  const set = (part: Partial<PlayerIn>) => setForm((old) => ({ ...old, ...part }));
  const schools = catalogue.data?.schools ?? [];
  const minor = form.population === "junior";
  const said: PlayerIn = { ...form, consent_as: minor ? "guardian" : "player" };
  return (
    <form
      className="space-y-4"
      onSubmit={(e) => {
        e.preventDefault();
        onSubmit(said);
      }}
    >
      {isClash(error) ? (
        <Clash
          error={error}
          mine={said}
          fields={FIELDS}
          pending={pending}
          onSave={(chosen, revision) => {
            setForm(chosen);
            onSubmit(chosen, revision);
          }}
        />
      ) : null}
      <Field label={tr("Name")}>
        <input className={inputLook} required value={form.name} onChange={(e) => set({ name: e.target.value })} />
      </Field>
      <Choice
        label={tr("Plays")}
        value={form.handedness ?? "right"}
        onChange={(handedness) => set({ handedness })}
        options={[
          { id: "right", label: tr("Right-handed") },
          { id: "left", label: tr("Left-handed") },
        ]}
      />
      <Choice
        label={tr("Age group")}
        value={form.population ?? "adult"}
        onChange={(population) => set({ population })}
        options={[
          { id: "adult", label: tr("Adult") },
          { id: "junior", label: tr("Junior") },
          { id: "senior", label: tr("Senior") },
        ]}
      />
      <HeightField metres={form.height_m ?? null} onChange={(height_m) => set({ height_m })} />
      <Field label={tr("Goals")}>
        <textarea className={inputLook} rows={2} value={form.goals} onChange={(e) => set({ goals: e.target.value })} />
      </Field>
      <Field label={tr("Usual miss")}>
        <textarea className={inputLook} rows={2} value={form.usual_miss} onChange={(e) => set({ usual_miss: e.target.value })} />
      </Field>
      {schools.map((school) => {
        const chosen = form.schools?.[school.axis] ?? "";
        const choose = (id: string) => {
          const next = { ...form.schools, [school.axis]: id };
          if (!id) delete next[school.axis];
          set({ schools: next });
        };
        return (
          <div key={school.axis}>
            <p className="text-muted">{school.label}</p>
            <Choice
              label={school.label}
              value={chosen}
              onChange={choose}
              options={[{ id: "", label: tr("As the academy") }, ...school.options.map((o) => ({ id: o.id, label: o.label }))]}
            />
            <p className="text-base text-muted">{school.options.find((o) => o.id === chosen)?.explained}</p>
          </div>
        );
      })}
      {schools.length ? <p className="text-base text-muted">{tr("A school changes which ranges apply, never a measurement.")}</p> : null}
      <div>
        <p className="text-muted">{tr("What goes home is written in")}</p>
        <Choice
          label={tr("Words on the page")}
          value={form.words ?? "plain"}
          onChange={(words) => set({ words })}
          options={[
            { id: "plain", label: tr("Plain words") },
            { id: "standard", label: tr("The trade’s words") },
          ]}
        />
        <MannerFields value={form} onChange={set} own />
      </div>
      <Field
        label={minor ? tr("Consent given by (parent or guardian)") : tr("Consent given by")}
        note={tr("Body measurements are personal data. Without consent nothing is kept of a walk-in.")}
      >
        <input
          className={inputLook}
          placeholder={minor ? tr("Guardian's name") : tr("Player's name")}
          value={form.consent_by}
          onChange={(e) => set({ consent_by: e.target.value })}
        />
      </Field>
      {isClash(error) ? null : (
        <>
          <ErrorLine error={error} />
          <Button tone="solid" type="submit" disabled={pending}>
            {submit}
          </Button>
        </>
      )}
    </form>
  );
}
