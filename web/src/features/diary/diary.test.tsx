import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

afterEach(closeScreen);

const slot = (id: string, at: string, more: Partial<Schemas["SlotOut"]> = {}): Schemas["SlotOut"] => ({
  id,
  starts_at: `${at}:00+01:00`,
  ends_at: `${at.slice(0, 11)}${String(Number(at.slice(11, 13)) + 1).padStart(2, "0")}${at.slice(13)}:00+01:00`,
  status: "planned",
  bay: "Harbour bay",
  instructor_id: "i1",
  instructor: "Mara Tidewell",
  player_id: `p-${id}`,
  player: `Player ${id}`,
  sensor_set: "",
  markers: false,
  in_row: false,
  cancel_reason: "",
  course: null,
  ...more,
});
const span = (lessons: Schemas["SlotOut"][], more: Partial<Schemas["DiarySpanOut"]> = {}): Schemas["DiarySpanOut"] => ({
  first: "2026-03-02",
  last: "2026-03-08",
  today: "2026-03-03",
  time_zone: "Europe/Paris",
  lessons,
  busy: [],
  open: [],
  holidays: [],
  instructors: [
    { id: "i1", name: "Mara Tidewell" },
    { id: "i2", name: "Joris Quay" },
  ],
  bays: ["Harbour bay", "Window bay"],
  sensor_sets: ["Set A"],
  lesson_minutes: 45,
  ...more,
});
const place = {
  starts_at: "2026-03-03T17:00:00+01:00",
  ends_at: "2026-03-03T17:45:00+01:00",
  instructor_id: "i2",
  instructor: "Joris Quay",
  bay: "Window bay",
};
const players = [{ id: "p1", name: "Ilse Marrow", handedness: "right", population: "adult", walk_in: false, consent: true }];
const next = { due: "2026-03-09", why: "the practice plan ends on 8 March: retest", minutes: 45, places: [place], courses: [] };
const clash = () =>
  refusal(409, "Mara Tidewell is already booked from 16:00 to 16:45. Choose another time, bay or instructor.", "double_booking", { places: [place] });

