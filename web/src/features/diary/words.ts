import { dayOf } from "@/lib/diary";

import type { Place, Slot } from "./useDiary";

const spoken = (day: string, how: Intl.DateTimeFormatOptions) => new Date(`${day}T12:00:00Z`).toLocaleDateString("en-GB", { ...how, timeZone: "UTC" });

export const shortDay = (day: string) => spoken(day, { weekday: "short", day: "numeric", month: "short" });
export const weekDay = (day: string) => spoken(day, { weekday: "short", day: "numeric" });
export const longDay = (day: string) => spoken(day, { weekday: "long", day: "numeric", month: "long" });
export const wall = (iso: string) => iso.slice(11, 16);

/** "Tue 3 Dec 10:00, Bay 2". */
export const placeWords = (p: Place) => `${shortDay(dayOf(p.starts_at))} ${wall(p.starts_at)}, ${p.bay}`;

export const STATUS: Record<Slot["status"], string> = {
  planned: "",
  running: "running",
  closed: "done",
  cancelled: "cancelled",
  no_show: "did not come",
};

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
