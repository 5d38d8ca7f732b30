import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { whenWords } from "@/lib/dates";
import { tr } from "@/lib/language";
import { Button, Choice, ErrorLine, Loading } from "@/shared/ui/controls";
import { TopLine } from "@/shared/ui/TopLine";

import { Backups } from "./Backups";
import { Choices } from "./Choices";
import { Invite } from "./Invite";
import { LinkShown } from "./LinkShown";
import { Log } from "./Log";
import { Periods } from "./Periods";
import { ROLES, roleName, type Role } from "./roles";

type Staff = Schemas["StaffOut"];
type Person = Schemas["StaffPerson"];

/** Who works here and what they may do; who is expected; who looked at what. */
export function People() {
  const [part, setPart] = useState<"people" | "kept" | "log">("people");
  const client = useQueryClient();
  const found = useQuery({
    queryKey: keys.staff,
    queryFn: ({ signal }) => data(api.GET("/api/people", { signal })),
    refetchInterval: 5000, // somebody who was invited comes in
  });
  const [inviting, setInviting] = useState(false);
  const [link, setLink] = useState<{ path: string; name: string } | null>(null);
  const told = (staff: Staff) => client.setQueryData(keys.staff, staff);
  return (
    <div className="flex h-full flex-col">
      <TopLine title={tr("People")} />
      <div className="min-h-0 flex-1 overflow-y-auto px-7 py-4 max-[700px]:px-4" tabIndex={0} role="region" aria-label={tr("People")}>
        <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
          <Choice
            label={tr("What is shown")}
            value={part}
            onChange={setPart}
            options={[
              { id: "people", label: tr("Who works here") },
              { id: "kept", label: tr("What is kept") },
              { id: "log", label: tr("The log") },
            ]}
          />
          {part === "people" ? (
            <Button tone="solid" onClick={() => setInviting(true)}>
              {tr("Invite somebody")}
            </Button>
          ) : null}
        </div>
        {part === "log" ? (
          <Log people={found.data?.people ?? []} />
        ) : part === "kept" ? (
          <>
            <Periods />
            <Backups />
          </>
        ) : (
          <>
            {found.isPending ? <Loading what={tr("Looking who works here")} /> : null}
            <ErrorLine error={found.error} />
            <ul>
              {found.data?.people.map((p) => (
                <OnePerson key={p.id} person={p} onTold={told} onLink={(path) => setLink({ path, name: p.name })} />
              ))}
            </ul>
            {found.data?.invited.length ? <Expected staff={found.data} onTold={told} /> : null}
            {found.data ? <Choices staff={found.data} onTold={told} /> : null}
          </>
        )}
      </div>
      <Invite
        open={inviting}
        onClose={() => setInviting(false)}
        onMade={(made, name) => {
          told(made.staff);
          setInviting(false);
          setLink({ path: made.path, name });
        }}
      />
      <LinkShown link={link} onClose={() => setLink(null)} />
    </div>
  );
}

