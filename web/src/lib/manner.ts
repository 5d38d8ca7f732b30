/** How this page says what it says: language, lengths (cm or in), distances (m or ft), the clock (24 or 12 hours). */
export interface Manner {
  language: Language;
  lengths: "cm" | "in";
  distances: "m" | "ft";
  clock: "24" | "12";
}

export const LANGUAGES = { en: "English", es: "Español" } as const;
export type Language = keyof typeof LANGUAGES;

let now: Manner = { language: "en", lengths: "cm", distances: "m", clock: "24" };

export const manner = (): Manner => now;

export function setManner(how: Manner): void {
  now = how;
}
