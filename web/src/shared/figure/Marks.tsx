/** Values beside a band: the skilled hollow, one's own players filled, each on a ring of its own. */
export interface Mark {
  value: number;
  own: boolean;
}

/** Where a value stands; ring 0 next to the band, further rings beyond it. */
export type Ring = (value: number, ring: number) => readonly [number, number];

const [HOLLOW, FULL] = [4.5, 5.5];
/** Neighbours of one kind step aside by turns, in rings. */
const ASIDE = [0, 0.5, 1];

export function Marks({ marks, at }: { marks: readonly Mark[] | undefined; at: Ring }) {
  return (
    <>
      {(marks ?? []).map(({ value, own }, k) => {
        const [x, y] = at(value, own ? 1.2 + ASIDE[k % ASIDE.length]! : 0);
        return own ? (
          <circle key={k} cx={x} cy={y} r={FULL} fill="var(--ink)" fillOpacity={0.75} />
        ) : (
          <circle key={k} cx={x} cy={y} r={HOLLOW} fill="none" stroke="var(--sea)" strokeWidth={2} />
        );
      })}
    </>
  );
}
