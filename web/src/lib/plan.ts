/** The plan of a lesson without React: what is chosen, what changed, how the causes are drawn. */

import { tr } from "@/lib/language";

export interface Choice {
  finding: string;
  label: string;
  drill: string;
  why: string;
  override_reason: string;
}

interface Proposal {
  finding: string;
  label: string;
  why: string;
  plain_why: string;
  drills: string[];
}

interface Kept {
  finding: string;
  label: string;
  drill: string;
  why: string;
  override_reason: string;
}

export const MOST = 2;

/** What stands in the plan: what the instructor kept, else what is proposed. */
export function chosenOf(planned: boolean, kept: Kept[], proposals: Proposal[], plain = false): Choice[] {
  if (planned) return kept.map(({ finding, label, drill, why, override_reason }) => ({ finding, label, drill, why, override_reason }));
  return proposals
    .slice(0, MOST)
    .map((p) => ({ finding: p.finding, label: p.label, drill: p.drills[0] ?? "", why: plain ? p.plain_why : p.why, override_reason: "" }));
}

/** Whether a choice departs from what is proposed at its place, so that a reason is asked for. */
export function departs(choice: Choice, place: number, proposals: Proposal[]): boolean {
  return proposals.length > 0 && proposals[place]?.finding !== choice.finding;
}

export function without(choices: Choice[], place: number): Choice[] {
  return choices.filter((_, k) => k !== place);
}

export function swapped(choices: Choice[]): Choice[] {
  return [...choices].reverse();
}

/** A choice put first; what does not fit any more falls off the end. */
export function putFirst(choices: Choice[], choice: Choice): Choice[] {
  return [choice, ...choices.filter((c) => c.finding !== choice.finding || c.finding === "")].slice(0, MOST);
}

/** What is said when what is proposed first is not what it was when last looked at. */
export function changedSince(before: string[] | null, proposals: Proposal[], name: (id: string) => string): string {
  if (before === null) return "";
  const now = proposals.map((p) => p.finding);
  if (before.join() === now.join()) return "";
  const first = proposals[0];
  if (!first) return tr("Nothing is proposed any more; before it was {what}.", { what: before.map(name).join(", ").toLowerCase() });
  if (before[0] === first.finding)
    return now.length < before.length ? tr("One priority less than before.") : tr("Second now: {what}.", { what: name(now[1] ?? "").toLowerCase() });
  return tr("Now first: {name}{what}.", { name: name(first.finding), what: before[0] ? tr(", before: {what}", { what: name(before[0]).toLowerCase() }) : "" });
}

export interface GraphNode {
  finding: string;
  explained_by: string | null;
  root: string;
  layer: number;
}

export interface Placed<N extends GraphNode> {
  node: N;
  x: number;
  y: number;
  from: { x: number; y: number } | null;
}

export const ROW = 54;
export const INDENT = 34;
const EDGE = 20;

/** A forest: each root with what it explains beneath it, one step to the right. */
export function forest<N extends GraphNode>(nodes: readonly N[]): { placed: Placed<N>[]; height: number } {
  const placed: Placed<N>[] = [];
  const walk = (node: N, depth: number, from: { x: number; y: number } | null) => {
    const at = { x: EDGE + INDENT * depth, y: EDGE + ROW * placed.length };
    placed.push({ node, ...at, from });
    for (const child of nodes) if (child.explained_by === node.finding) walk(child, depth + 1, at);
  };
  for (const root of nodes) if (root.explained_by === null) walk(root, 0, null);
  return { placed, height: 2 * EDGE + ROW * Math.max(0, placed.length - 1) + 12 };
}

/** The usual flight in this player's left and right: "4 of 5 start right, 5 of 5 curve right". */
export function flightWords(
  f: { seen: number; start: string; curve: string; start_count: number; curve_count: number; told: boolean; words: string[] },
  side: (s: string) => string,
): string {
  if (f.told) return f.words.length ? tr("noted as the usual miss: {what}", { what: f.words.join(", ") }) : tr("no ball noted yet");
  if (!f.seen) return f.words.join(", ");
  const curve = side(f.curve);
  const bends = f.curve === "straight" ? tr("fly straight") : tr("curve {curve}", { curve });
  return tr("{start_count} of {seen} start {side}, {curve_count} of {seen} {bends}", {
    start_count: f.start_count,
    seen: f.seen,
    side: side(f.start),
    curve_count: f.curve_count,
    bends,
  });
}

/** Priorities in a line. */
export const priorityWords = (priorities: unknown): string => (priorities as { label: string }[]).map((p) => p.label).join("; ") || "none";

/** A name in one line of so many letters, else in two; what has no room there ends in an ellipsis. */
export function inLines(name: string, letters: number): string[] {
  if (name.length <= letters) return [name];
  const cut = name.lastIndexOf(" ", letters - 2); // bold letters are wider
  if (cut <= 0) return [`${name.slice(0, letters - 1)}…`];
  const rest = name.slice(cut + 1);
  return [name.slice(0, cut), rest.length <= letters - 2 ? rest : `${rest.slice(0, letters - 3)}…`];
}
