/** Days and times in words, as the page's language and clock write them. */
import { locale } from "@/lib/language";
import { manner } from "@/lib/manner";

const STYLES = {
  /** *3 Dec* */
  short: { day: "numeric", month: "short" },
  /** *3 Dec 2026* */
  dated: { day: "numeric", month: "short", year: "numeric" },
  /** *3 December 2026* */
  full: { day: "numeric", month: "long", year: "numeric" },
  /** *Tue 3* */
  weekday: { weekday: "short", day: "numeric" },
  /** *Tue, 3 Dec* */
  weekdayShort: { weekday: "short", day: "numeric", month: "short" },
  /** *Tuesday 3 December* */
  weekdayLong: { weekday: "long", day: "numeric", month: "long" },
} as const satisfies Record<string, Intl.DateTimeFormatOptions>;

/** A day in words; of an answer's time the day that stands there, by the academy's clock. */
export const dayWords = (iso: string, style: keyof typeof STYLES = "short") =>
  new Date(`${iso.slice(0, 10)}T12:00:00Z`).toLocaleDateString(locale(), { ...STYLES[style], timeZone: "UTC" });

/** When something happened, by the browser's own clock: *3 December, 14:05*. */
export const whenWords = (iso: string) =>
  new Date(iso).toLocaleString(locale(), { day: "numeric", month: "long", hour: "2-digit", minute: "2-digit", hour12: manner().clock === "12" });

/** The first day of a week is Monday. */
export const weekdays = () =>
  Array.from({ length: 7 }, (_, k) => new Date(Date.UTC(2026, 0, 5 + k)).toLocaleDateString(locale(), { weekday: "long", timeZone: "UTC" }));

/** Minutes of a day on the clock: *14:05*, *2:05 pm*. */
export function clockWords(minutes: number): string {
  const at = new Date(Date.UTC(2026, 0, 1, Math.floor(minutes / 60) % 24, minutes % 60));
  const twelve = manner().clock === "12";
  return at.toLocaleTimeString(locale(), { hour: twelve ? "numeric" : "2-digit", minute: "2-digit", hour12: twelve, timeZone: "UTC" });
}

/** The time that an answer shows, by the academy's clock. */
export const timeWords = (iso: string) => clockWords(60 * Number(iso.slice(11, 13)) + Number(iso.slice(14, 16)));
