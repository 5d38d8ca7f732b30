import type { Schemas } from "@/api/client";
import { tr } from "@/lib/language";

export type Role = Schemas["Me"]["role"];

/** Each role with what it may do, in one sentence. */
export const ROLES: readonly { id: Role; name: string; may: string }[] = [
  { id: "owner", name: tr("owner"), may: tr("Everything: people, rules, erasing, the academy's clock and language.") },
  { id: "instructor", name: tr("instructor"), may: tr("Lessons, plans, comparisons, the academy's ranges and drills.") },
  { id: "assistant", name: tr("assistant"), may: tr("The diary, fitting, capturing. No plan and no notes on pain.") },
  { id: "viewer", name: tr("viewer"), may: tr("The big screens of the bays, nothing else.") },
];

export const roleName = (id: Role): string => ROLES.find((r) => r.id === id)?.name ?? id;
