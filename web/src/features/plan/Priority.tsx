import { Link } from "@tanstack/react-router";

import type { Schemas } from "@/api/client";
import type { Choice } from "@/lib/plan";
import { DrillPicture } from "@/shared/drill/DrillPicture";
import { Button, Field, inputLook } from "@/shared/ui/controls";
import { useStateFrom } from "@/shared/ui/useStateFrom";

import { rests } from "./rests";
import { tr } from "@/lib/language";

interface PriorityProps {
  lessonId: string;
  /** What of a putt's matched set the chosen drill changes. */
  piece: Schemas["PieceOut"] | undefined;
  place: number;
  choice: Choice;
  title: string;
  proposal: Schemas["ProposalOut"] | undefined;
  found: Schemas["FindingOut"] | undefined;
  withheld: Schemas["WithheldOut"][];
  catalogue: Schemas["Catalogue"];
  words: "plain" | "standard";
  mirror: boolean;
  bands: Schemas["LessonOut"]["trainer_bands"];
  closed: boolean;
  busy: boolean;
  departs: boolean;
  name: (id: string) => string;
  onChange: (part: Partial<Choice>) => void;
  onRemove: () => void;
}

/** One priority: why, the drill with its care, the target of the retest. */
export function Priority({
  lessonId,
  piece,
  place,
  choice,
  title,
  proposal,
  found,
  withheld: all,
  catalogue,
  words,
  mirror,
  bands,
  closed,
  busy,
  departs: other,
  onChange,
  onRemove,
}: PriorityProps) {
  const [reason, setReason] = useStateFrom(() => choice.override_reason, choice.override_reason);
  const rule = catalogue.findings.find((f) => f.id === choice.finding);
  const withheld = all.filter((w) => rule?.drills.includes(w.drill) || w.drill === choice.drill);
  const drills = (rule?.drills ?? (choice.drill ? [choice.drill] : [])).flatMap((id) => catalogue.drills.filter((d) => d.id === id));
  const shown = drills.find((d) => d.id === choice.drill);
  const band = shown ? bands[shown.id] : undefined;
  const cautions = [...new Set([found?.caution, shown?.caution].filter(Boolean))];
  return (
    <li className="border-b border-hairline py-3">
      <div className="flex items-baseline justify-between gap-4">
        <h2 className={`leading-tight font-bold ${place === 0 ? "text-[40px] max-[700px]:text-[30px]" : "text-[32px] max-[700px]:text-[26px]"}`}>
          {place + 1} {title}
        </h2>
        {closed ? null : (
          <button type="button" className="min-h-14 flex-none px-2 text-lg underline" onClick={onRemove}>
            {tr("Leave out")}
          </button>
        )}
      </div>
      <p className="text-xl leading-snug">
        {choice.finding
          ? choice.why || (words === "plain" ? proposal?.plain_why : proposal?.why) || (found ? rests(found) : tr("Not seen in these swings."))
          : tr("The instructor's own, without a measurement.")}
      </p>
      {proposal?.contradiction ? <p className="mt-1 border-l-4 border-ink pl-3 text-lg">{proposal.contradiction}</p> : null}
      {piece ? (
        <p className="mt-1 text-lg">
          <b>{tr("Before changing {what}:", { what: (words === "plain" ? piece.plain_label : piece.label).toLowerCase() })}</b>{" "}
          {tr("five things hang together in a putt.")}{" "}
          <Link to="/lessons/$lessonId/putting" params={{ lessonId }} search={{ piece: piece.id }} className="inline-block min-h-14 content-center underline">
            {tr("What goes with it")}
          </Link>
        </p>
      ) : null}
      {proposal?.matched.length ? (
        <p className="mt-1 text-lg">
          <b>{tr("Part of a matched set:")}</b> {tr("see above before changing it.")}
        </p>
      ) : null}
      <div className={closed ? "hidden" : "mt-2 flex flex-wrap items-center gap-2"}>
        {drills
          .filter((d) => !withheld.some((w) => w.drill === d.id))
          .map((d) => (
            <Button
              key={d.id}
              className="px-4!"
              tone={choice.drill === d.id ? "solid" : "line"}
              aria-pressed={choice.drill === d.id}
              disabled={busy}
              onClick={() => onChange({ drill: choice.drill === d.id ? "" : d.id })}
            >
              {d.label}
            </Button>
          ))}
      </div>
      {withheld.map((w) => (
        <p key={w.drill} className="mt-1 text-lg text-muted">
          <b>{w.label}</b> {tr("is not offered: {reason}.", { reason: w.reason })}
        </p>
      ))}
      {shown ? (
        <div className="mt-2 flex items-start gap-5">
          <p className="min-w-0 flex-1 text-lg leading-snug">
            <b>{shown.label}.</b> {shown.how} <i>{tr("Feel: {feel}", { feel: shown.feel })}</i>
            {shown.dose ? ` ${shown.dose}` : ""}
            {band ? <span className="text-muted"> {tr("Trainer band: {what}.", { what: words === "plain" ? band.plain_words : band.words })}</span> : null}
          </p>
          <DrillPicture name={shown.picture} mirror={mirror} className="max-h-[150px] w-[150px] flex-none max-[700px]:w-[100px]" />
        </div>
      ) : null}
      {cautions.map((c) => (
        <p key={c} className="mt-1 border-l-4 border-ink pl-3 text-lg">
          {c}
        </p>
      ))}
      {found?.target ? (
        <p className="mt-1 text-lg">
          <b>{tr("Retest:")}</b> {words === "plain" ? found.target.plain_sentence : found.target.sentence}
        </p>
      ) : null}
      {other && choice.finding !== undefined && !closed ? (
        <Field label={tr("Why this instead of what is proposed")}>
          <input
            className={inputLook}
            value={reason}
            maxLength={1000}
            onChange={(e) => setReason(e.target.value)}
            onBlur={() => reason !== choice.override_reason && onChange({ override_reason: reason })}
          />
        </Field>
      ) : choice.override_reason ? (
        <p className="mt-1 text-lg text-muted">{tr("Chosen because: {override_reason}", { override_reason: choice.override_reason })}</p>
      ) : null}
    </li>
  );
}
