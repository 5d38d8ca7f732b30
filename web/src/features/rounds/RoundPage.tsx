import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { dayWords } from "@/lib/dates";

import { useCatalogue } from "@/api/hooks";
import { clubLabel } from "@/lib/clubs";
import { Button, Choice, ErrorLine, Loading } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { TopLine } from "@/shared/ui/TopLine";

import { Motions } from "./Motions";
import { ALL, clubsOf, firstQuestion, QUESTIONS, shotsOf, type Question } from "./shafts";
import { Shafts } from "./Shafts";
import { useCorrect, useRemoveRound, useRound } from "./useRounds";
import { tr, trn } from "@/lib/language";

const day = (iso: string) => dayWords(iso, "full");

/** A round: what changed on the course, in one sentence, drawn as the shafts at the top; and all that the clips logged. */
export function RoundPage() {
  const { roundId } = useParams({ from: "/signed-in/rounds/$roundId" });
  const round = useRound(roundId);
  const catalogue = useCatalogue();
  const correct = useCorrect(roundId);
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<Question | null>(null);
  const [club, setClub] = useState<string>("");
  const [sheet, setSheet] = useState<"" | "ways" | "remove">("");
  const playerId = round.data?.player_id ?? "";
  const { remove, restore } = useRemoveRound(roundId, playerId);
  const leave = () => void navigate({ to: "/players/$playerId", params: { playerId } });
  if (round.isPending) return <Loading what={tr("Opening the round")} />;
  if (round.error)
    return (
      <div className="p-8">
        <ErrorLine error={round.error} />
      </div>
    );
  const r = round.data;
  const question = chosen ?? firstQuestion(r.compared);
  const asked = QUESTIONS.find((q) => q.id === question)!;
  const clubs = clubsOf(r.motions);
  const found = r.compared.filter((c) => c.what === question);
  const told = clubs.filter((c) => found.some((x) => x.club === c));
  const shownClub = club && clubs.includes(club) ? club : (told[0] ?? clubs[0] ?? "");
  const pooled = found.find((c) => c.club === ALL);
  const mine = found.find((c) => c.club === shownClub);
  const answer = (club ? mine : pooled) ?? mine ?? pooled;
  const name = clubLabel(catalogue.data?.clubs, shownClub);
  const band = r.bands.find((b) => b.club === shownClub);
  const groups = shotsOf(r.motions, shownClub, question);
  return (
    <div className="flex h-full flex-col">
      <TopLine
        title={tr("Round, {day}", { day: day(r.brief.played_at) })}
        actions={
          <Link
            to="/players/$playerId"
            params={{ playerId }}
            className="inline-flex min-h-14 min-w-14 items-center underline decoration-dotted underline-offset-4"
          >
            {r.player_name || tr("Walk-in")}
          </Link>
        }
        context={`${trn("{count} shot", "{count} shots", r.brief.shots)}, ${trn("{count} putt", "{count} putts", r.brief.putts)}`}
      />
      <main className="panes min-h-0 flex-1 grid-cols-[1fr_440px] max-[1100px]:grid-cols-[1fr_400px]">
        <section className="flex min-h-0 flex-col overflow-y-auto px-7 py-4 max-[700px]:px-4">
          <Choice label={tr("What is asked")} value={question} onChange={setChosen} options={QUESTIONS.map((q) => ({ id: q.id, label: q.label }))} />
          <p className="figure mt-1 text-[40px] leading-[1.12] font-bold max-[700px]:text-[28px]">
            {answer?.sentence ??
              (question === "course_against_range"
                ? tr("No swings of these clubs with a clip in the bay yet.")
                : tr("Nothing was noted to tell these shots apart by."))}
          </p>
          {r.notes.map((n) => (
            <p key={n} role="note" className="mt-2 border-l-4 border-ink pl-3 text-lg">
              {n}
            </p>
          ))}
          <div className="mt-2 flex flex-wrap items-center gap-x-3">
            <label className="text-lg text-muted">
              {tr("Drawn:")}{" "}
              <select
                className="min-h-14 rounded-lg border-2 border-[var(--control)] bg-paper px-3 text-lg text-ink"
                value={club}
                onChange={(e) => setClub(e.target.value)}
              >
                <option value="">{tr("all clubs ({name})", { name })}</option>
                {clubs.map((c) => (
                  <option key={c} value={c}>
                    {clubLabel(catalogue.data?.clubs, c)}
                  </option>
                ))}
              </select>
            </label>
            <p className="text-lg text-muted">
              {name ? tr("{name} at the top, seen from in front", { name }) : ""}
              {band
                ? tr("; sea: your own in the bay, {n} swings{what}", { n: band.n, what: band.kept_at ? tr(", kept {day}", { day: day(band.kept_at) }) : "" })
                : ""}
            </p>
          </div>
          <div className="h-[260px] min-h-[240px] flex-1 max-[700px]:flex-none">
            {shownClub ? <Shafts {...groups} names={{ first: asked.first, second: asked.second }} band={band} mirror={r.handedness === "left"} /> : null}
          </div>
          <div className="flex flex-wrap gap-3 pt-1">
            <Button onClick={() => setSheet("ways")}>{tr("Longer or shorter?")}</Button>
            <a
              className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold"
              href={`/api/rounds/${roundId}/bundle`}
              download
            >
              {tr("Take away")}
            </a>
            <Button tone="quiet" onClick={() => setSheet("remove")}>
              {tr("Remove …")}
            </Button>
          </div>
        </section>
        <section className="min-h-0 border-l border-hairline px-6 py-3 max-[700px]:px-4">
          <ErrorLine error={correct.error} />
          <Motions motions={r.motions} clubs={catalogue.data?.clubs} busy={correct.isPending} onSay={(number, kind) => correct.mutate({ number, kind })} />
        </section>
      </main>
      <Sheet open={sheet === "ways"} onClose={() => setSheet("")} title={tr("Longer or shorter?")}>
        <p className="text-lg text-muted">{tr("What tends to do it; common practice. Nothing here says why yours changed.")}</p>
        {(["longer", "shorter"] as const).map((way) => (
          <div key={way} className="mt-4">
            <h3 className="text-xl font-bold">{way === "longer" ? tr("Longer") : tr("Shorter")}</h3>
            {r.ways
              .filter((w) => w.way === way)
              .map((w) => (
                <p key={w.what} className="border-b border-hairline py-2 text-xl">
                  {w.what} <span className="block text-lg text-muted">{w.caution}</span>
                </p>
              ))}
          </div>
        ))}
      </Sheet>
      <Sheet
        open={sheet === "remove"}
        onClose={() => (remove.isSuccess && !restore.isSuccess ? leave() : setSheet(""))}
        title={remove.isSuccess ? tr("The round is removed.") : tr("Remove this round?")}
      >
        <p className="text-xl">
          {remove.isSuccess
            ? tr("Nothing of it is seen any more. For a day it can be brought back here; then it goes for good.")
            : tr("Everything the clips logged in it goes, and what was corrected. For a day it can be brought back; take it away if it may be needed later.")}
        </p>
        <ErrorLine error={remove.error ?? restore.error} />
        <div className="mt-6 flex gap-3">
          {remove.isSuccess ? (
            <>
              <Button
                disabled={restore.isPending}
                onClick={() =>
                  restore.mutate(undefined, {
                    onSuccess: () => {
                      remove.reset();
                      restore.reset();
                      setSheet("");
                    },
                  })
                }
              >
                {tr("Undo")}
              </Button>
              <Button tone="solid" onClick={leave}>
                {tr("To the player")}
              </Button>
            </>
          ) : (
            <>
              <Button onClick={() => setSheet("")}>{tr("Keep")}</Button>
              <Button tone="solid" onClick={() => remove.mutate()} disabled={remove.isPending}>
                {tr("Remove the round")}
              </Button>
            </>
          )}
        </div>
      </Sheet>
    </div>
  );
}
