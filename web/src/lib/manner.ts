/** How this page says what it says: language, lengths (cm or in), distances (m or ft), the clock (24 or 12 hours). */
export interface Manner {
  language: Language;
  lengths: "cm" | "in";
  distances: "m" | "ft";
  clock: "24" | "12";
}

/** Each by its own name: that is how somebody finds theirs. */
export const LANGUAGES = { en: "English", es: "Español" } as const;
export type Language = keyof typeof LANGUAGES;

const KINDS = [Object.keys(LANGUAGES), ["cm", "in"], ["m", "ft"], ["24", "12"]] as const;
let now: Manner = { language: "en", lengths: "cm", distances: "m", clock: "24" };

export const manner = (): Manner => now;

export function setManner(how: Manner): void {
  now = how;
}

/** As one word, which the server reads too: *es-in-ft-12*. */
export const written = (how: Manner): string => [how.language, how.lengths, how.distances, how.clock].join("-");

/** What `written` wrote; nothing of anything else. */
export function readManner(text: string): Manner | null {
  const parts = text.split("-");
  if (parts.length !== KINDS.length || parts.some((p, k) => !(KINDS[k]! as readonly string[]).includes(p))) return null;
  const [language, lengths, distances, clock] = parts as [Language, Manner["lengths"], Manner["distances"], Manner["clock"]];
  return { language, lengths, distances, clock };
}

/** The first of the browser's languages that we have, with the units that go with none of them. */
export function liked(languages: readonly string[]): Manner {
  const known = languages.map((l) => l.slice(0, 2).toLowerCase()).find((l): l is Language => l in LANGUAGES);
  return { ...now, language: known ?? "en" };
}
