import { dayOf } from "@/lib/diary";
import { dayWords, timeWords, weekdays } from "@/lib/dates";

import type { Place, Slot } from "./useDiary";
import { tr } from "@/lib/language";

export const shortDay = (day: string) => dayWords(day, "weekdayShort");
export const weekDay = (day: string) => dayWords(day, "weekday");
export const longDay = (day: string) => dayWords(day, "weekdayLong");
export const wall = timeWords;

/** "Tue 3 Dec 10:00, Bay 2". */
export const placeWords = (p: Place) => `${shortDay(dayOf(p.starts_at))} ${wall(p.starts_at)}, ${p.bay}`;

export const STATUS: Record<Slot["status"], string> = {
  planned: "",
  running: tr("running"),
  closed: tr("done"),
  cancelled: tr("cancelled"),
  no_show: tr("did not come"),
};

export const WEEKDAYS = weekdays();
