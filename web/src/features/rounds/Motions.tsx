import { useState } from "react";
import { timeWords } from "@/lib/dates";

import type { Schemas } from "@/api/client";
import { clubLabel } from "@/lib/clubs";
import { Button, Choice } from "@/shared/ui/controls";

import { lengthSaid, type Motion } from "./shafts";
import { number, tr } from "@/lib/language";

const KINDS = [
  { id: "shot", label: tr("Shot") },
  { id: "practice", label: tr("Practice") },
  { id: "putt", label: tr("Putt") },
  { id: "other", label: tr("Other") },
] as const;
const SAID: Record<Motion["kind"], string> = { shot: tr("shot"), practice: tr("practice swing"), putt: tr("putt"), other: tr("something else") };
const UNSURE = 0.85;
type Shown = "shots" | "swings" | "unsure" | "all";

/** What was measured of one motion, in a line. */
export function measured(m: Motion): string {
  const since = m.since_practice_s;
  return [
    m.back_s != null && m.down_s != null ? tr("{back_s} s back, {down_s} s down", { back_s: number(m.back_s, 2), down_s: number(m.down_s, 2) }) : "",
    m.tempo != null ? tr("tempo {tempo}", { tempo: number(m.tempo, 1) }) : "",
    m.peak_deg_s != null ? tr("{peak_deg_s}° a second at most", { peak_deg_s: Math.round(m.peak_deg_s) }) : "",
    m.smoothness != null ? tr("smoothness {n}", { n: number(m.smoothness, 1).replace("-", "−") }) : "",
    since == null
      ? ""
      : since < 90
        ? tr("{since} s after a practice swing", { since: Math.round(since) })
        : tr("{since} min after a practice swing", { since: Math.round(since / 60) }),
  ]
    .filter(Boolean)
    .join(" · ");
}

/** Everything the clips logged, in the order of the round. One tap opens a motion, the second says what it was. */
export function Motions(props: {
  motions: readonly Motion[];
  clubs: Schemas["Catalogue"]["clubs"] | undefined;
  onSay: (number: number, kind: Motion["kind"] | null) => void;
  busy: boolean;
}) {
  const [shown, setShown] = useState<Shown>("shots");
  const [open, setOpen] = useState<number | null>(null);
  const lists: Record<Shown, Motion[]> = {
    shots: props.motions.filter((m) => m.kind === "shot"),
    swings: props.motions.filter((m) => m.kind === "practice" || m.kind === "putt"),
    unsure: props.motions.filter((m) => m.confidence < UNSURE).sort((a, b) => a.confidence - b.confidence),
    all: [...props.motions],
  };
  const list = lists[shown];
  return (
    <div className="flex h-full min-h-0 flex-col">
      <Choice
        label={tr("Which motions")}
        value={shown}
        onChange={(id) => {
          setShown(id);
          setOpen(null);
        }}
        options={[
          { id: "shots", label: tr("Shots {length}", { length: lists.shots.length }) },
          { id: "swings", label: tr("Others") },
          { id: "unsure", label: tr("Unsure {length}", { length: lists.unsure.length }) },
          { id: "all", label: tr("All") },
        ]}
      />
      {list.length === 0 ? <p className="py-4 text-lg text-muted">{shown === "unsure" ? tr("Nothing here is in doubt.") : tr("None were found.")}</p> : null}
      <ol className="min-h-0 flex-1 overflow-y-auto" aria-label={tr("Motions")}>
        {list.map((m) => (
          <li key={m.number} className="border-b border-hairline">
            <button
              type="button"
              aria-expanded={open === m.number}
              onClick={() => setOpen(open === m.number ? null : m.number)}
              className="grid min-h-14 w-full grid-cols-[64px_1fr_auto] items-center gap-3 py-1.5 text-left"
            >
              <span className="tabular text-lg text-muted">{m.hole ? tr("hole {hole}", { hole: m.hole }) : timeWords(m.at)}</span>
              <span className="min-w-0">
                <span className="block text-lg">
                  <b>{clubLabel(props.clubs, m.club)}</b>
                  {m.kind === "shot" && m.stroke !== "full" && m.stroke ? ` ${m.stroke}` : ""}
                  {m.kind === "shot" ? "" : `, ${SAID[m.kind]}`}
                </span>
                {m.kind !== m.found ? (
                  <span className="block text-base text-muted">{tr("found as {said}", { said: SAID[m.found] })}</span>
                ) : m.confidence < UNSURE ? (
                  <span className="block text-base text-muted">{tr("{confidence} % sure", { confidence: Math.round(100 * m.confidence) })}</span>
                ) : null}
              </span>
              <span className="tabular text-right text-lg">{m.length_deg != null && m.kind === "shot" ? lengthSaid(m.length_deg) : ""}</span>
            </button>
            {open === m.number && measured(m) ? <p className="pb-2 text-base leading-tight text-muted">{measured(m)}</p> : null}
            {open === m.number ? (
              <div className="grid grid-cols-4 gap-2 pb-3" role="group" aria-label={tr("What it was at {clock}", { clock: timeWords(m.at) })}>
                {KINDS.map((k) => (
                  <Button
                    key={k.id}
                    className="px-1!"
                    tone={m.kind === k.id ? "solid" : "line"}
                    aria-pressed={m.kind === k.id}
                    disabled={props.busy}
                    onClick={() => {
                      setOpen(null);
                      if (k.id !== m.kind) props.onSay(m.number, k.id === m.found ? null : k.id);
                    }}
                  >
                    {k.label}
                  </Button>
                ))}
              </div>
            ) : null}
          </li>
        ))}
      </ol>
    </div>
  );
}
