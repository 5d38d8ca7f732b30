/** Changes of ranges that are not saved yet, and which ranges are shown; without React. */

import { tr } from "@/lib/language";

export interface RangeLike {
  id: string;
  label: string;
  moment: string;
  family: string;
  school: string;
  club_class: string;
  provenance: string;
}

export interface RangeEdit {
  id: string;
  low: number | null;
  high: number | null;
  soft_low: number;
  soft_high: number;
  note: string | null;
  lean: boolean;
  retire: boolean;
}

export interface Draft {
  base: string;
  changes: RangeEdit[];
}

/** What a typed limit says: a number, nothing (open), or not a number. */
export function typed(text: string): number | null | undefined {
  const clean = text.trim().replace(",", ".").replace("−", "-");
  if (clean === "") return null;
  const value = Number(clean);
  return Number.isFinite(value) ? value : undefined;
}

/** What is wrong with limits as typed; empty when nothing is. */
export function wrongLimits(low: number | null | undefined, high: number | null | undefined, leans: boolean): string {
  if (low === undefined || high === undefined) return tr("Give numbers, or leave a limit empty to leave that side open.");
  if (low === null && high === null && !leans) return tr("At least one limit is needed.");
  if (low !== null && high !== null && low > high) return tr("The low limit {low} lies above the high limit {high}.", { low, high });
  return "";
}

export function withEdit(draft: Draft, edit: RangeEdit): Draft {
  return { ...draft, changes: [...draft.changes.filter((c) => c.id !== edit.id), edit] };
}

export function withoutEdit(draft: Draft, id: string): Draft {
  return { ...draft, changes: draft.changes.filter((c) => c.id !== id) };
}

/** Ranges whose name, place, school or source carries every word of the search. */
export function search<R extends RangeLike>(ranges: readonly R[], text: string, family: string): R[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return ranges.filter((r) => {
    if (family && r.family !== family) return false;
    const all = `${r.id} ${r.label} ${r.moment} ${r.school} ${r.club_class} ${r.provenance}`.toLowerCase();
    return words.every((w) => all.includes(w));
  });
}
