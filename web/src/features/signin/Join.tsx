import { useMutation, useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { useState } from "react";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";
import { tr } from "@/lib/language";
import { Button, ErrorLine, Loading } from "@/shared/ui/controls";
import { NewPassword } from "@/shared/ui/passwords";

/** Where a link leads that somebody was handed: a password of one's own, then signing in. */
export function Join() {
  const { token } = useParams({ strict: false }) as { token: string };
  const path = { invitation_token: token };
  const found = useQuery({
    queryKey: keys.invitation(token),
    queryFn: ({ signal }) => data(api.GET("/api/invitations/{invitation_token}", { params: { path }, signal })),
    retry: false,
    staleTime: Infinity,
  });
  const [password, setPassword] = useState("");
  const accept = useMutation({
    mutationFn: () => data(api.POST("/api/invitations/{invitation_token}", { params: { path }, body: { password } })),
  });
  const told = found.data;
  return (
    <main className="mx-auto grid min-h-full max-w-[640px] content-center px-6 py-10">
      {found.isPending ? <Loading what={tr("Looking at the link")} /> : null}
      {found.error ? (
        <>
          <h1 className="text-4xl font-bold">{tr("This link works no more.")}</h1>
          <p className="mt-3 text-xl">{tr("It was used, taken back, or is older than a day. Ask whoever gave it to you for another.")}</p>
        </>
      ) : null}
      {told && accept.isSuccess ? (
        <>
          <h1 className="text-4xl font-bold">{tr("That is it, {name}.", { name: told.name })}</h1>
          <p className="mt-3 text-xl">{tr("Sign in with {email} and your password.", { email: told.email })}</p>
          <a className="mt-6 inline-flex min-h-14 w-fit items-center rounded-full bg-ink px-6 text-lg font-semibold text-paper" href="/">
            {tr("Sign in")}
          </a>
        </>
      ) : told ? (
        <form
          className="space-y-5"
          onSubmit={(e) => {
            e.preventDefault();
            accept.mutate();
          }}
        >
          <h1 className="text-4xl font-bold">{told.again ? tr("Another password") : tr("Welcome, {name}.", { name: told.name })}</h1>
          <p className="text-xl">
            {told.again
              ? tr("For {email} at {academy}. Wherever you are signed in now, you are signed out.", { email: told.email, academy: told.academy })
              : tr("{academy} has invited you as {role}. You sign in with {email}.", { academy: told.academy, role: told.role, email: told.email })}
          </p>
          <NewPassword
            label={tr("A password")}
            note={tr("At least 12 characters; several unrelated words make a good one.")}
            value={password}
            onChange={setPassword}
          />
          <ErrorLine error={accept.error} />
          <Button tone="solid" type="submit" disabled={accept.isPending}>
            {tr("Take it")}
          </Button>
        </form>
      ) : null}
    </main>
  );
}
