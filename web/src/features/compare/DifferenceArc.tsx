import { useSyncExternalStore } from "react";

import type { Checkpoint } from "@/lib/arc";
import type { Cursor } from "@/lib/cursor";
import { amount, changeInWords, inWords, moment, type MetricWords, type Vocabulary } from "@/lib/words";
import { ArcNavigator } from "@/shared/arc/ArcNavigator";

import { at, BEYOND, type Laid } from "./laid";
import { tr } from "@/lib/language";

interface Props {
  laid: Laid;
  checkpoints: Checkpoint[];
  cursor: Cursor;
  selected: string | null;
  differs: [number, number][];
  mirror: boolean;
  metric: MetricWords;
  words: Vocabulary;
  onSelect: (name: string) => void;
}

/** The swing as one arc with the difference said inside, where it is looked at; the stretch that differs is drawn on it. */
export function DifferenceArc(props: Props) {
  const { laid, checkpoints, cursor, selected, differs, mirror, onSelect } = props;
  return (
    <ArcNavigator
      checkpoints={checkpoints}
      start={laid.node[0]!}
      end={laid.node.at(-1)!}
      cursor={cursor}
      out={differs}
      mirror={mirror}
      selected={selected}
      verdicts={{}}
      onSelect={onSelect}
    >
      {(unit) => <Inside {...props} unit={unit} />}
    </ArcNavigator>
  );
}

/** The same in one line, where there is no room for the arc. */
export function DifferenceLine({ laid, cursor, selected, metric, words }: Pick<Props, "laid" | "cursor" | "selected" | "metric" | "words">) {
  const r = useDifference({ laid, cursor, selected, metric, words });
  return (
    <p className="text-lg leading-tight">
      {r ? (
        <>
          <b className="figure text-[40px]">{r.size}</b> {r.more} {r.place} <span className="text-muted">{r.certain}</span>
        </>
      ) : (
        tr("Not seen here.")
      )}
    </p>
  );
}

function useDifference({ laid, cursor, selected, metric, words }: Pick<Props, "laid" | "cursor" | "selected" | "metric" | "words">) {
  const now = useSyncExternalStore(cursor.subscribe, cursor.get);
  const [a, b, d, u] = [laid.a.mean, laid.b.mean, laid.difference, laid.uncertainty].map((values) => at(laid, values, now));
  if (d == null || a == null || b == null) return null;
  const clear = Math.abs(d) > BEYOND * u!;
  const size = amount(metric, d);
  return {
    sides: [a, b],
    clear,
    size,
    more: changeInWords(metric, d, words).slice(size.length).trim() || (d > 0 ? tr("more") : tr("less")),
    place: selected ? tr("at {what}", { what: selected === "top" ? tr("the top") : moment(selected) }) : tr("here"),
    certain: clear ? `± ${amount(metric, u!)}` : tr("within ± {amount}", { amount: amount(metric, BEYOND * u!) }),
  };
}

const LETTERS = 16.5;
/** Units of the drawing to a CSS pixel beyond which there is room for the difference alone. */
const CROWDED = 2;

function Inside({ laid, cursor, selected, metric, words, unit }: Props & { unit: number }) {
  const r = useDifference({ laid, cursor, selected, metric, words });
  const small = Math.max(24, LETTERS * unit);
  if (!r)
    return (
      <text x={260} y={262} fontSize={small} textAnchor="middle" fill="var(--muted)" pointerEvents="none">
        {tr("not seen here")}
      </text>
    );
  return (
    <g pointerEvents="none" textAnchor="middle" fill="var(--ink)" className="figure">
      <text x={260} y={160} fontSize={small} fill="var(--muted)">
        {r.place}
      </text>
      <text x={260} y={264} fontSize={r.size.length > 5 ? 78 : 108} fontWeight={700}>
        {r.size}
      </text>
      <text x={260} y={264 + 1.5 * small} fontSize={small * 1.1} fontWeight={r.clear ? 700 : 400}>
        {r.more}
      </text>
      <text x={260} y={264 + 2.9 * small} fontSize={small * 0.9} fill="var(--muted)">
        {r.certain}
      </text>
      {(unit > CROWDED ? [] : r.sides).map((value, k) => (
        <g key={k} transform={`translate(260,${264 + (4.5 + 1.25 * k) * small})`}>
          <line
            x1={-5.2 * small}
            x2={-3.6 * small}
            y1={-0.3 * small}
            y2={-0.3 * small}
            stroke="var(--ink)"
            strokeWidth={k ? 2.6 * unit : 3.4 * unit}
            strokeDasharray={k ? `${7 * unit} ${5 * unit}` : undefined}
          />
          <text x={-3.2 * small} fontSize={small * 0.95} textAnchor="start">
            {inWords(metric, value, words)}
          </text>
        </g>
      ))}
    </g>
  );
}
