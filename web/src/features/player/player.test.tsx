import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

afterEach(closeScreen);

type Player = Schemas["PlayerOut"];
const limit = (id: string, more: Partial<Schemas["LimitOut"]> = {}): Schemas["LimitOut"] => ({
  id,
  area: "hip",
  side: "lead",
  movement: "inward turn",
  from_date: null,
  until_date: null,
  note: "After a long drive.",
  comfortable: 31,
  holds: true,
  ...more,
});
const lesson = (id: string, more: Partial<Schemas["LessonBrief"]> = {}): Schemas["LessonBrief"] => ({
  id,
  starts_at: "2026-03-02T23:30:00+01:00",
  ends_at: "2026-03-03T00:15:00+01:00",
  status: "closed",
  club: "7-iron",
  swings: 12,
  note: "",
  next_date: null,
  priorities: [],
  ...more,
});
const player = (more: Partial<Player> = {}): Player => ({
  id: "p1",
  name: "Ilse Marrow",
  handedness: "left",
  population: "adult",
  walk_in: false,
  consent: true,
  height_m: 1.715,
  goals: "Shorter misses",
  usual_miss: "",
  words: "plain",
  language: "",
  lengths: "",
  distances: "",
  clock: "",
  schools: { pelvis: "restrained" },
  own_schools: { pelvis: "restrained" },
  consent_by: "Ilse Marrow",
  revision: "r1",
  consent_at: "2026-01-02T10:00:00Z",
  limits: [],
  lessons: [],
  ...more,
});
const catalogue = {
  metrics: [],
  clubs: [],
  limit_areas: [{ area: "hip", sided: true, movements: ["inward turn", "any"] }],
  schools: [
    {
      axis: "pelvis",
      label: "Pelvis in the backswing",
      options: [
        { id: "free", label: "Free turn", explained: "The pelvis turns along." },
        { id: "restrained", label: "Held back", explained: "The pelvis stays." },
      ],
    },
  ],
};
const page = (found: Player, more: Parameters<typeof serve>[0] = {}) => {
  const asked = serve({ "GET /api/players/p1": found, "GET /api/catalogue": catalogue, ...more });
  return { asked, place: open("/players/p1") };
};