describe("booking", () => {
  const ready = async (answers: Parameters<typeof serve>[0]) => {
    const asked = serve({ "GET /api/diary/span": span([]), "GET /api/players": players, "GET /api/players/p1/next": next, ...answers });
    open("/diary");
    fireEvent.click(await screen.findByRole("button", { name: /^Book/ }));
    const sheet = within(await screen.findByRole("dialog"));
    await sheet.findByRole("option", { name: "Ilse Marrow" });
    return { asked, sheet };
  };

  it("sends the day, the time on the academy's wall, bay, instructor, set, and says what was booked", async () => {
    const { asked, sheet } = await ready({ "POST /api/lessons": { id: "new", starts_at: "2026-03-04T17:15:00+01:00", player: { name: "Ilse Marrow" } } });
    const book = sheet.getByRole<HTMLButtonElement>("button", { name: "Book" });
    expect(book.disabled).toBe(true); // nobody is chosen yet
    fireEvent.change(sheet.getByLabelText("Player"), { target: { value: "p1" } });
    await sheet.findByText(/Due Monday 9 March: the practice plan ends/);
    fireEvent.change(sheet.getByLabelText("Instructor"), { target: { value: "i2" } });
    fireEvent.change(sheet.getByLabelText("Day"), { target: { value: "2026-03-04" } });
    fireEvent.change(sheet.getByLabelText("Time"), { target: { value: "17:15" } });
    fireEvent.change(sheet.getByLabelText("Minutes"), { target: { value: "60" } });
    fireEvent.click(sheet.getByRole("radio", { name: "Window bay" }));
    fireEvent.click(sheet.getByRole("radio", { name: "Set A" }));
    fireEvent.click(book);
    await screen.findByText("Booked: Ilse Marrow, Wednesday 4 March 17:15.");
    expect(screen.queryByRole("dialog")).toBeNull();
    expect(asked.find((a) => a.what === "POST /api/lessons")!.body).toEqual({
      player_id: "p1",
      instructor_id: "i2",
      bay: "Window bay",
      starts_at: "2026-03-04T17:15:00",
      minutes: 60,
      club: "7-iron",
      sensor_set: "Set A",
      markers: false,
      anyway: false,
    });
  });

  it("a clash is said with the next free places; a tap takes one", async () => {
    const { sheet } = await ready({ "POST /api/lessons": clash });
    fireEvent.change(sheet.getByLabelText("Player"), { target: { value: "p1" } });
    fireEvent.click(sheet.getByRole("button", { name: "Book" }));
    expect((await sheet.findByRole("alert")).textContent).toContain("already booked from 16:00 to 16:45");
    const offered = sheet.getAllByRole("button", { name: "Tue 3 Mar 17:00, Window bay" });
    fireEvent.click(offered.at(-1)!);
    expect(sheet.getByLabelText<HTMLInputElement>("Time").value).toBe("17:00");
    expect(sheet.getByLabelText<HTMLSelectElement>("Instructor").value).toBe("i2");
    expect(sheet.queryByRole("alert")).toBeNull();
  });

  it("outside the hours it can be booked anyway", async () => {
    const { asked, sheet } = await ready({
      "POST /api/lessons": () => refusal(409, "A holiday on 3 March. Choose another time, or book it anyway.", "outside_hours", { places: [] }),
    });
    fireEvent.change(sheet.getByLabelText("Player"), { target: { value: "p1" } });
    fireEvent.click(sheet.getByRole("button", { name: "Book" }));
    fireEvent.click(await sheet.findByRole("button", { name: "Anyway" }));
    await waitFor(() => expect(asked.filter((a) => a.what === "POST /api/lessons").map((a) => (a.body as { anyway: boolean }).anyway)).toEqual([false, true]));
  });

  it("of a row it is said what has no place", async () => {
    const left = { at: "2026-03-17T16:00:00+01:00", why: "Harbour day on 17 March" };
    const { asked, sheet } = await ready({ "POST /api/lessons/rows": { booked: [slot("x", "2026-03-10T16:00")], not_booked: [left] } });
    fireEvent.change(sheet.getByLabelText("Player"), { target: { value: "p1" } });
    fireEvent.click(sheet.getByRole("radio", { name: "Every other week" }));
    fireEvent.change(sheet.getByLabelText("Until"), { target: { value: "2026-04-01" } });
    fireEvent.click(sheet.getByRole("button", { name: "Book" }));
    await sheet.findByText(/Tuesday 17 March 16:00: Harbour day on 17 March/);
    expect(asked.find((a) => a.what.endsWith("/rows"))!.body).toMatchObject({ every_weeks: 2, until: "2026-04-01" });
  });
});

