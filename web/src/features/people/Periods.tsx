import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { dayWords, whenWords } from "@/lib/dates";
import { tr, trn } from "@/lib/language";
import { Button, ErrorLine, Field, inputLook, Loading } from "@/shared/ui/controls";

type Chosen = Schemas["Periods"];
type WouldGo = Schemas["WouldGo"];

const MONTHS = [0, 6, 12, 24, 36, 60, 120];
const DAYS = [0, 7, 30, 90, 365];
const months = (n: number) => (n ? trn("{count} month", "{count} months", n) : tr("for ever"));
const days = (n: number) => (n ? trn("{count} day", "{count} days", n) : tr("for ever"));

/** How long what is kept, and what a choice would let go, before it is made. */
export function Periods() {
  const found = useQuery({ queryKey: keys.periods, queryFn: ({ signal }) => data(api.GET("/api/people/periods", { signal })) });
  return (
    <section className="pt-2">
      <h2 className="mb-2 text-2xl font-bold">{tr("How long it is kept")}</h2>
      {found.isPending ? <Loading what={tr("Looking what is kept")} /> : null}
      <ErrorLine error={found.error} />
      {found.data ? <Choose told={found.data} /> : null}
    </section>
  );
}

function Choose({ told }: { told: Schemas["PeriodsOut"] }) {
  const client = useQueryClient();
  const [chosen, setChosen] = useState<Chosen>(told.periods);
  const preview = useQuery({
    queryKey: keys.wouldGo(chosen),
    staleTime: 0,
    queryFn: ({ signal }) => data(api.GET("/api/people/periods/preview", { params: { query: chosen }, signal })),
  });
  const save = useMutation({
    mutationFn: (seen: number) => data(api.PUT("/api/people/periods", { body: { ...chosen, seen } })),
    onSuccess: (now) => client.setQueryData(keys.periods, now),
    onError: () => void client.invalidateQueries({ queryKey: keys.wouldGo(chosen) }),
  });
  const changed = (Object.keys(chosen) as (keyof Chosen)[]).some((k) => chosen[k] !== told.periods[k]);
  const choice = (name: keyof Chosen, label: string, note: string, options: number[], words: (n: number) => string) => (
    <Field label={label} note={note}>
      <select className={inputLook} value={chosen[name]} onChange={(e) => setChosen({ ...chosen, [name]: Number(e.target.value) })}>
        {[...new Set([...options, told.periods[name]])]
          .sort((a, b) => a - b)
          .map((n) => (
            <option key={n} value={n}>
              {words(n)}
            </option>
          ))}
      </select>
    </Field>
  );
  const go = preview.data;
  return (
    <div className="max-w-[900px] space-y-4">
      <div className="grid grid-cols-3 gap-5 max-[900px]:grid-cols-1">
        {choice("raw_months", tr("Samples and videos"), tr("Without them nothing is measured again; values and courses stay."), MONTHS, months)}
        {choice("lessons_months", tr("Lessons with what was measured"), tr("A player goes with the last of them."), MONTHS, months)}
        {choice("walk_ins_days", tr("Walk-ins that were never named"), tr("After their last lesson."), DAYS, days)}
      </div>
      {go ? <What go={go} changed={changed} /> : null}
      <ErrorLine error={preview.error ?? save.error} />
      {changed && go ? (
        <div className="flex flex-wrap gap-3">
          <Button tone="solid" onClick={() => save.mutate(go.count)} disabled={save.isPending || preview.isFetching}>
            {tr("Keep it so long")}
          </Button>
          <Button tone="quiet" onClick={() => setChosen(told.periods)}>
            {tr("Leave it")}
          </Button>
        </div>
      ) : null}
      {!changed && told.holds_from && new Date(told.holds_from) > new Date() ? (
        <p role="status" className="text-lg">
          {tr("This holds from {when}. Until then nothing goes.", { when: whenWords(told.holds_from) })}
        </p>
      ) : null}
    </div>
  );
}

function What({ go, changed }: { go: WouldGo; changed: boolean }) {
  if (!go.count) return <p className="text-lg">{tr("Today nothing would go.")}</p>;
  const parts = [
    go.raw ? trn("samples and videos of {count} recording", "samples and videos of {count} recordings", go.raw) : "",
    go.lessons ? trn("{count} lesson", "{count} lessons", go.lessons) : "",
    go.players ? trn("{count} player without any lesson left", "{count} players without any lesson left", go.players) : "",
    go.walk_ins ? trn("{count} walk-in", "{count} walk-ins", go.walk_ins) : "",
  ].filter(Boolean);
  return (
    <div className={`text-lg ${changed ? "border-l-4 border-rust pl-3" : ""}`}>
      <p>
        <b>{tr("Today this would let go: {what}.", { what: parts.join(", ") })}</b>
      </p>
      {go.names.length && go.oldest && go.newest ? (
        <p>
          {tr("Of {names}; from {first} to {last}.", {
            names: go.names.join(", "),
            first: dayWords(go.oldest, "full"),
            last: dayWords(go.newest, "full"),
          })}
        </p>
      ) : null}
      {changed ? <p>{tr("It cannot be brought back. It begins a day after you choose it.")}</p> : null}
    </div>
  );
}
