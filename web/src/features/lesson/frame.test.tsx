import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import { brief, finding, headline, lesson, lessonAnswers, player, swing } from "@/testing/lesson";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

afterEach(closeScreen);

const limit = { id: "l", area: "hip", side: "lead", movement: "inward turn", from_date: null, until_date: null, note: "", comfortable: 31, holds: true };
const framed = async (its: Parameters<typeof lesson>[0] = {}, more: Parameters<typeof serve>[0] = {}) => {
  const asked = serve({ ...lessonAnswers(its), ...more });
  const place = open("/lessons/L/swings/s2");
  await screen.findByRole("slider", { name: "Position in the swing" });
  return { asked, place };
};
const head = () => within(screen.getByRole("banner"));

it("says who plays with what, the limits that hold, and leads through the lesson to the newest swing", async () => {
  await framed({ player: player({ limits: [limit, { ...limit, id: "m", area: "back", holds: false }] }), club: "driver" });
  expect(head().getByRole("heading", { name: "Ilse Marrow" })).toBeTruthy();
  expect(screen.getByRole("banner").textContent).toContain("limit: lead hip inward turn 31° · Driver");
  expect(screen.getByRole("banner").textContent).not.toContain("back");
  expect(head().getByRole("link", { name: "Swings" }).getAttribute("href")).toBe("/lessons/L/swings/s3");
});

it("a lesson without a swing leads nowhere that is empty", async () => {
  serve({ ...lessonAnswers({ swings: [], summaries: [] }) });
  open("/lessons/L");
  await screen.findByRole("banner");
  expect(head().queryByRole("link", { name: "Swings" })).toBeNull();
  expect(head().getByRole("link", { name: "Capture" })).toBeTruthy();
});

it("an import is undone and done again where it was dropped", async () => {
  const said = "import of session.zip";
  let undone = false;
  const turn = (to: boolean) => () => {
    undone = to;
    return { label: said, changed: null };
  };
  const asked = serve({
    ...lessonAnswers(),
    "GET /api/lessons/L": () => lesson(undone ? { swings: [], recordings: [], can_undo: null, can_redo: said } : { can_undo: said, can_redo: null }),
    "POST /api/lessons/L/undo": turn(true),
    "POST /api/lessons/L/redo": turn(false),
  });
  open("/lessons/L/capture");
  expect(await screen.findByText("3 swings in this lesson")).toBeTruthy();
  fireEvent.keyDown(window, { key: "z" });
  expect(await screen.findByText("0 swings in this lesson")).toBeTruthy();
  fireEvent.keyDown(window, { key: "z" }); // nothing more to undo: not asked for
  fireEvent.click(screen.getByRole("button", { name: "More" }));
  fireEvent.click(await screen.findByRole("button", { name: /^Redo/ }));
  expect(await screen.findByText("3 swings in this lesson")).toBeTruthy();
  expect(asked.filter((a) => a.what.startsWith("POST")).map((a) => a.what)).toEqual(["POST /api/lessons/L/undo", "POST /api/lessons/L/redo"]);
});

it("Capture tells the last swing's change as the change its sentence speaks of", async () => {
  const CUP = "lead_wrist_extension";
  const told = swing(3, {
    headline: { ...headline, finding: "takeaway_dip", metric: CUP, moment: "shaft_level_back" },
    findings: [finding({ finding: "takeaway_dip", metric: CUP, moment: "address..shaft_level_back" })],
    values: { [CUP]: { at: [20, null, 12], sd: [1, null, 1], source: "wrist sensors", other: { "address..shaft_level_back": [-12, 1] } } as never },
  });
  serve({ ...lessonAnswers(), "GET /api/swings/s3": told });
  open("/lessons/L/capture");
  expect(await screen.findByText("more bowed since address")).toBeTruthy();
  expect(screen.getByText("12°")).toBeTruthy();
});

it("pain is asked; with it a warning stands over everything until it is taken back", async () => {
  const { asked } = await framed({ pain: "" }, { "PATCH /api/lessons/L": ({ body }) => ({ ...(body as object), summaries: [] }) });
  fireEvent.click(head().getByRole("button", { name: "pain today: not asked" }));
  expect((await screen.findByRole("alert")).textContent).toContain("Pain: stop, and see a licensed health professional.");
  fireEvent.click(head().getByRole("button", { name: "pain today" }));
  await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
  expect(asked.filter((a) => a.what === "PATCH /api/lessons/L").map((a) => a.body)).toEqual([{ pain: "yes" }, { pain: "no" }]);
});

