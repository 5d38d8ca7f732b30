import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

import { nextUp } from "./Today";

afterEach(closeScreen);

type Entry = Schemas["DiaryEntry"];
const person = (name: string, more: Partial<Entry["player"]> = {}): Entry["player"] => ({
  id: `p-${name}`,
  name,
  handedness: "right",
  population: "adult",
  walk_in: false,
  consent: true,
  ...more,
});
const entry = (id: string, status: Entry["status"], more: Partial<Entry> = {}): Entry => ({
  id,
  status,
  starts_at: "2026-03-02T09:00:00+01:00",
  ends_at: "2026-03-02T09:45:00+01:00",
  bay: "Harbour bay",
  instructor: "Mara Tidewell",
  instructor_id: "i1",
  player: person(`Player ${id}`),
  limits: [],
  last_priorities: [],
  ...more,
});
const diary = (lessons: Entry[], more: Partial<Schemas["Diary"]> = {}): Schemas["Diary"] => ({
  day: "2026-03-02",
  today: "2026-03-02",
  time_zone: "Europe/Paris",
  lessons,
  instructors: [
    { id: "i1", name: "Mara Tidewell" },
    { id: "i2", name: "Joris Quay" },
  ],
  bays: ["Harbour bay", "Window bay"],
  ...more,
});
const limit = { id: "l", area: "back", side: "", movement: "turn", from_date: null, until_date: null, note: "Slowly.", comfortable: 61, holds: true };
const priority = { rank: 1, finding: "f", label: "Hinge kept", drill: "d", drill_label: "Peg", why: "", override_reason: "" };

describe("who is next", () => {
  it("is the running lesson, else the first planned one, else nobody", () => {
    const now = Date.parse("2026-03-02T09:10:00+01:00");
    expect(nextUp([entry("a", "closed"), entry("b", "planned"), entry("c", "running")], now)?.id).toBe("c");
    expect(nextUp([entry("a", "closed"), entry("b", "planned")], now)?.id).toBe("b");
    expect(nextUp([entry("a", "closed")], now)).toBeUndefined();
  });
  it("goes by the clock: a lesson whose time is over is not next while another is to come", () => {
    const later = entry("b", "planned", { starts_at: "2026-03-02T11:00:00+01:00", ends_at: "2026-03-02T11:45:00+01:00" });
    const at = (time: string) => nextUp([entry("a", "planned"), later], Date.parse(`2026-03-02T${time}:00+01:00`))?.id;
    expect([at("09:30"), at("09:46"), at("11:44")]).toEqual(["a", "b", "b"]);
    expect(at("12:00")).toBe("a"); // nobody is to come: what was not begun is said
  });
});

describe("today", () => {
  it("says who is next by the academy's clock, with limits and what was worked on, and opens the lesson", async () => {
    const next = entry("b", "planned", {
      starts_at: "2026-03-02T11:30:00+01:00",
      ends_at: "2999-01-01T00:00:00+01:00", // not over, whenever this is run
      player: person("Ilse Marrow", { handedness: "left", population: "senior" }),
      limits: [limit],
      last_priorities: [priority],
    });
    serve({ "GET /api/diary": diary([entry("a", "closed"), next]), "GET /api/lessons/b": refusal(404, "gone") });
    const place = open("/");
    expect(await screen.findByText("Next · 11:30 · Harbour bay")).toBeTruthy();
    expect(screen.getByText("plays left-handed, senior")).toBeTruthy();
    expect(screen.getByText("Limit: back turn.")).toBeTruthy();
    expect(screen.getByText("Hinge kept").textContent).toBe("Hinge kept · Peg");
    fireEvent.click(screen.getByRole("button", { name: "Start the lesson" }));
    await waitFor(() => expect(place.at()).toBe("/lessons/b"));
  });

  it("a running lesson goes on; a day that is over says so, an empty one too", async () => {
    serve({ "GET /api/diary": diary([entry("a", "planned"), entry("b", "running", { player: person("") })]) });
    open("/");
    expect(await screen.findByRole("button", { name: "Continue the lesson" })).toBeTruthy();
    expect(screen.getAllByText("Walk-in").length).toBe(2); // next, and in the day
    closeScreen();
    serve({ "GET /api/diary": diary([entry("a", "closed")]) });
    open("/");
    expect(await screen.findByText("The day is done.")).toBeTruthy();
    closeScreen();
    serve({ "GET /api/diary": diary([]) });
    open("/");
    expect(await screen.findByText("Nobody is booked.")).toBeTruthy();
    expect(screen.getByText("No lessons on this day.")).toBeTruthy();
  });

  it("turns to the day before and after by the calendar, across a change of summer time, and back", async () => {
    const asked = serve({ "GET /api/diary": ({ query }) => diary([], { day: query.day ?? "2026-03-29", today: "2026-03-29" }) });
    open("/");
    fireEvent.click(await screen.findByRole("button", { name: "The day after" }));
    expect(await screen.findByRole("heading", { name: "Monday 30 March" })).toBeTruthy();
    fireEvent.click(await screen.findByRole("button", { name: "The day before" }));
    await screen.findByRole("heading", { name: "Today" });
    fireEvent.click(await screen.findByRole("button", { name: "The day before" }));
    expect(await screen.findByRole("heading", { name: "Saturday 28 March" })).toBeTruthy();
    fireEvent.click(await screen.findByRole("button", { name: "Back to today" }));
    expect(await screen.findByRole("heading", { name: "Today" })).toBeTruthy();
    expect(asked.filter((a) => a.what === "GET /api/diary").map((a) => a.query.day)).toEqual([undefined, "2026-03-30", "2026-03-29", "2026-03-28"]);
  });

  it("an ended lesson is reopened, and the day is read again", async () => {
    let status: Entry["status"] = "closed";
    serve({
      "GET /api/diary": () => diary([entry("a", status)]),
      "POST /api/lessons/a/reopen": () => {
        status = "running";
        return { id: "a" };
      },
    });
    open("/");
    fireEvent.click(await screen.findByRole("button", { name: "Reopen" }));
    expect(await screen.findByRole("button", { name: "Continue the lesson" })).toBeTruthy();
  });

  it("what the server cannot say is said as it is", async () => {
    serve({ "GET /api/diary": () => refusal(422, "There is no such day.") });
    open("/");
    expect((await screen.findByRole("alert")).textContent).toContain("There is no such day.");
  });
});

