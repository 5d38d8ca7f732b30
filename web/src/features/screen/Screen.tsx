import { useState } from "react";

import { MEASURES } from "@/lib/measures";
import { label } from "@/lib/words";
import { LiveStage } from "@/shared/live/LiveStage";
import { TrainerStage } from "@/shared/live/TrainerStage";
import { useFeed, useNow } from "@/shared/live/useFeed";
import { Button, Field, inputLook, useSettings } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

/** A second screen: it follows a bay by its code, and knows nothing of who stands there. */
export function Screen() {
  const [code, setCode] = useState(() => window.location.hash.replace("#", ""));
  if (!code) return <Ask onCode={setCode} words="" />;
  return <Following key={code} code={code} onOther={() => setCode("")} />;
}

function Ask({ onCode, words }: { onCode: (code: string) => void; words: string }) {
  const [typed, setTyped] = useState("");
  return (
    <main className="grid h-full place-content-center gap-5 px-6">
      <h1 className="text-[44px] leading-tight font-bold max-[700px]:text-[32px]">{tr("Which bay does this screen follow?")}</h1>
      {words ? (
        <p role="alert" className="border-l-4 border-rust pl-3 text-xl">
          {words}
        </p>
      ) : null}
      <form
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          onCode(typed.trim().toUpperCase());
        }}
      >
        <Field label={tr("Code")} note={tr("Bays, A second screen, on the instructor's screen.")}>
          <input
            className={`${inputLook} text-[32px] tracking-[0.15em] uppercase`}
            value={typed}
            maxLength={12}
            autoComplete="off"
            onChange={(e) => setTyped(e.target.value)}
            required
          />
        </Field>
        <div>
          <Button tone="solid" type="submit">
            {tr("Follow")}
          </Button>
        </div>
      </form>
    </main>
  );
}

function Following({ code, onOther }: { code: string; onOther: () => void }) {
  const feed = useFeed("/screen", { code });
  const now = useNow(feed);
  const { words } = useSettings();
  const [picked, setPicked] = useState("");
  const [figure, setFigure] = useState(false);
  const metrics = now.measures;
  if (now.refused) return <Ask onCode={onOther} words={now.refused} />;
  const mirror = now.hand === "left";
  const here = MEASURES.filter((m) => m.id in now.values);
  const shown = now.trainer?.metric ?? here.find((m) => m.id === picked)?.id ?? here[0]?.id;
  const metric = metrics.find((m) => m.id === shown);
  return (
    <main className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        {metric && now.trainer ? (
          <TrainerStage now={now} metric={metric} words={words} mirror={mirror} />
        ) : metric ? (
          <LiveStage now={now} metric={metric} words={words} mirror={mirror} bands={now.bands} figure={figure} />
        ) : (
          <p className="grid h-full place-content-center px-8 text-center text-[64px] leading-tight font-bold max-[1100px]:text-[48px] max-[700px]:text-[32px]">
            {!now.connected ? tr("Not connected; trying again.") : now.going ? tr("One moment") : tr("{what} is free.", { what: now.bay || tr("The bay") })}
          </p>
        )}
      </div>
      {!now.trainer && here.length > 1 ? (
        <div className="flex flex-none items-center gap-3 border-t border-hairline px-7 py-2 max-[700px]:px-4">
          <select className={`${inputLook} max-w-[420px]`} aria-label={tr("Measure")} value={shown} onChange={(e) => setPicked(e.target.value)}>
            {here.map((m) => (
              <option key={m.id} value={m.id}>
                {metrics.filter((x) => x.id === m.id).map((x) => label(x, words))}
              </option>
            ))}
          </select>
          {now.figure ? (
            <Button aria-pressed={figure} onClick={() => setFigure((f) => !f)}>
              {figure ? tr("Arc") : tr("Figure")}
            </Button>
          ) : null}
        </div>
      ) : null}
    </main>
  );
}
