/** One question on which practitioners disagree, as the catalogue has it. */
export type School = { axis: string; shot: string; noun: string; seen_by: string[]; options: { id: string; label: string }[] };

/** The chosen schools of a full swing in words. With what is `worn`, those that show in it; the first where none does yet. */
export function schoolsTold(schools: School[], chosen: Record<string, string>, worn?: ReadonlySet<string>): string[] {
  const full = schools.filter((s) => s.shot === "full");
  const seen = worn ? full.filter((s) => s.seen_by.some((part) => worn.has(part))) : full;
  return (seen.length ? seen : full.slice(0, 1)).flatMap((s) => {
    const label = s.options.find((o) => o.id === chosen[s.axis])?.label.toLowerCase();
    return label ? [`${label} ${s.noun}`.trim()] : [];
  });
}
