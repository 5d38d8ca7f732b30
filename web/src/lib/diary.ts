/** Walls and grids of a diary: what the academy's clock shows, without any reckoning in the browser's own zone. */

/** Minutes of the day that an answer's time shows, of the academy's clock as it is written. */
export const minutesOf = (iso: string) => 60 * Number(iso.slice(11, 13)) + Number(iso.slice(14, 16));

/** The day that an answer's time shows. */
export const dayOf = (iso: string) => iso.slice(0, 10);

export const clockOf = (minutes: number) => `${String(Math.floor(minutes / 60) % 24).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;

/** So many days later. */
export function plusDays(day: string, days: number): string {
  const d = new Date(`${day}T12:00:00Z`);
  d.setUTCDate(d.getUTCDate() + days);
  return d.toISOString().slice(0, 10);
}

/** The Monday of a day's week. */
export const mondayOf = (day: string) => plusDays(day, -((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7));

export const STEP = 15;

/** Minutes rounded to quarters of an hour. */
export const stepped = (minutes: number) => Math.round(minutes / STEP) * STEP;

export interface Stretch {
  begins: string;
  ends: string;
}

/** From when until when a day's column is drawn: whole hours that hold all that is in it, eight to eight at least. */
export function shownHours(stretches: Stretch[]): { from: number; until: number } {
  let from = 8 * 60;
  let until = 20 * 60;
  for (const s of stretches) {
    from = Math.min(from, minutesOf(s.begins));
    until = Math.max(until, dayOf(s.ends) > dayOf(s.begins) ? 1440 : minutesOf(s.ends));
  }
  return { from: Math.floor(from / 60) * 60, until: Math.min(1440, Math.ceil(until / 60) * 60) };
}

/** What is not within any of some stretches of a day, from `from` until `until` (minutes). */
export function closed(open: Stretch[], day: string, from: number, until: number): [number, number][] {
  const spans = open
    .filter((s) => dayOf(s.begins) === day)
    .map((s): [number, number] => [minutesOf(s.begins), dayOf(s.ends) > day ? 1440 : minutesOf(s.ends)])
    .sort((a, b) => a[0] - b[0]);
  const out: [number, number][] = [];
  let at = from;
  for (const [a, b] of spans) {
    if (a > at) out.push([at, Math.min(a, until)]);
    at = Math.max(at, b);
  }
  if (at < until) out.push([at, until]);
  return out.filter(([a, b]) => b > a);
}

/** Side by side where they share time: each one's lane, how many lanes there are beside it, and which go together. */
export function lanes<T extends { from: number; until: number }>(items: T[]): (T & { lane: number; of: number; group: number })[] {
  const sorted = [...items].sort((a, b) => a.from - b.from || b.until - a.until);
  const out: (T & { lane: number; of: number; group: number })[] = [];
  let group: (T & { lane: number; of: number; group: number })[] = [];
  let groups = 0;
  let end = -1;
  const finish = () => {
    const of = Math.max(1, ...group.map((g) => g.lane + 1));
    for (const g of group) g.of = of;
    out.push(...group);
    group = [];
    groups += 1;
  };
  for (const item of sorted) {
    if (item.from >= end) finish();
    const taken = new Set(group.filter((g) => g.until > item.from).map((g) => g.lane));
    let lane = 0;
    while (taken.has(lane)) lane += 1;
    group.push({ ...item, lane, of: 1, group: groups });
    end = Math.max(end, item.until);
  }
  finish();
  return out;
}

/** "09:00-13:00, 14:00-18:00" as minutes of the day; null where it is written otherwise. */
export function readHours(text: string): [number, number][] | null {
  if (!text.trim()) return [];
  const out: [number, number][] = [];
  for (const part of text.split(",")) {
    const found = /^\s*(\d{1,2}):(\d{2})\s*[-–]\s*(\d{1,2}):(\d{2})\s*$/.exec(part);
    if (!found) return null;
    const [a, b, c, d] = found.slice(1).map(Number) as [number, number, number, number];
    if (b > 59 || d > 59 || a > 24 || c > 24 || 60 * a + b >= 60 * c + d || 60 * c + d > 1440) return null;
    out.push([60 * a + b, 60 * c + d]);
  }
  return out;
}

export const writeHours = (spans: readonly (readonly number[])[]) =>
  spans.map(([a, b]) => `${clockOf(a ?? 0)}-${b === 1440 ? "24:00" : clockOf(b ?? 0)}`).join(", ");

/** What the academy's clock shows now. */
export function nowThere(zone: string, now = new Date()): { day: string; minutes: number } {
  const parts = Object.fromEntries(
    new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      year: "numeric",
      month: "2-digit",
      day: "2-digit",
      hour: "2-digit",
      minute: "2-digit",
      hourCycle: "h23",
    })
      .formatToParts(now)
      .map((p) => [p.type, p.value]),
  );
  return { day: `${parts["year"]}-${parts["month"]}-${parts["day"]}`, minutes: 60 * Number(parts["hour"]) + Number(parts["minute"]) };
}

const BOLD_PX = 10.2; // a letter of the text face at its width, on the safe side
const LINE_PX = 20;

/** The words of a name that fit a place, in as many lines as they need: the whole, else the first, else its parts, else initials. */
function nameLines(name: string, letters: number, most: number): string[] {
  const first = name.split(" ")[0] ?? "";
  for (const candidate of [
    name,
    first,
    first.split("-")[0] ?? "",
    name
      .split(/[\s-]/)
      .map((w) => w.slice(0, 1))
      .join(""),
  ]) {
    const lines: string[] = [];
    for (const word of candidate.split(" ")) {
      const last = lines.at(-1);
      if (last !== undefined && last.length + 1 + word.length <= letters) lines[lines.length - 1] = `${last} ${word}`;
      else lines.push(word);
    }
    if (lines.length <= most && lines.every((l) => l.length <= letters)) return lines;
  }
  return [];
}

/** What is written into a lesson's place of so many pixels: nothing is cut off, what has no room is left out. The name comes first. */
export function slotLines(width: number, height: number, name: string, details: string[]): { name: string[]; details: string } {
  const letters = Math.floor(width / BOLD_PX);
  const room = Math.max(1, Math.floor(height / LINE_PX));
  const lines = nameLines(name, letters, Math.max(1, room - 1));
  let said = "";
  if (room > lines.length)
    for (const piece of details) {
      const next = said ? `${said} · ${piece}` : piece;
      if (next.length > letters) break;
      said = next;
    }
  return { name: lines, details: said };
}
