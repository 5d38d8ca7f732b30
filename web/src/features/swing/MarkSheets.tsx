import { useState } from "react";

import type { Schemas } from "@/api/client";
import { columnOfSide, sideOfColumn, type Hand } from "@/lib/sides";
import { KindChoice, type Kind } from "@/shared/forms/KindChoice";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { useStateFrom } from "@/shared/ui/useStateFrom";
import { mark, tr } from "@/lib/language";

type Strike = Schemas["SwingBrief"]["strike"];

const TAGS = [mark("skilled"), mark("reference"), mark("on the course")];
const STRIKES: { id: Strike; label: string }[] = [
  { id: "centre", label: tr("Centre") },
  { id: "toe", label: tr("Toe") },
  { id: "heel", label: tr("Heel") },
  { id: "thin", label: tr("Thin") },
  { id: "fat", label: tr("Fat") },
];

/** Mark the kind of a swing: findings rest on normal and test swings only. */
export function KindSheet(props: {
  open: boolean;
  onClose: () => void;
  swing: Schemas["SwingOut"];
  onKind: (kind: Kind, reason: string) => void;
  onTags: (tags: string[]) => void;
  onReference: (form: "swing" | "best") => void;
  kept: string;
  pinned: number;
  error: unknown;
}) {
  const { tags } = props.swing;
  const tag = (name: string) => props.onTags(tags.includes(name) ? tags.filter((t) => t !== name) : [...tags, name]);
  return (
    <Sheet open={props.open} onClose={props.onClose} title={tr("Swing {number} is", { number: props.swing.number })}>
      <KindChoice kind={props.swing.kind} reason={props.swing.discard_reason} onKind={props.onKind} />
      <p className="mt-6 text-xl font-bold">{tr("Find it again as")}</p>
      <div className="mt-2 flex flex-wrap gap-3">
        {[...new Set([...TAGS, ...tags])].map((t) => (
          <Button key={t} tone={tags.includes(t) ? "solid" : "line"} aria-pressed={tags.includes(t)} onClick={() => tag(t)}>
            {tr(t)}
          </Button>
        ))}
      </div>
      <p className="mt-6 text-xl font-bold">{tr("Keep it")}</p>
      <div className="mt-2 flex flex-wrap gap-3">
        <Button onClick={() => props.onReference("swing")}>{tr("As a reference")}</Button>
        <Button onClick={() => props.onReference("best")}>
          {props.pinned ? tr("The {pinned} pinned as own best", { pinned: props.pinned }) : tr("As the player's own best")}
        </Button>
      </div>
      {props.kept ? (
        <p role="status" className="mt-2 text-lg">
          {tr("Kept; it can be laid over any swing.{what}", { what: props.kept === "best" ? tr(" Ranges relative to the player's own best use it.") : "" })}
        </p>
      ) : null}
      <ErrorLine error={props.error} />
    </Sheet>
  );
}

interface BallProps {
  open: boolean;
  onClose: () => void;
  swings: Schemas["SwingBrief"][];
  swing: Schemas["SwingOut"];
  hand: Hand;
  onBall: (id: string, patch: Schemas["SwingPatch"]) => void;
}

const ROWS = [tr("curves left"), tr("straight"), tr("curves right")];
const COLUMNS = [tr("left"), tr("straight"), tr("right")];

/** Ball flight on a 3×3 pad, then strike; either may be left out; for this or an earlier swing. */
export function BallSheet(props: BallProps) {
  const [number, setNumber] = useStateFrom(() => props.swing.number, `${props.swing.id} ${props.open}`);
  const at = props.swings.find((s) => s.number === number) ?? props.swing;
  return (
    <Sheet open={props.open} onClose={props.onClose} title={tr("Ball of swing {number}", { number: at.number })}>
      <div className="flex items-center gap-3">
        <Button onClick={() => setNumber((n) => Math.max(1, n - 1))} disabled={number <= 1}>
          {tr("Earlier")}
        </Button>
        <Button onClick={() => setNumber((n) => Math.min(props.swings.length, n + 1))} disabled={number >= props.swings.length}>
          {tr("Later")}
        </Button>
        <Button tone="quiet" onClick={() => props.onBall(at.id, { reason: "", ball_start: "", ball_curve: "" })}>
          {tr("Clear")}
        </Button>
      </div>
      <p className="mt-4 text-lg text-muted">{tr("Starts left, straight, right · curves left, not, right (keys 1 to 9)")}</p>
      <div className="mt-2 grid grid-cols-3 gap-2">
        {[0, 1, 2].flatMap((row) =>
          [0, 1, 2].map((column) => {
            const start = sideOfColumn(column, props.hand);
            const curve = sideOfColumn(row, props.hand);
            const chosen = at.ball_start !== "" && columnOfSide(at.ball_start, props.hand) === column && columnOfSide(at.ball_curve, props.hand) === row;
            return (
              <button
                key={`${row}${column}`}
                type="button"
                aria-pressed={chosen}
                aria-label={tr("{what}: starts {columns}, {rows}", { what: row * 3 + column + 1, columns: COLUMNS[column], rows: ROWS[row] })}
                onClick={() => props.onBall(at.id, { reason: "", ball_start: start, ball_curve: curve })}
                className={`flex min-h-[92px] items-center justify-between border-2 border-ink px-3 ${chosen ? "bg-ink text-paper" : ""}`}
              >
                <kbd className="self-start pt-1 font-sans text-base opacity-70">{row * 3 + column + 1}</kbd>
                <Flight column={column} row={row} />
              </button>
            );
          }),
        )}
      </div>
      <p className="mt-5 text-xl font-bold">{tr("Strike")}</p>
      <div className="mt-2 flex flex-wrap gap-3">
        {STRIKES.map((k) => (
          <Button
            key={k.id}
            tone={at.strike === k.id ? "solid" : "line"}
            onClick={() => props.onBall(at.id, { reason: "", strike: at.strike === k.id ? "" : k.id })}
          >
            {k.label}
          </Button>
        ))}
      </div>
    </Sheet>
  );
}

function Flight({ column, row }: { column: number; row: number }) {
  const startX = 40 + (column - 1) * 16;
  const endX = 40 + (column - 1) * 18 + (row - 1) * 15;
  return (
    <svg viewBox="0 0 80 80" width={76} height={76} aria-hidden>
      <path d={`M40,74 Q${startX},34 ${endX},8`} fill="none" stroke="currentColor" strokeWidth={3.5} strokeLinecap="round" />
      <circle cx={endX} cy={8} r={5} fill="currentColor" />
    </svg>
  );
}

/** Change the club in one tap; swings are grouped and judged by club. */
export function ClubSheet(props: {
  open: boolean;
  onClose: () => void;
  swing: Schemas["SwingOut"];
  clubs: Schemas["ClubInfo"][];
  onClub: (club: string, next: boolean) => void;
}) {
  const [next, setNext] = useState(true);
  return (
    <Sheet open={props.open} onClose={props.onClose} title={tr("Club of swing {number}", { number: props.swing.number })}>
      <label className="flex min-h-14 items-center gap-4 text-xl">
        <input type="checkbox" className="size-7 accent-[var(--ink)]" checked={next} onChange={(e) => setNext(e.target.checked)} />
        {tr("and of the next swings")}
      </label>
      <div className="mt-2 grid grid-cols-2 gap-3">
        {props.clubs.map((c) => (
          <Button key={c.id} tone={props.swing.club === c.id ? "solid" : "line"} onClick={() => props.onClub(c.id, next)}>
            {c.label}
          </Button>
        ))}
      </div>
    </Sheet>
  );
}