describe("a lesson in the diary", () => {
  const opened = async (lesson: Schemas["SlotOut"], answers: Parameters<typeof serve>[0] = {}) => {
    const asked = serve({ "GET /api/diary/span": span([lesson]), "GET /api/waiting": [], ...answers });
    open("/diary");
    fireEvent.click(await screen.findByRole("button", { name: new RegExp(lesson.player) }));
    return { asked, sheet: within(await screen.findByRole("dialog")) };
  };

  it("moves by its fields; a clash offers places, and one is taken with a tap", async () => {
    let calls = 0;
    const moved = { id: "a", starts_at: place.starts_at, bay: "Window bay", instructor: "Joris Quay" };
    const { asked, sheet } = await opened(slot("a", "2026-03-03T10:00"), { "POST /api/lessons/a/moved": () => (calls++ ? moved : clash()) });
    fireEvent.change(sheet.getByLabelText("Time"), { target: { value: "16:00" } });
    fireEvent.click(sheet.getByRole("button", { name: "Move it" }));
    fireEvent.click(await sheet.findByRole("button", { name: "Tue 3 Mar 17:00, Window bay" }));
    await screen.findByText(/Player a: Tuesday 3 March 17:00, Window bay/);
    expect(asked.filter((a) => a.what.endsWith("/moved")).map((a) => (a.body as { starts_at: string }).starts_at)).toEqual([
      "2026-03-03T16:00:00",
      place.starts_at,
    ]);
  });

  it("is cancelled with a reason, those who wait are asked, and it can be undone", async () => {
    const waits = {
      id: "w",
      player_id: "p9",
      player: "Wanda Waits",
      instructor_id: null,
      first: "2026-03-01",
      last: "2026-03-20",
      weekdays: [1],
      from_minute: 0,
      until_minute: 1440,
      minutes: 45,
      note: "",
      made_at: "2026-03-01T10:00:00Z",
    };
    const freed = { ...place, starts_at: "2026-03-03T10:00:00+01:00" };
    const { asked, sheet } = await opened(slot("a", "2026-03-03T10:00"), {
      "POST /api/lessons/a/cancelled": { id: "a" },
      "POST /api/lessons/a/reinstated": { id: "a" },
      "GET /api/waiting": [{ ...waits, places: [freed] }],
      "POST /api/lessons": { id: "n" },
    });
    fireEvent.click(sheet.getByRole("button", { name: "Cancel it" }));
    fireEvent.change(sheet.getByLabelText("Why"), { target: { value: "ill" } });
    fireEvent.click(sheet.getByRole("button", { name: "Take it out of the diary" }));
    await screen.findByText("Tuesday 3 March 10:00 is free again.");
    expect(asked.find((a) => a.what.endsWith("/cancelled"))!.body).toEqual({ reason: "ill" });
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    await waitFor(() => expect(asked.some((a) => a.what.endsWith("/reinstated"))).toBe(true));
    fireEvent.click(await screen.findByRole("button", { name: "Tue 3 Mar 10:00, Window bay" }));
    await screen.findByText("Booked: Wanda Waits, Tuesday 3 March 10:00.");
  });

  it("is moved by keys in quarters of an hour, and put back by Undo", async () => {
    const lesson = slot("a", "2026-03-03T10:00");
    const moved = { id: "a", starts_at: "2026-03-03T10:30:00+01:00", bay: "Harbour bay", instructor: "Mara Tidewell" };
    const asked = serve({ "GET /api/diary/span": span([lesson]), "POST /api/lessons/a/moved": moved });
    open("/diary");
    const held = await screen.findByRole("button", { name: /Player a/ });
    held.focus();
    for (const code of ["Space", "ArrowDown", "ArrowDown", "Space"]) {
      fireEvent.keyDown(held, { code });
      await new Promise((resolve) => setTimeout(resolve, 60));
    }
    await screen.findByText(/Player a: Tuesday 3 March 10:30/);
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    await screen.findByText("Put back.");
    const starts = asked.filter((a) => a.what.endsWith("/moved")).map((a) => (a.body as { starts_at: string }).starts_at);
    expect(starts).toEqual(["2026-03-03T10:30:00", "2026-03-03T10:00:00+01:00"]);
  });

  it("that was cancelled is not in the columns but counted, and hours that nobody works are hatched", async () => {
    const open_ = [{ instructor_id: "i1", begins: "2026-03-03T09:00:00+01:00", ends: "2026-03-03T18:00:00+01:00" }];
    serve({ "GET /api/diary/span": span([slot("a", "2026-03-03T10:00", { status: "cancelled" })], { open: open_ }) });
    open("/diary");
    await screen.findByText("1 cancelled");
    expect(screen.queryByRole("button", { name: /Player a/ })).toBeNull();
  });
});

it("hours, holidays and sets are kept with the revision that was seen", async () => {
  const rules = { hours: null, own_hours: [], holidays: [], sensor_sets: ["Set A"], setup_minutes: 15, lesson_minutes: 45, revision: "r1" };
  const asked = serve({ "GET /api/diary/span": span([]), "GET /api/diary/rules": rules, "PUT /api/diary/rules": { ...rules, revision: "r2" } });
  open("/diary");
  fireEvent.click(await screen.findByRole("button", { name: "Hours" }));
  fireEvent.click(await screen.findByRole("button", { name: "Note hours" }));
  fireEvent.change(screen.getByLabelText("Hours on Saturday"), { target: { value: "nine to noon" } });
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Keep it" }).disabled).toBe(true);
  fireEvent.change(screen.getByLabelText("Hours on Saturday"), { target: { value: "9:00-12:00" } });
  fireEvent.change(screen.getByLabelText("What"), { target: { value: "Harbour day" } });
  fireEvent.click(screen.getByRole("button", { name: "Add it for everybody" }));
  fireEvent.click(screen.getByRole("button", { name: "Keep it" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  const sent = asked.find((a) => a.what === "PUT /api/diary/rules")!;
  expect(sent.body).toMatchObject({
    hours: { "5": [[540, 720]], "6": [] },
    holidays: [{ first: "2026-03-03", last: "2026-03-03", name: "Harbour day", instructor_id: null }],
    sensor_sets: ["Set A"],
  });
});
