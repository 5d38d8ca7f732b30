import type { Schemas } from "@/api/client";

/** On how many swings a finding rests. */
export const rests = (f: Schemas["FindingOut"]) => `${f.shown} of ${f.assessed} swing${f.assessed === 1 ? "" : "s"} show${f.shown === 1 ? "s" : ""} it.`;
