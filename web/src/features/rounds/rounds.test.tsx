import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { lessonAnswers } from "@/testing/lesson";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

import { clubsOf, firstQuestion, lengthSaid, median, shaftEnd, shotsOf, type Compared, type Motion } from "./shafts";
import { measured } from "./Motions";

afterEach(closeScreen);

const motion = (number: number, more: Partial<Motion> = {}): Motion => ({
  number,
  club: "7-iron",
  at: `2026-06-04T08:${String(number).padStart(2, "0")}:00Z`,
  kind: "shot",
  found: "shot",
  confidence: 0.99,
  stroke: "full",
  struck: true,
  length_deg: 12,
  uncertainty_deg: 0.4,
  swept_deg: 230,
  back_s: 0.8,
  down_s: 0.27,
  tempo: 3,
  peak_deg_s: 1700,
  smoothness: -4.2,
  since_practice_s: null,
  hole: 1,
  pressure: 0,
  result: "good",
  sides: { under_pressure: false },
  ...more,
});
const compared = (more: Partial<Compared> = {}): Compared => ({
  club: "all",
  what: "under_pressure",
  difference: 9,
  verdict: "changed",
  sentence: "Under pressure your backswing is 9° shorter and 0.11 s quicker, 6 of 7 shots.",
  shots: [9, 7],
  quantities: [],
  ...more,
});

describe("what is drawn", () => {
  it("points up where the shaft stops short of level, toward the target", () => {
    const [x, y] = shaftEnd(30, 100, false);
    expect(x).toBeCloseTo(86.6, 1);
    expect(y).toBeCloseTo(-50, 6);
    expect(shaftEnd(30, 100, true)[0]).toBeCloseTo(-86.6, 1);
    expect(shaftEnd(-10, 100, false)[1]).toBeGreaterThan(0);
  });
  it("parts the shots of a club by the question", () => {
    const motions = [
      motion(1),
      motion(2, { sides: { under_pressure: true } }),
      motion(3, { sides: {} }),
      motion(4, { club: "driver" }),
      motion(5, { kind: "practice" }),
    ];
    const { first, second, other } = shotsOf(motions, "7-iron", "under_pressure");
    expect([first, second, other].map((g) => g.map((m) => m.number))).toEqual([[1], [2], [3]]);
    expect(clubsOf(motions)).toEqual(["7-iron", "driver"]);
  });
  it("says lengths in words", () => {
    expect(lengthSaid(12.4)).toBe("12° short of level");
    expect(lengthSaid(-4)).toBe("4° past level");
    expect(lengthSaid(0.3)).toBe("level");
    expect(median([3, 1, 2])).toBe(2);
    expect(median([])).toBeNull();
  });
  it("asks first what was answered", () => {
    expect(firstQuestion([compared({ verdict: "not_distinguishable" }), compared({ what: "late_holes" })])).toBe("late_holes");
    expect(firstQuestion([])).toBe("under_pressure");
  });
});

const round = (motions: Motion[], more: Partial<Schemas["RoundOut"]> = {}): Schemas["RoundOut"] => ({
  brief: { id: "r1", played_at: "2026-06-04T08:00:00Z", name: "round.zip", shots: 2, practice: 1, putts: 0, other: 0 },
  player_id: "p1",
  player_name: "Ilse Marrow",
  handedness: "right",
  motions,
  compared: [compared()],
  bands: [{ club: "7-iron", low_deg: 8, middle_deg: 12, high_deg: 16, n: 20, kept_at: null }],
  ways: [{ way: "longer", what: "Let the lead heel rise as you turn back.", caution: "Can load the knee." }],
  notes: [],
  ...more,
});

const opened = (shown: Schemas["RoundOut"], answers: Parameters<typeof serve>[0] = {}) => {
  const asked = serve({ ...lessonAnswers({}), "GET /api/rounds/r1": shown, ...answers });
  open("/rounds/r1");
  return asked;
};

