import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Problem, type Schemas } from "@/api/client";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { CodeField } from "@/shared/ui/passwords";
import { tr } from "@/lib/language";

/** E-mail and password; the demo's are printed by ./start. */
export function SignIn({ onDone }: { onDone: (me: Schemas["Me"]) => void }) {
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const [endOthers, setEndOthers] = useState(false);
  const [code, setCode] = useState("");
  const [asked, setAsked] = useState(false);
  const signIn = useMutation({
    mutationFn: () => data(api.POST("/api/sign-in", { body: { email, password, end_others: endOthers, code } })),
    onSuccess: onDone,
    onError: (error) => {
      if (error instanceof Problem && error.code === "code_needed") setAsked(true);
      setCode("");
    },
  });
  return (
    <main className="grid h-full grid-cols-[1fr_480px] items-center gap-16 overflow-y-auto px-16 max-[1100px]:gap-8 max-[1100px]:px-8 portrait:grid-cols-1 portrait:content-center max-[700px]:px-4">
      <svg viewBox="0 0 520 520" className="h-[70vh] w-full" aria-hidden>
        <path d="M260,478 A222,222 0 1 1 417,99" fill="none" stroke="var(--ink)" strokeWidth="5" strokeLinecap="round" />
        <path d="M398,118 A196,196 0 1 0 260,452" fill="none" stroke="var(--hairline)" strokeWidth="5" strokeLinecap="round" />
        <circle cx="408" cy="108" r="17" fill="var(--paper)" stroke="var(--ink)" strokeWidth="6" />
        <text x="260" y="270" textAnchor="middle" fontSize="64" fontWeight="700" fill="var(--ink)">
          {tr("Fine Arc")}
        </text>
        <text x="260" y="312" textAnchor="middle" fontSize="22" fill="var(--muted)">
          {tr("measured, judged, trained, kept")}
        </text>
      </svg>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate();
        }}
      >
        <h1 className="text-4xl font-bold">{asked ? tr("Now the code") : tr("Sign in")}</h1>
        {asked ? (
          <CodeField value={code} onChange={setCode} note={tr("Six digits that your phone shows, or a code from your paper.")} />
        ) : (
          <>
            <Field label={tr("E-mail")}>
              <input className={inputLook} type="email" autoComplete="username" required value={email} onChange={(e) => setEmail(e.target.value)} />
            </Field>
            <Field label={tr("Password")} note={tr("The demo's e-mail and password are printed in the terminal by ./start.")}>
              <input
                className={inputLook}
                type="password"
                autoComplete="current-password"
                required
                value={password}
                onChange={(e) => setPassword(e.target.value)}
              />
            </Field>
            <label className="flex min-h-14 items-center gap-4 text-lg">
              <input type="checkbox" className="size-7 accent-[var(--ink)]" checked={endOthers} onChange={(e) => setEndOthers(e.target.checked)} />
              {tr("Sign me out everywhere else")}
            </label>
          </>
        )}
        <ErrorLine error={asked && !code ? null : signIn.error} />
        <Button tone="solid" type="submit" disabled={signIn.isPending}>
          {signIn.isPending ? tr("Signing in …") : tr("Sign in")}
        </Button>
        {asked ? (
          <Button
            tone="quiet"
            onClick={() => {
              setAsked(false);
              setCode("");
              signIn.reset();
            }}
          >
            {tr("Another account")}
          </Button>
        ) : null}
      </form>
    </main>
  );
}
