import { useState } from "react";

import { isClash, type Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { Clash, type Edited } from "@/shared/ui/Clash";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";

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
  lengths: "cm",
};

const FIELDS: Edited<PlayerIn>[] = [
  { key: "name", label: "Name" },
  { key: "handedness", label: "Plays" },
  { key: "population", label: "Age group" },
  { key: "height_m", label: "Height", show: (m) => (m ? `${Math.round(Number(m) * 100)} cm` : "nothing") },
  { key: "goals", label: "Goals", joins: true },
  { key: "usual_miss", label: "Usual miss", joins: true },
  { key: "schools", label: "Schools", show: (s) => Object.values(s as object).join(", ") || "as the academy" },
  { key: "words", label: "Words on the page" },
  { key: "lengths", label: "Lengths on the page" },
  { key: "consent_by", label: "Consent given by" },
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
      <Field label="Name">
        <input className={inputLook} required value={form.name} onChange={(e) => set({ name: e.target.value })} />
      </Field>
      <Choice
        label="Plays"
        value={form.handedness ?? "right"}
        onChange={(handedness) => set({ handedness })}
        options={[
          { id: "right", label: "Right-handed" },
          { id: "left", label: "Left-handed" },
        ]}
      />
      <Choice
        label="Age group"
        value={form.population ?? "adult"}
        onChange={(population) => set({ population })}
        options={[
          { id: "adult", label: "Adult" },
          { id: "junior", label: "Junior" },
          { id: "senior", label: "Senior" },
        ]}
      />
      <Field label="Height (cm)">
        <input
          className={inputLook}
          type="number"
          min={60}
          max={270}
          value={form.height_m ? Math.round(form.height_m * 100) : ""}
          onChange={(e) => set({ height_m: e.target.value ? Number(e.target.value) / 100 : null })}
        />
      </Field>
      <Field label="Goals">
        <textarea className={inputLook} rows={2} value={form.goals} onChange={(e) => set({ goals: e.target.value })} />
      </Field>
      <Field label="Usual miss">
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
              options={[{ id: "", label: "As the academy" }, ...school.options.map((o) => ({ id: o.id, label: o.label }))]}
            />
            <p className="text-base text-muted">{school.options.find((o) => o.id === chosen)?.explained}</p>
          </div>
        );
      })}
      {schools.length ? <p className="text-base text-muted">A school changes which ranges apply, never a measurement.</p> : null}
      <div>
        <p className="text-muted">What goes home is written in</p>
        <Choice
          label="Words on the page"
          value={form.words ?? "plain"}
          onChange={(words) => set({ words })}
          options={[
            { id: "plain", label: "Plain words" },
            { id: "standard", label: "The trade’s words" },
          ]}
        />
        <Choice
          label="Lengths on the page"
          value={form.lengths ?? "cm"}
          onChange={(lengths) => set({ lengths })}
          options={[
            { id: "cm", label: "Centimetres" },
            { id: "in", label: "Inches" },
          ]}
        />
      </div>
      <Field
        label={minor ? "Consent given by (parent or guardian)" : "Consent given by"}
        note="Body measurements are personal data. Without consent nothing is kept of a walk-in."
      >
        <input
          className={inputLook}
          placeholder={minor ? "Guardian's name" : "Player's name"}
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