describe("a round", () => {
  it("says what changed, and corrects a motion in two taps", async () => {
    const before = round([motion(0), motion(1, { kind: "practice", found: "practice", confidence: 0.6, struck: false })]);
    const after = round([motion(0), motion(1, { kind: "shot", found: "practice", confidence: 0.6 })]);
    const asked = opened(before, { "PATCH /api/rounds/r1/motions/1": after });
    await screen.findByText(/9° shorter and 0.11 s quicker/);
    fireEvent.click(screen.getByRole("radio", { name: "Unsure 1" }));
    const list = screen.getByRole("list", { name: "Motions" });
    fireEvent.click(within(list).getByRole("button"));
    fireEvent.click(screen.getByRole("button", { name: "Shot" }));
    await waitFor(() => expect(asked.some((a) => a.what === "PATCH /api/rounds/r1/motions/1")).toBe(true));
    expect(asked.find((a) => a.what.startsWith("PATCH"))!.body).toEqual({ kind: "shot" });
    await screen.findByText("found as practice swing");
  });
  it("takes back what was said by choosing what was found", async () => {
    const asked = opened(round([motion(0, { kind: "other", found: "shot" })]), { "PATCH /api/rounds/r1/motions/0": round([motion(0)]) });
    fireEvent.click(await screen.findByRole("radio", { name: "All" }));
    fireEvent.click(within(screen.getByRole("list", { name: "Motions" })).getByRole("button"));
    fireEvent.click(screen.getByRole("button", { name: "Shot" }));
    await waitFor(() => expect(asked.find((a) => a.what.startsWith("PATCH"))?.body).toEqual({ kind: null }));
  });
  it("says what it cannot tell, and what a clock did", async () => {
    opened(round([motion(0)], { compared: [], notes: ["The clock of the 7-iron clip is set wrong."] }));
    await screen.findByText(/Nothing was noted to tell these shots apart by/);
    screen.getByText(/clock of the 7-iron clip/);
    fireEvent.click(screen.getByRole("radio", { name: "Course and range" }));
    screen.getByText(/No swings of these clubs with a clip in the bay yet/);
  });
  it("is refused in the server's words", async () => {
    opened(round([]), { "GET /api/rounds/r1": refusal(404, "There is no such round.", "not_found") });
    await screen.findByText(/There is no such round/);
  });
});

describe("the rounds of a player", () => {
  it("are listed under the lessons", async () => {
    const { player } = await import("@/testing/lesson");
    serve({
      ...lessonAnswers({}),
      "GET /api/players/p1": { ...player(), lessons: [] },
      "GET /api/players/p1/rounds": [round([]).brief],
    });
    open("/players/p1");
    await screen.findByText("2 shots, 0 putts, 1 practice swing");
  });

  it("can be handed over by a dock, and a tap says whose it was", async () => {
    const { player } = await import("@/testing/lesson");
    const log = {
      key: "k1",
      bay: "Bay 2",
      device: "dock",
      clubs: ["driver", "7-iron"],
      samples: 9000,
      began: "2026-06-04T08:00:00Z",
      ended: "2026-06-04T12:00:00Z",
    };
    const asked = serve({
      ...lessonAnswers({}),
      "GET /api/players/p1": { ...player(), lessons: [] },
      "GET /api/players/p1/rounds": [],
      "GET /api/players/p1/handed-over": [log],
      "POST /api/players/p1/handed-over/k1": refusal(404, "this log: not found in this academy"),
    });
    open("/players/p1");
    await screen.findByText(/Handed over in Bay 2: 2 clubs/);
    fireEvent.click(screen.getByRole("button", { name: "It is this player's" }));
    await screen.findByText(/this log: not found/);
    expect(asked.some((a) => a.what === "POST /api/players/p1/handed-over/k1")).toBe(true);
  });
});

it("is removed, and brought back by Undo", async () => {
  const asked = opened(round([motion(0)]), { "DELETE /api/rounds/r1": { ok: true }, "POST /api/rounds/r1/restored": round([motion(0)]) });
  fireEvent.click(await screen.findByRole("button", { name: /^Remove/ }));
  fireEvent.click(await screen.findByRole("button", { name: "Remove the round" }));
  await screen.findByText(/For a day it can be brought back here/);
  fireEvent.click(screen.getByRole("button", { name: "Undo" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(asked.map((a) => a.what).filter((w) => /DELETE|restored/.test(w))).toEqual(["DELETE /api/rounds/r1", "POST /api/rounds/r1/restored"]);
});

it("says what was measured of a motion, and how long before it the last practice swing was", () => {
  expect(measured(motion(0, { back_s: 0.9, down_s: 0.28, tempo: 3.2, since_practice_s: 41.2 }))).toBe(
    "0.90 s back, 0.28 s down · tempo 3.2 · 1,700° a second at most · smoothness −4.2 · 41 s after a practice swing",
  );
  expect(measured(motion(0, { since_practice_s: 400 }))).toContain("7 min after a practice swing");
  expect(measured(motion(0, { back_s: null, tempo: null, peak_deg_s: null, smoothness: null }))).toBe("");
});
