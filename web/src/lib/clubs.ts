/** A club's name; one that cannot be chosen here by its id. */
export function clubLabel(clubs: readonly { id: string; label: string }[] | undefined, id: string): string {
  return clubs?.find((c) => c.id === id)?.label ?? id.charAt(0).toUpperCase() + id.slice(1);
}
