import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { whenWords } from "@/lib/dates";
import { tr, trn } from "@/lib/language";

import { Button, ErrorLine } from "./controls";
import { CodeField, PresentPassword } from "./passwords";

type Told = Schemas["SecondFactorOut"];
type Step = "" | "set up" | "paper" | "off";

/** One's own second factor: what there is, and setting it up, step by step. `onKept`: the codes for a lost phone are put away. */
export function SecondFactor({ onKept }: { onKept?: () => void }) {
  const client = useQueryClient();
  const found = useQuery({ queryKey: keys.secondFactor, queryFn: ({ signal }) => data(api.GET("/api/me/second-factor", { signal })) });
  const [step, setStep] = useState<Step>("");
  const [offer, setOffer] = useState<Schemas["SecondFactorOffer"] | null>(null);
  const [paper, setPaper] = useState<string[] | null>(null);
  const told = (now: Told) => client.setQueryData(keys.secondFactor, now);
  const done = (made: Schemas["PaperCodes"]) => {
    told(made.factor);
    setPaper(made.codes);
    setOffer(null);
    setStep("");
  };
  const now = found.data;
  return (
    <section className="space-y-3">
      <h3 className="text-xl font-bold">{tr("A second factor")}</h3>
      <ErrorLine error={found.error} />
      {paper ? (
        <Paper
          codes={paper}
          onKept={() => {
            setPaper(null);
            onKept?.();
          }}
        />
      ) : offer ? (
        <Confirm offer={offer} onDone={done} />
      ) : now?.since ? (
        <>
          <p className="text-lg">
            {tr("Signing in asks for a code of your phone, since {when}.", { when: whenWords(now.since) })}{" "}
            {trn("{count} code is left on your paper.", "{count} codes are left on your paper.", now.paper_left)}
          </p>
          {step === "paper" || step === "off" ? <Again step={step} onPaper={done} onOff={told} onStep={setStep} /> : null}
          {step === "" ? (
            <div className="flex flex-wrap gap-3">
              <Button onClick={() => setStep("paper")}>{tr("New codes on paper")}</Button>
              <Button tone="quiet" onClick={() => setStep("off")}>
                {tr("Turn it off …")}
              </Button>
            </div>
          ) : null}
        </>
      ) : now ? (
        <>
          <p className="text-lg">
            {tr("Beside your password, signing in asks for six digits that an app on your phone shows. Any app for time-based codes (TOTP) will do.")}
          </p>
          {step === "set up" ? <Begin onOffer={setOffer} onStep={setStep} /> : <Button onClick={() => setStep("set up")}>{tr("Set up my phone")}</Button>}
        </>
      ) : null}
    </section>
  );
}

function Begin({ onOffer, onStep }: { onOffer: (offer: Schemas["SecondFactorOffer"]) => void; onStep: (step: Step) => void }) {
  const ask = useMutation({
    mutationFn: (password: string) => data(api.POST("/api/me/second-factor/offer", { body: { password } })),
    onSuccess: onOffer,
  });
  return <AskPassword verb={tr("Go on")} pending={ask.isPending} error={ask.error} onSubmit={ask.mutate} onStep={onStep} />;
}

function Again(props: { step: "paper" | "off"; onPaper: (made: Schemas["PaperCodes"]) => void; onOff: (now: Told) => void; onStep: (step: Step) => void }) {
  const paper = useMutation({
    mutationFn: (password: string) => data(api.POST("/api/me/second-factor/paper", { body: { password } })),
    onSuccess: props.onPaper,
  });
  const off = useMutation({
    mutationFn: (password: string) => data(api.POST("/api/me/second-factor/off", { body: { password } })),
    onSuccess: (now) => {
      props.onOff(now);
      props.onStep("");
    },
  });
  const one = props.step === "paper" ? paper : off;
  const verb = props.step === "paper" ? tr("Make them; those before work no more") : tr("Turn it off");
  return <AskPassword verb={verb} pending={one.isPending} error={one.error} onSubmit={one.mutate} onStep={props.onStep} />;
}

/** A screen that was left open changes nothing. */
function AskPassword(props: { verb: string; pending: boolean; error: unknown; onSubmit: (password: string) => void; onStep: (step: Step) => void }) {
  const [password, setPassword] = useState("");
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        props.onSubmit(password);
      }}
    >
      <PresentPassword label={tr("Your password once more")} value={password} onChange={setPassword} />
      <ErrorLine error={props.error} />
      <div className="flex flex-wrap gap-3">
        <Button tone="solid" type="submit" disabled={props.pending}>
          {props.verb}
        </Button>
        <Button tone="quiet" onClick={() => props.onStep("")}>
          {tr("Leave it")}
        </Button>
      </div>
    </form>
  );
}

function Confirm({ offer, onDone }: { offer: Schemas["SecondFactorOffer"]; onDone: (made: Schemas["PaperCodes"]) => void }) {
  const [code, setCode] = useState("");
  const confirm = useMutation({
    mutationFn: () => data(api.POST("/api/me/second-factor/confirm", { body: { code } })),
    onSuccess: onDone,
  });
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        confirm.mutate();
      }}
    >
      <p className="text-lg">{tr("Read this with the app on your phone, then type the six digits that it shows.")}</p>
      <QrCode rows={offer.rows} />
      <p className="text-base text-muted">
        {tr("No camera? Type this into the app:")} <b className="font-mono text-ink select-all">{offer.secret.match(/.{1,4}/g)?.join(" ")}</b>
      </p>
      <CodeField value={code} onChange={setCode} />
      <ErrorLine error={confirm.error} />
      <Button tone="solid" type="submit" disabled={confirm.isPending}>
        {tr("Use it from now on")}
      </Button>
    </form>
  );
}

/** Dark on light in either theme, with the quiet edge that readers need. */
function QrCode({ rows }: { rows: string[] }) {
  const edge = 4;
  const size = rows.length + 2 * edge;
  const cells = rows.flatMap((row, y) => [...row].flatMap((cell, x) => (cell === "1" ? [`M${x + edge},${y + edge}h1v1h-1z`] : [])));
  return (
    <svg viewBox={`0 0 ${size} ${size}`} className="w-64 max-w-full bg-white" shapeRendering="crispEdges" role="img" aria-label={tr("A code for your phone")}>
      <path d={cells.join("")} fill="#000" />
    </svg>
  );
}

function Paper({ codes, onKept }: { codes: string[]; onKept: () => void }) {
  return (
    <div className="space-y-3">
      <p className="text-lg">
        {tr("For the day your phone is lost: each of these works once, in place of the six digits. They are shown this once. Write them down or print them.")}
      </p>
      <ol className="grid grid-cols-2 gap-x-6 gap-y-1 font-mono text-lg max-[500px]:grid-cols-1">
        {codes.map((code) => (
          <li key={code} className="select-all">
            {code}
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => window.print()}>{tr("Print")}</Button>
        <Button tone="solid" onClick={onKept}>
          {tr("I have them on paper")}
        </Button>
      </div>
    </div>
  );
}
