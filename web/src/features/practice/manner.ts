/** How a link's page speaks: as its player has it, which the phone keeps beside the page. */
import { manner, type Manner, readManner, written } from "@/lib/manner";

export const MANNER = "practice-manner:";

export function keptManner(token: string): Manner | null {
  try {
    return readManner(window.localStorage.getItem(MANNER + token) ?? "");
  } catch {
    return null;
  }
}

/** Kept; a page that speaks otherwise is loaded anew. */
export function hearManner(token: string, how: Manner, again: () => void = () => window.location.reload()): void {
  const text = written(how);
  try {
    window.localStorage.setItem(MANNER + token, text);
  } catch {
    return; // a phone that keeps nothing speaks as it likes
  }
  if (text !== written(manner())) again();
}
