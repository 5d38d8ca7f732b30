import { OUTCOMES, type Outcome } from "@/lib/putts";

interface Props {
  outcome: Outcome | "";
  /** Still to be putted. */
  owed?: boolean;
  size?: number;
}

/** The hole from above with the ball where it went: in it, left, right, short, long. Read by shape, not by colour. */
export function OutcomeGlyph({ outcome, owed = false, size = 44 }: Props) {
  const at = OUTCOMES.find((o) => o.id === outcome)?.at;
  const hole = 7;
  return (
    <svg viewBox="-22 -22 44 44" width={size} height={size} aria-hidden>
      <circle r={hole} fill="none" stroke={owed ? "var(--hairline)" : "var(--muted)"} strokeWidth={owed ? 1.6 : 2} strokeDasharray={owed ? "3 3" : undefined} />
      {owed ? null : at ? (
        <circle cx={at[0] * hole} cy={at[1] * hole} r={5} fill="var(--ink)" />
      ) : (
        <circle cy={15} r={5} fill="none" stroke="var(--ink)" strokeWidth={1.8} />
      )}
    </svg>
  );
}
