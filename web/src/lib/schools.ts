import { tr } from "@/lib/language";

/** One question on which practitioners disagree, as the catalogue has it. */
export type School = { axis: string; shot: string; noun: string; seen_by: string[]; options: { id: string; label: string }[] };

/** The chosen schools of a club's shots in words. With what is `worn`, those that show in it; the first where none does yet. */
export function schoolsTold(schools: School[], club: string, chosen: Record<string, string>, worn?: ReadonlySet<string>): string[] {
  const known = schools.filter((s) => s.shot === (club === "putter" ? "putt" : "full"));
  const seen = worn ? known.filter((s) => s.seen_by.some((part) => worn.has(part))) : known;
  return (seen.length ? seen : known.slice(0, 1)).flatMap((s) => {
    const label = s.options.find((o) => o.id === chosen[s.axis])?.label.toLowerCase();
    return label ? [s.noun ? tr("{label} {noun}", { label, noun: s.noun }) : label] : [];
  });
}