describe("booking", () => {
  const ready = async (answer: () => object) => {
    const asked = serve({
      "GET /api/diary": diary([]),
      "GET /api/players": [{ id: "p1", name: "Ilse Marrow", handedness: "right", population: "adult", walk_in: false, consent: true }],
      "POST /api/lessons": answer,
    });
    open("/");
    fireEvent.click(await screen.findByRole("button", { name: "Book a lesson" }));
    const sheet = within(await screen.findByRole("dialog"));
    await sheet.findByRole("option", { name: "Ilse Marrow" });
    return { asked, sheet };
  };

  it("sends the day, the time on the academy's wall, the bay and the instructor, and closes", async () => {
    const { asked, sheet } = await ready(() => ({ id: "new" }));
    const book = sheet.getByRole<HTMLButtonElement>("button", { name: "Book" });
    expect(book.disabled).toBe(true); // nobody is chosen yet
    fireEvent.change(sheet.getByLabelText("Player"), { target: { value: "p1" } });
    fireEvent.change(sheet.getByLabelText("Instructor"), { target: { value: "i2" } });
    fireEvent.change(sheet.getByLabelText("Time"), { target: { value: "17:15" } });
    fireEvent.change(sheet.getByLabelText("Minutes"), { target: { value: "60" } });
    fireEvent.click(sheet.getByRole("radio", { name: "Window bay" }));
    fireEvent.click(book);
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(asked.find((a) => a.what === "POST /api/lessons")!.body).toEqual({
      player_id: "p1",
      instructor_id: "i2",
      bay: "Window bay",
      starts_at: "2026-03-02T17:15:00",
      minutes: 60,
      club: "7-iron",
    });
  });

  it("a clash is said, and what was chosen stays", async () => {
    const { sheet } = await ready(() => refusal(409, "Harbour bay is taken from 16:00 to 16:45."));
    fireEvent.change(sheet.getByLabelText("Player"), { target: { value: "p1" } });
    fireEvent.click(sheet.getByRole("button", { name: "Book" }));
    expect((await sheet.findByRole("alert")).textContent).toContain("Harbour bay is taken from 16:00 to 16:45.");
    expect(sheet.getByLabelText<HTMLSelectElement>("Player").value).toBe("p1");
  });
});

it("a walk-in starts with hand, club and bay, and stands in the lesson", async () => {
  const asked = serve({
    "GET /api/diary": diary([]),
    "GET /api/catalogue": {
      clubs: [
        { id: "7-iron", label: "7-iron" },
        { id: "driver", label: "Driver" },
      ],
      metrics: [],
      schools: [],
    },
    "POST /api/lessons/start-now": { id: "w1" },
    "GET /api/lessons/w1": refusal(404, "gone"),
  });
  const place = open("/");
  fireEvent.click(await screen.findByRole("button", { name: "Start now" }));
  const sheet = within(await screen.findByRole("dialog"));
  await sheet.findByRole("option", { name: "Driver" });
  fireEvent.click(sheet.getByRole("radio", { name: "Left-handed" }));
  fireEvent.change(sheet.getByLabelText("Club"), { target: { value: "driver" } });
  fireEvent.click(sheet.getByRole("radio", { name: "Window bay" }));
  fireEvent.click(sheet.getByRole("button", { name: "Start" }));
  await waitFor(() => expect(place.at()).toBe("/lessons/w1"));
  expect(asked.find((a) => a.what === "POST /api/lessons/start-now")!.body).toEqual({ handedness: "left", club: "driver", bay: "Window bay" });
});

it("a lesson that was not begun in its time is said so", async () => {
  serve({ "GET /api/diary": diary([entry("a", "planned")]) });
  open("/");
  expect(await screen.findByText("Not begun · 09:00 · Harbour bay")).toBeTruthy();
});

it("who has not consented is said before the lesson begins, a junior's guardian by name", async () => {
  const without = [entry("a", "planned", { player: person("Ann", { consent: false, population: "junior" }) }), entry("b", "planned")];
  serve({ "GET /api/diary": diary(without) });
  open("/");
  expect(await screen.findByText("No parent or guardian has consented yet.")).toBeTruthy();
  expect(screen.getAllByText(/no consent yet/)).toHaveLength(1);
});
