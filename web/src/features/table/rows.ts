/** Rows of a lesson's table in the order they are asked for, and as they are copied. */
import type { Schemas } from "@/api/client";
import { tr } from "@/lib/language";

export type Row = Schemas["TableRowOut"];
export type Column = Schemas["TableColumnOut"];

/** By the swing's number, its kind, or a column (its key); `down`: the largest first. */
export interface Sort {
  by: string;
  down: boolean;
}

export const FIRST: Sort = { by: "number", down: false };

/** Sorted; swings without a value come last either way, equal ones in their own order. */
export function sorted(rows: readonly Row[], columns: readonly Column[], { by, down }: Sort): Row[] {
  const k = columns.findIndex((c) => c.key === by);
  const value = (row: Row): number | string | null => (by === "number" ? row.number : by === "kind" ? row.kind : (row.values[k] ?? null));
  const sign = down ? -1 : 1;
  return [...rows].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    if (x === null || y === null) return x === y ? a.number - b.number : x === null ? 1 : -1;
    if (x === y) return a.number - b.number;
    return sign * (typeof x === "number" && typeof y === "number" ? x - y : String(x).localeCompare(String(y)));
  });
}

/** Text for a spreadsheet: a tab between cells. A cell that would be taken for a formula gets an apostrophe. */
export function asText(rows: readonly Row[], columns: readonly Column[], head: (c: Column) => string): string {
  const safe = (cell: string) => (/^[=+\-@]/.test(cell) && Number.isNaN(Number(cell)) ? `'${cell}` : cell).replaceAll(/[\t\n]/g, " ");
  const lines = [
    [tr("swing"), tr("kind"), tr("ball start"), tr("ball curve"), tr("strike"), ...columns.map(head)],
    ...rows.map((r) => [String(r.number), r.kind, r.ball_start, r.ball_curve, r.strike, ...r.values.map((v) => (v === null ? "" : String(v)))]),
  ];
  return lines.map((line) => line.map(safe).join("\t")).join("\n");
}