function OnePerson({ person, onTold, onLink }: { person: Person; onTold: (staff: Staff) => void; onLink: (path: string) => void }) {
  const path = { instructor_id: person.id };
  const [asked, setAsked] = useState(false);
  const role = useMutation({
    mutationFn: (to: Role) => data(api.PUT("/api/instructors/{instructor_id}/role", { params: { path }, body: { role: to } })),
    onSuccess: onTold,
  });
  const leaves = useMutation({
    mutationFn: () => data(api.POST("/api/instructors/{instructor_id}/left", { params: { path } })),
    onSuccess: (staff) => {
      setAsked(false);
      onTold(staff);
    },
  });
  const back = useMutation({
    mutationFn: () => data(api.POST("/api/instructors/{instructor_id}/back", { params: { path } })),
    onSuccess: onTold,
  });
  const lost = useMutation({
    mutationFn: () => data(api.POST("/api/instructors/{instructor_id}/lost-phone", { params: { path } })),
    onSuccess: onTold,
  });
  const reset = useMutation({
    mutationFn: () => data(api.POST("/api/instructors/{instructor_id}/reset", { params: { path } })),
    onSuccess: (made) => {
      onTold(made.staff);
      onLink(made.path);
    },
  });
  return (
    <li className="grid grid-cols-[1fr_auto] items-center gap-x-6 gap-y-1 border-b border-hairline py-3 max-[900px]:grid-cols-1" aria-label={person.name}>
      <div>
        <p className="text-2xl leading-tight font-bold">
          {person.name}
          {person.me ? <span className="font-normal text-muted">{` · ${tr("you")}`}</span> : null}
        </p>
        <p className="text-lg text-muted">{person.second_factor ? tr("{email}, with a second factor", { email: person.email }) : person.email}</p>
        <p className="text-lg">{person.left_at ? tr("Left {when}.", { when: whenWords(person.left_at) }) : ROLES.find((r) => r.id === person.role)?.may}</p>
      </div>
      {person.left_at ? (
        <Button onClick={() => back.mutate()} disabled={back.isPending}>
          {tr("Let come back")}
        </Button>
      ) : asked ? (
        <div className="flex flex-wrap items-center gap-3 text-lg">
          {tr("{name} is signed out everywhere. Lessons and notes stay.", { name: person.name })}
          <Button onClick={() => leaves.mutate()} disabled={leaves.isPending}>
            {tr("Shut out")}
          </Button>
          <Button tone="quiet" onClick={() => setAsked(false)}>
            {tr("Keep")}
          </Button>
        </div>
      ) : (
        <div className="flex flex-wrap items-center gap-3">
          <label className="text-lg">
            <span className="sr-only">{tr("Role of {name}", { name: person.name })}</span>
            <select
              className="min-h-14 rounded-lg border-2 border-[var(--control)] bg-paper px-3"
              value={person.role}
              disabled={role.isPending}
              onChange={(e) => role.mutate(e.target.value as Role)}
            >
              {ROLES.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name}
                </option>
              ))}
            </select>
          </label>
          <Button onClick={() => reset.mutate()} disabled={reset.isPending}>
            {tr("Another password")}
          </Button>
          {person.second_factor && !person.me ? (
            <Button onClick={() => lost.mutate()} disabled={lost.isPending}>
              {tr("Lost phone")}
            </Button>
          ) : null}
          <Button tone="quiet" onClick={() => setAsked(true)}>
            {tr("Leaves …")}
          </Button>
        </div>
      )}
      <div className="col-span-full">
        <ErrorLine error={role.error ?? leaves.error ?? back.error ?? lost.error ?? reset.error} />
      </div>
    </li>
  );
}

function Expected({ staff, onTold }: { staff: Staff; onTold: (staff: Staff) => void }) {
  const takeBack = useMutation({
    mutationFn: (invitation_id: string) => data(api.DELETE("/api/people/invitations/{invitation_id}", { params: { path: { invitation_id } } })),
    onSuccess: onTold,
  });
  return (
    <section className="pt-6">
      <h2 className="text-2xl font-bold">{tr("Open links")}</h2>
      <ul>
        {staff.invited.map((i) => (
          <li key={i.id} className="flex flex-wrap items-center justify-between gap-4 border-b border-hairline py-2">
            <p className="text-lg">
              <b>{i.name}</b> <span className="text-muted">{i.email}</span>
              <span className="block text-base text-muted">
                {i.again
                  ? tr("For another password, until {when}.", { when: whenWords(i.expires_at) })
                  : tr("Comes as {role}, until {when}.", { role: roleName(i.role), when: whenWords(i.expires_at) })}
              </span>
            </p>
            <Button onClick={() => takeBack.mutate(i.id)} disabled={takeBack.isPending} aria-label={tr("Take back the link for {name}", { name: i.name })}>
              {tr("Take back")}
            </Button>
          </li>
        ))}
      </ul>
      <ErrorLine error={takeBack.error} />
    </section>
  );
}
