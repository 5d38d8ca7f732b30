import type { ReactNode } from "react";

import type { Schemas } from "@/api/client";
import { forest, inLines } from "@/lib/plan";
import type { Vocabulary } from "@/lib/words";
import { tr } from "@/lib/language";
import { term } from "@/lib/terms";

interface Props {
  nodes: Schemas["NodeOut"][];
  ranked: string[];
  words: Vocabulary;
}

const WIDTH = 390;
/** How wide a letter is. */
const LETTER = 9.2;

/** The cause graph: each root with what may come with it, drawn as branches; numbers are the priorities. */
export function CauseGraph({ nodes, ranked, words }: Props) {
  if (!nodes.length) return <p className="text-lg text-muted">{tr("Nothing stands out, so nothing is drawn.")}</p>;
  const { placed, height } = forest(nodes);
  return (
    <svg viewBox={`0 -10 ${WIDTH} ${height + 10}`} className="w-full" role="img" aria-label={tr("What comes from what")}>
      {placed.map(({ node, x, y, from }) => {
        const rank = ranked.indexOf(node.finding) + 1;
        const label = words === "plain" ? node.plain_label : node.label;
        const hint = node.status === "hint";
        return (
          <g key={node.finding}>
            {from ? (
              <path
                d={`M${from.x},${from.y + 14} V${y - 8} Q${from.x},${y} ${from.x + 8},${y} H${x - 15}`}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={hint ? 1.6 : 2.4}
                strokeDasharray={hint ? "3 5" : undefined}
              />
            ) : null}
            <circle
              cx={x}
              cy={y}
              r={13}
              fill={rank ? "var(--ink)" : "var(--paper)"}
              stroke="var(--ink)"
              strokeWidth={2.4}
              strokeDasharray={hint ? "4 4" : undefined}
            />
            {node.strength === "strong" && !rank ? <circle cx={x} cy={y} r={7.5} fill="none" stroke="var(--ink)" strokeWidth={2} /> : null}
            {rank ? (
              <text x={x} y={y + 6} fontSize={17} fontWeight={700} textAnchor="middle" fill="var(--paper)">
                {rank}
              </text>
            ) : null}
            <Label x={x + 22} y={y} lines={inLines(label, Math.floor((WIDTH - x - 26) / LETTER))} bold={!node.explained_by}>
              {tr("{shown} of {assessed} · {what}", { shown: node.shown, assessed: node.assessed, what: hint ? tr("a hint") : term(node.strength) })}
            </Label>
          </g>
        );
      })}
    </svg>
  );
}

/** A name, in two lines where one has no room, over what it rests on. */
function Label({ x, y, lines, bold, children }: { x: number; y: number; lines: string[]; bold: boolean; children: ReactNode }) {
  const up = lines.length > 1 ? 9 : 0;
  return (
    <>
      {lines.map((line, k) => (
        <text key={k} x={x} y={y - up + 18 * k} fontSize={lines.length > 1 ? 16 : 18} fontWeight={bold ? 700 : 400} fill="var(--ink)">
          {line}
        </text>
      ))}
      <text x={x} y={y + 20 + up} fontSize={16} fill="var(--muted)">
        {children}
      </text>
    </>
  );
}
