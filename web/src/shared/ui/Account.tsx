import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { whenWords } from "@/lib/dates";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { NewPassword, PresentPassword } from "@/shared/ui/passwords";
import { SecondFactor } from "@/shared/ui/SecondFactor";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";

const when = whenWords;

/** Where one is signed in, one's password, and the way out. */
export function Account({ me, open, onClose }: { me: Schemas["Me"]; open: boolean; onClose: () => void }) {
  const client = useQueryClient();
  const signOut = useMutation({
    mutationFn: () => api.POST("/api/sign-out"),
    onSuccess: () => {
      client.clear();
      window.location.assign("/");
    },
  });
  return (
    <Sheet open={open} onClose={onClose} title={me.instructor}>
      <div className="space-y-6">
        <Button tone="solid" className="w-full" onClick={() => signOut.mutate()} disabled={signOut.isPending}>
          {tr("Sign out here")}
        </Button>
        <ErrorLine error={signOut.error} />
        {may(me, "own") && open ? (
          <Link to="/people" onClick={onClose} className="flex min-h-14 items-center text-xl font-bold underline underline-offset-4">
            {tr("People of the academy, and the log")}
          </Link>
        ) : null}
        {open ? <Sessions /> : null}
        {open ? <SecondFactor /> : null}
        <Password />
      </div>
    </Sheet>
  );
}

function Sessions() {
  const client = useQueryClient();
  const found = useQuery({ queryKey: keys.sessions, queryFn: ({ signal }) => data(api.GET("/api/me/sessions", { signal })) });
  const onSuccess = (left: Schemas["SessionOut"][]) => client.setQueryData(keys.sessions, left);
  const end = useMutation({
    mutationFn: (session_id: string) => data(api.DELETE("/api/me/sessions/{session_id}", { params: { path: { session_id } } })),
    onSuccess,
  });
  const endOthers = useMutation({ mutationFn: () => data(api.DELETE("/api/me/sessions")), onSuccess });
  const others = found.data?.filter((s) => !s.this) ?? [];
  return (
    <section>
      <h3 className="text-xl font-bold">{tr("Signed in")}</h3>
      <ul>
        {found.data?.map((s) => (
          <li key={s.id} className="flex min-h-16 items-center justify-between gap-4 border-b border-hairline py-1">
            <span className="text-lg">
              <b>{s.this ? tr("Here") : s.agent || tr("Somewhere else")}</b>
              <span className="block text-base text-muted">
                {tr("{what}, since {when}", { what: s.this ? s.agent : tr("used {when}", { when: when(s.seen_at) }), when: when(s.made_at) })}
              </span>
            </span>
            {s.this ? null : (
              <Button onClick={() => end.mutate(s.id)} disabled={end.isPending} aria-label={tr("End the session on {agent}", { agent: s.agent })}>
                {tr("End")}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {others.length > 1 ? (
        <Button className="mt-3" onClick={() => endOthers.mutate()} disabled={endOthers.isPending}>
          {tr("End all others")}
        </Button>
      ) : null}
      <ErrorLine error={found.error ?? end.error ?? endOthers.error} />
    </section>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation({
    mutationFn: () => data(api.PUT("/api/me/password", { body: { old, new: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
    },
  });
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate();
      }}
    >
      <h3 className="text-xl font-bold">{tr("Another password")}</h3>
      <PresentPassword label={tr("The present one")} value={old} onChange={setOld} />
      <NewPassword
        label={tr("The new one")}
        note={tr("At least 12 characters; several unrelated words make a good one. Everywhere else you are signed out.")}
        value={fresh}
        onChange={setFresh}
      />
      <ErrorLine error={change.error} />
      {change.isSuccess ? (
        <p role="status" className="text-lg">
          {tr("Your password is changed.")}
        </p>
      ) : null}
      <Button type="submit" disabled={change.isPending}>
        {tr("Change it")}
      </Button>
    </form>
  );
}
