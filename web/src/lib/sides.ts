import { mark, tr } from "@/lib/language";

/** Ball flight is kept by lead and trail side, and shown and asked as this player sees it. */
export type Side = "lead" | "straight" | "trail";
export type Hand = "right" | "left";

/** Column 0 is the player's left, 2 the right. A right-hander's lead side is the left. */
export function sideOfColumn(column: number, hand: Hand): Side {
  if (column === 1) return "straight";
  const left = column === 0;
  return left === (hand === "right") ? "lead" : "trail";
}

export function columnOfSide(side: string, hand: Hand): number {
  if (side === "straight") return 1;
  return (side === "lead") === (hand === "right") ? 0 : 2;
}

export const LEFT_RIGHT = [mark("left"), mark("straight"), mark("right")] as const;

/** Keys 1–9 as on a number pad seen from above: columns are the start, rows (from the top) the curve. */
export function ballOfKey(key: number, hand: Hand): { start: Side; curve: Side } {
  const column = (key - 1) % 3;
  const row = Math.floor((key - 1) / 3);
  return { start: sideOfColumn(column, hand), curve: sideOfColumn(row, hand) };
}

/** *left, right*: where it starts and how it curves, for a table. */
export function ballShort(start: string, curve: string, hand: Hand): string {
  return start && curve ? [start, curve].map((s) => tr(LEFT_RIGHT[columnOfSide(s, hand)]!)).join(", ") : "";
}

export function ballWords(start: string, curve: string, hand: Hand): string {
  if (!start || !curve) return "";
  const from = tr(LEFT_RIGHT[columnOfSide(start, hand)]!);
  const bend = LEFT_RIGHT[columnOfSide(curve, hand)]!;
  return tr("starts {from}, {what}", { from, what: bend === "straight" ? tr("flies straight") : tr("curves {bend}", { bend: tr(bend) }) });
}
