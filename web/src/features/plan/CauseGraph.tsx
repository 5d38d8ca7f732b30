import type { Schemas } from "@/api/client";
import { forest } from "@/lib/plan";
import type { Vocabulary } from "@/lib/words";

interface Props {
  nodes: Schemas["NodeOut"][];
  ranked: string[];
  words: Vocabulary;
}

const WIDTH = 390;

/** The cause graph: each root with what may come with it, drawn as branches; numbers are the priorities. */
export function CauseGraph({ nodes, ranked, words }: Props) {
  if (!nodes.length) return <p className="text-lg text-muted">Nothing stands out, so nothing is drawn.</p>;
  const { placed, height } = forest(nodes);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${height}`} className="w-full" role="img" aria-label="What comes from what">
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
            <text
              x={x + 22}
              y={y}
              fontSize={18}
              fontWeight={node.explained_by ? 400 : 700}
              fill="var(--ink)"
              textLength={fits(label, WIDTH - x - 26)}
              lengthAdjust="spacingAndGlyphs"
            >
              {label}
            </text>
            <text x={x + 22} y={y + 20} fontSize={16} fill="var(--muted)">
              {node.shown} of {node.assessed} · {hint ? "a hint" : node.strength}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** Only a label that would run over the edge is drawn closer. */
function fits(label: string, room: number): number | undefined {
  return label.length * 9.2 > room ? room : undefined;
}