it("a walk-in is named, and kept only with consent", async () => {
  const walkIn = player({ name: "", walk_in: true, consent: false });
  let named = walkIn;
  const { asked } = await framed(
    { player: walkIn },
    {
      "GET /api/lessons/L": () => lesson({ player: named }),
      "POST /api/players/p1/name": ({ body }) => {
        named = player({ name: (body as { name: string }).name, walk_in: true });
        return named;
      },
    },
  );
  expect(head().getByRole("heading", { name: "Walk-in" })).toBeTruthy();
  fireEvent.click(head().getByRole("button", { name: "name this player" }));
  const sheet = within(await screen.findByRole("dialog"));
  expect(sheet.getByText("Without that everything is erased when the lesson ends.")).toBeTruthy();
  fireEvent.change(sheet.getByLabelText("Name"), { target: { value: "Corin Hale" } });
  fireEvent.click(sheet.getByRole("checkbox"));
  fireEvent.click(sheet.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(head().getByRole("heading", { name: "Corin Hale" })).toBeTruthy());
  expect(head().queryByRole("button", { name: "name this player" })).toBeNull();
  expect(asked.find((a) => a.what === "POST /api/players/p1/name")!.body).toEqual({ name: "Corin Hale", consent_by: "Corin Hale", consent_as: "player" });
});

it("a named player without consent can give it before anything is captured", async () => {
  let who = player({ consent: false, consent_at: null });
  const { asked } = await framed(
    { player: who },
    {
      "GET /api/lessons/L": () => lesson({ player: who }),
      "GET /api/players/p1/consents": [],
      "POST /api/players/p1/consents": () => {
        who = player({});
        return who;
      },
    },
  );
  fireEvent.click(head().getByRole("button", { name: "no consent yet" }));
  const sheet = within(await screen.findByRole("dialog"));
  fireEvent.change(sheet.getByLabelText("Name"), { target: { value: "Orla Fenn" } });
  fireEvent.click(sheet.getByRole("button", { name: "Note the consent" }));
  await waitFor(() => expect(head().queryByRole("button", { name: "no consent yet" })).toBeNull());
  expect(asked.find((a) => a.what === "POST /api/players/p1/consents")!.body).toEqual({ by: "Orla Fenn", as: "player" });
});

it("a pain that a colleague noted meanwhile is shown before it is taken back", async () => {
  const message = "Ines Vale changed this.";
  const theirs = { pain: "yes", pain_note: "low back" };
  const clash = new Response(JSON.stringify({ code: "changed_meanwhile", message, theirs, revision: "r2" }), { status: 412 });
  await framed({ pain: "yes" }, { "PATCH /api/lessons/L": () => clash });
  fireEvent.click(head().getByRole("button", { name: "pain today" }));
  expect(await screen.findByText(message)).toBeTruthy();
  expect(screen.getByRole("radio", { name: /Theirs/ }).textContent).toContain("Pain");
});

it("a lesson that is not there says so with a way back", async () => {
  serve({ ...lessonAnswers(), "GET /api/lessons/L": () => refusal(404, "There is no such lesson.", "not_found") });
  open("/lessons/L");
  expect((await screen.findByRole("alert")).textContent).toContain("There is no such lesson.");
  expect(screen.getByRole("link", { name: "Back to today" })).toBeTruthy();
});

it("a discarded or lost sensor's swings stay in the strip; the follow setting is kept", async () => {
  await framed({ swings: [brief(1, { kind: "warm_up" }), brief(2), brief(3, { kind: "discard" })] });
  expect(screen.getAllByRole("button", { name: /^Swing \d/ }).map((b) => b.getAttribute("aria-label"))).toEqual([
    "Swing 1, warm-up",
    "Swing 2, normal",
    "Swing 3, discarded",
  ]);
  fireEvent.click(screen.getByRole("button", { name: "Follow" }));
  await waitFor(() => expect(JSON.stringify(localStorage)).toContain("follow"));
});
