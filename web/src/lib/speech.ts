/** Settles how a page speaks before anything of it is loaded: as it was told last, else as the browser likes it. */
import { speak, type Words } from "./language";
import { liked, type Language, manner, type Manner, readManner, written } from "./manner";

/** The server reads it too, so that what it says agrees with the page. */
const COOKIE = "finearc_manner";
const YEAR_S = 31_536_000;

export type Load = (language: Exclude<Language, "en">) => Promise<{ default: Words }>;

/** The manner that this browser was told last. */
export function kept(): Manner | null {
  const found = document.cookie.split("; ").find((c) => c.startsWith(`${COOKIE}=`));
  return found ? readManner(found.slice(COOKIE.length + 1)) : null;
}

/** Speak in a manner; English needs no catalogue, and is said where one does not come. */
export async function begin(how: Manner | null, load: Load): Promise<void> {
  const wanted = how ?? liked(navigator.languages);
  try {
    const words = wanted.language === "en" ? {} : (await load(wanted.language)).default;
    speak(wanted, words);
  } catch {
    speak({ ...wanted, language: "en" }, {});
  }
}

/** The server says how the academy speaks: where this page speaks otherwise, it is loaded anew. */
export function hear(how: Manner, again: () => void = () => window.location.reload()): void {
  const text = written(how);
  if (kept() === null || written(kept()!) !== text) document.cookie = `${COOKIE}=${text}; path=/; max-age=${YEAR_S}; samesite=lax`;
  const stays = kept() !== null && written(kept()!) === text; // where a browser keeps no cookies, it speaks as it likes
  if (stays && text !== written(manner())) again();
}
