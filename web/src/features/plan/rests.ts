import type { Schemas } from "@/api/client";
import { tr, trn } from "@/lib/language";

/** On how many swings a finding rests. */
export const rests = (f: Schemas["FindingOut"]) =>
  f.shown === 1
    ? trn("1 of {count} swing shows it.", "1 of {count} swings shows it.", f.assessed)
    : tr("{shown} of {assessed} swings show it.", { shown: f.shown, assessed: f.assessed });
