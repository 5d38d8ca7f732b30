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
  sensor_set: "",
  markers: false,
  fit: [],
  practised: null,
  retest: null,
  course: null,
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
  free: [],
  left_open: [],
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

it("says before a lesson what to fit, what was practised, whether a retest is due, and what else the day asks", async () => {
  const next = entry("b", "planned", {
    ends_at: "2999-01-01T00:00:00+01:00",
    sensor_set: "Set A",
    fit: ["hand", "forearm"],
    markers: true,
    practised: { done: 4, blocks: 7, minutes: 80, felt: [2, 3, 4, 4], stopped: "" },
    retest: "2026-03-01",
    course: { id: "c", name: "Winter", lessons: 5, used: 2, booked: 1, left: 2 },
  });
  const free = {
    starts_at: "2026-03-02T14:00:00+01:00",
    ends_at: "2026-03-02T14:45:00+01:00",
    instructor_id: "i2",
    instructor: "Joris Quay",
    bay: "Window bay",
  };
  const left = { id: "o", starts_at: "2026-03-01T16:00:00+01:00", player: "Tom Ferry", status: "running" as const };
  serve({ "GET /api/diary": diary([next], { free: [free], left_open: [left] }) });
  open("/");
  expect((await screen.findByText("Fit:")).parentElement!.textContent).toBe("Fit: Set A, hand, forearm, markers");
  expect(screen.getByText(/Practised 4 of 7 times, felt 3, 4, 4 of 5/).textContent).toContain("Retest due.");
  expect(screen.getByText(/Winter: 2 of 5 left/)).toBeTruthy();
  expect(screen.getByRole("link", { name: "14:00 Joris, Window bay" })).toBeTruthy();
  expect(screen.getByRole("link", { name: "Tom Ferry, Sun 1 Mar" })).toBeTruthy();
});

it("pain that stopped the practice comes before everything that was ticked", async () => {
  const stopped = "Pain in the back on 1 March: the plan stops. Any pain: stop, and see a licensed health professional.";
  const next = entry("b", "planned", { ends_at: "2999-01-01T00:00:00+01:00", practised: { done: 1, blocks: 1, minutes: 20, felt: [], stopped } });
  serve({ "GET /api/diary": diary([next]) });
  open("/");
  expect((await screen.findByRole("alert")).textContent).toBe(stopped);
  expect(screen.queryByText(/Practised/)).toBeNull();
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