describe("a player's page", () => {
  it("says hand, height, school, consent and limits, and what is not noted", async () => {
    page(player({ limits: [limit("l1"), limit("l2", { comfortable: null, holds: false, side: "", movement: "any", note: "" })] }));
    expect(await screen.findByRole("heading", { name: "Ilse Marrow" })).toBeTruthy();
    expect(screen.getByText("plays left-handed, 172 cm")).toBeTruthy();
    expect(await screen.findByText("Pelvis in the backswing: held back")).toBeTruthy();
    expect(screen.getByText("by Ilse Marrow")).toBeTruthy();
    expect(screen.getByText("lead hip inward turn").parentElement!.textContent).toBe("lead hip inward turn, 31° in comfortAfter a long drive.");
    expect(screen.getByText("hip any").parentElement!.textContent).toBe("hip any (not now)");
    expect(screen.getByText("Not noted.")).toBeTruthy();
  });

  it("lists lessons by the day on the academy's wall, with what each was about", async () => {
    const priority = { rank: 1, finding: "f", label: "Hinge kept", drill: "", drill_label: "", why: "", override_reason: "" };
    page(
      player({
        lessons: [lesson("a", { priorities: [priority], note: "Sleeps badly." }), lesson("b", { swings: 1 }), lesson("c", { status: "running", swings: 0 })],
      }),
    );
    const rows = (await screen.findAllByRole("listitem")).map((row) => row.textContent);
    expect(rows).toEqual(["2 March 2026Hinge keptSleeps badly.12 swingsCompare", "2 March 2026Nothing to change1 swing", "2 March 2026running0 swings"]);
    expect(screen.getAllByRole("link").find((a) => a.getAttribute("href") === "/lessons/a")).toBeTruthy();
    const compare = screen.getByRole("link", { name: "Compare the lesson of 2 March 2026 with the one before" });
    expect(compare.getAttribute("href")).toBe("/lessons/a/compare?a=lesson%3Aa");
  });

  it("a change is put in place: nothing is asked for again", async () => {
    const { asked } = page(player(), { "PUT /api/players/p1": ({ body }) => ({ ...player(), ...(body as object) }) });
    fireEvent.click(await screen.findByRole("button", { name: "Edit" }));
    const sheet = within(await screen.findByRole("dialog"));
    fireEvent.change(sheet.getByLabelText("Goals"), { target: { value: "Higher flight" } });
    fireEvent.change(sheet.getByLabelText("Height (cm)"), { target: { value: "180" } });
    fireEvent.click(sheet.getAllByRole("radio", { name: "As the academy" })[0]!);
    fireEvent.click(sheet.getByRole("button", { name: "Save" }));
    expect(await screen.findByText("Higher flight")).toBeTruthy();
    expect(screen.queryByRole("dialog")).toBeNull();
    const put = asked.find((a) => a.what === "PUT /api/players/p1")!.body as Schemas["PlayerIn"];
    expect(put).toMatchObject({ name: "Ilse Marrow", height_m: 1.8, schools: {}, handedness: "left" });
    expect(asked.filter((a) => a.what === "GET /api/players/p1")).toHaveLength(1);
  });

  it("whoever saves second sees both, takes what they want of each, and saves on top", async () => {
    const clash = {
      code: "changed_meanwhile",
      message: "Ines Vale changed this player meanwhile.",
      revision: "r2",
      theirs: { ...player(), goals: "Straighter", usual_miss: "Thin" },
    };
    let first = true;
    const { asked } = page(player({ usual_miss: "Fat" }), {
      "PUT /api/players/p1": ({ body }) => {
        if (!first) return { ...player(), ...(body as object), revision: "r3" };
        first = false;
        return new Response(JSON.stringify(clash), { status: 412 });
      },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Edit" }));
    const sheet = within(await screen.findByRole("dialog"));
    fireEvent.change(sheet.getByLabelText("Goals"), { target: { value: "Higher flight" } });
    fireEvent.click(sheet.getByRole("button", { name: "Save" }));
    expect(await sheet.findByText(clash.message)).toBeTruthy();
    const goals = within(sheet.getByRole("radiogroup", { name: "Goals" }));
    expect(goals.getByRole("radio", { name: /Yours/ }).getAttribute("aria-checked")).toBe("true");
    fireEvent.click(goals.getByRole("radio", { name: /Both/ }));
    fireEvent.click(within(sheet.getByRole("radiogroup", { name: "Usual miss" })).getByRole("radio", { name: /Theirs/ }));
    fireEvent.click(sheet.getByRole("button", { name: "Save what is chosen" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    const puts = asked.filter((a) => a.what === "PUT /api/players/p1");
    expect(puts.map((a) => a.seen)).toEqual(['"r1"', '"r2"']);
    expect(puts[1]!.body).toMatchObject({ goals: "Straighter\nHigher flight", usual_miss: "Thin", name: "Ilse Marrow" });
  });

  it("a consent is noted, by a guardian for a junior, and taken back", async () => {
    const given = { given: true, by: "Rosa Marrow", as: "guardian", noted_by: "Mara Tidewell", at: "2026-03-02T10:00:00Z" };
    let told: object[] = [];
    const junior = player({ population: "junior", consent_at: null, consent_by: "" });
    const { asked } = page(junior, {
      "GET /api/players/p1/consents": () => told,
      "POST /api/players/p1/consents": () => {
        told = [given];
        return { ...junior, consent_at: given.at, consent_by: given.by };
      },
      "DELETE /api/players/p1/consents": () => {
        told = [{ ...given, given: false }, given];
        return junior;
      },
    });
    expect(await screen.findByText("Not given: nothing is kept past a lesson.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Note it" }));
    const sheet = within(await screen.findByRole("dialog"));
    expect(await sheet.findByText(/Nobody has consented yet/)).toBeTruthy();
    fireEvent.change(sheet.getByLabelText("Name of the parent or guardian"), { target: { value: "Rosa Marrow" } });
    fireEvent.click(sheet.getByRole("button", { name: "Note the consent" }));
    expect(await sheet.findByText("Given by Rosa Marrow")).toBeTruthy();
    expect(asked.find((a) => a.what === "POST /api/players/p1/consents")!.body).toEqual({ by: "Rosa Marrow", as: "guardian" });
    fireEvent.click(sheet.getByRole("button", { name: "It is taken back" }));
    expect(await sheet.findByText("Taken back")).toBeTruthy();
    expect(sheet.getByRole("link", { name: "Export" }).getAttribute("href")).toBe("/api/players/p1/export");
  });

  it("says who changed what", async () => {
    page(player(), { "GET /api/players/p1/authors": [{ who: "Ines Vale", what: "player changed: goals", at: "2026-03-02T10:00:00Z" }] });
    fireEvent.click(await screen.findByRole("button", { name: "Who changed what" }));
    expect(await screen.findByText("player changed: goals")).toBeTruthy();
    expect(screen.getByText("Ines Vale")).toBeTruthy();
  });

  it("a limit is added and removed in place", async () => {
    const { asked } = page(player({ limits: [limit("l1")] }), {
      "POST /api/players/p1/limits": player({ limits: [limit("l1"), limit("l2", { note: "New one." })] }),
      "DELETE /api/players/p1/limits/l1": player({ limits: [limit("l2", { note: "New one." })] }),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Add limit" }));
    const sheet = within(await screen.findByRole("dialog"));
    fireEvent.change(sheet.getByLabelText(/comfort/), { target: { value: "28,5" } });
    fireEvent.submit(sheet.getByLabelText(/comfort/).closest("form")!);
    expect(await screen.findByText("New one.")).toBeTruthy();
    expect(asked.find((a) => a.what === "POST /api/players/p1/limits")!.body).toMatchObject({ area: "hip", side: "both", comfortable: 28.5 });
    fireEvent.click(screen.getAllByRole("button", { name: "Remove" })[0]!);
    await waitFor(() => expect(screen.queryByText("After a long drive.")).toBeNull());
  });

  it("erasing asks first, says how much goes, and leads back to the list", async () => {
    const { asked, place } = page(player({ lessons: [lesson("a"), lesson("b")] }), { "DELETE /api/players/p1": {}, "GET /api/players": [] });
    fireEvent.click(await screen.findByRole("button", { name: "Erase …" }));
    const sheet = within(await screen.findByRole("dialog"));
    expect(sheet.getByText(/all 2 lessons/)).toBeTruthy();
    fireEvent.click(sheet.getByRole("button", { name: "Keep" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(asked.some((a) => a.what.startsWith("DELETE"))).toBe(false);
    fireEvent.click(screen.getByRole("button", { name: "Erase …" }));
    fireEvent.click(within(await screen.findByRole("dialog")).getByRole("button", { name: "Erase everything" }));
    await waitFor(() => expect(place.at()).toBe("/players"));
    expect(asked.filter((a) => a.what === "GET /api/players/p1")).toHaveLength(1); // what is gone is not asked for
  });

  it("a lesson now takes the player's hand and the academy's first bay", async () => {
    const { asked, place } = page(player(), { "POST /api/lessons/start-now": { id: "n1" }, "GET /api/lessons/n1": refusal(404, "gone") });
    fireEvent.click(await screen.findByRole("button", { name: "Lesson now" }));
    await waitFor(() => expect(place.at()).toBe("/lessons/n1"));
    expect(asked.find((a) => a.what === "POST /api/lessons/start-now")!.body).toEqual({ player_id: "p1", handedness: "left", club: "7-iron" });
  });
});

describe("players", () => {
  const brief = (name: string, more: object = {}) => ({ id: name, name, handedness: "right", population: "adult", walk_in: false, consent: true, ...more });

  it("are found by name; nobody found is said", async () => {
    const asked = serve({
      "GET /api/players": ({ query }) => (query.q ? [] : [brief("Ilse"), brief("Corin", { handedness: "left", population: "junior", consent: false })]),
      "GET /api/catalogue": catalogue,
    });
    open("/players");
    expect((await screen.findByText("Corin")).closest("a")!.textContent).toContain("left-handed · junior · no consent noted");
    fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: "zz" } });
    expect(await screen.findByText("Nobody is called “zz”.")).toBeTruthy();
    expect(asked.filter((a) => a.what === "GET /api/players").map((a) => a.query.q)).toEqual(["", "zz"]);
  });

  it("the first one is added; a junior's consent is a guardian's", async () => {
    const asked = serve({
      "GET /api/players": [],
      "GET /api/catalogue": catalogue,
      "POST /api/players": player({ id: "p1", population: "junior" }),
      "GET /api/players/p1": player({ population: "junior" }),
    });
    const place = open("/players");
    expect(await screen.findByText("No players yet. Add the first one.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "New player" }));
    const sheet = within(await screen.findByRole("dialog"));
    fireEvent.change(sheet.getByLabelText("Name"), { target: { value: "Ilse Marrow" } });
    fireEvent.click(sheet.getByRole("radio", { name: "Junior" }));
    fireEvent.change(sheet.getByLabelText("Consent given by (parent or guardian)"), { target: { value: "Her mother" } });
    fireEvent.click(await sheet.findByRole("radio", { name: "Held back" }));
    expect(sheet.getByText("The pelvis stays.")).toBeTruthy();
    fireEvent.click(sheet.getByRole("button", { name: "Add player" }));
    await waitFor(() => expect(place.at()).toBe("/players/p1"));
    expect(asked.find((a) => a.what === "POST /api/players")!.body).toMatchObject({
      population: "junior",
      consent_by: "Her mother",
      schools: { pelvis: "restrained" },
      height_m: null,
    });
  });
});

it("a course of lessons is added, says what is left, and is taken out", async () => {
  const course = { id: "c1", name: "Winter", lessons: 6, used: 2, booked: 1, left: 3 };
  const next = { due: "2026-03-09", why: "no plan and no date noted", minutes: 45, places: [], courses: [] };
  const asked = serve({
    "GET /api/players/p1": player(),
    "GET /api/catalogue": catalogue,
    "GET /api/players/p1/next": next,
    "POST /api/players/p1/courses": [course],
    "DELETE /api/courses/c1": [],
  });
  open("/players/p1");
  fireEvent.click(await screen.findByRole("button", { name: "New course" }));
  fireEvent.change(screen.getByLabelText("Lessons"), { target: { value: "6" } });
  fireEvent.click(screen.getByRole("button", { name: "Add it" }));
  await screen.findByText("3 lessons of 6 left, 1 booked, 2 used");
  expect(asked.find((a) => a.what === "POST /api/players/p1/courses")!.body).toEqual({ name: "", lessons: 6 });
  fireEvent.click(screen.getByRole("button", { name: "Take out" }));
  await screen.findByText(/None. Lessons that are booked count by themselves/);
});

it("shares a player with an instructor, and takes nobody who teaches the player away", async () => {
  const told = (shared: boolean) => ({
    apart: true,
    openers: [
      { id: "i1", name: "Jonas", taught: true, shared: false },
      { id: "i2", name: "Nell", taught: false, shared },
    ],
  });
  const { asked } = page(player(), { "GET /api/players/p1/openers": told(false), "PUT /api/players/p1/openers": told(true) });
  fireEvent.click(await screen.findByRole("button", { name: "Who opens this player" }));
  const sheet = within(await screen.findByRole("dialog"));
  const nell = await sheet.findByRole<HTMLInputElement>("checkbox", { name: "Nell" });
  expect(sheet.getByRole<HTMLInputElement>("checkbox", { name: /Jonas/ }).disabled).toBe(true);
  fireEvent.click(nell);
  await waitFor(() => expect(nell.checked).toBe(true));
  expect(asked.find((a) => a.what === "PUT /api/players/p1/openers")!.body).toEqual({ shared_with: ["i2"] });
});
