import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import type { Putting } from "@/api/putting";
import { STEPS } from "@/lib/putts";
import { brief, lesson } from "@/testing/lesson";
import { closeScreen, open, serve } from "@/testing/screen";

const PUTTER: NonNullable<Putting["noted"]>["putter"] = {
  length_m: null,
  lie_deg: 70,
  head_offset_m: 0,
  sensor_m: 0.3,
  pivot: "fitted",
  pivot_height_m: null,
};
const putt = (n: number, more: Partial<Schemas["PuttShownOut"]> = {}): Schemas["PuttShownOut"] => ({
  id: `p${n}`,
  number: n,
  measuring: 1,
  kind: "normal",
  what: "putt",
  counts: true,
  putt: { distance_m: 3, outcome: "", rolled_past_m: null, slope: "", breaks: "" },
  at_s: { takeaway: 0.2, transition: 0.9, impact: 1.2 },
  phases: [
    { phase: "backstroke", start_s: 0.2, end_s: 0.8 },
    { phase: "transition", start_s: 0.8, end_s: 1.0 },
    { phase: "throughstroke", start_s: 1.0, end_s: 1.18 },
    { phase: "impact", start_s: 1.18, end_s: 1.22 },
    { phase: "after", start_s: 1.22, end_s: 1.6 },
  ],
  order: { text: "hand flexes", plain: "hand bows" },
  strike: null,
  strike_hint: false,
  values: {},
  ...more,
});
const step = (name: string, more: Partial<Schemas["StepOut"]> = {}): Schemas["StepOut"] => ({
  step: name as "address",
  tone: "shown",
  said: { text: `Standard ${name}.`, plain: `Plain ${name}.` },
  facts: [],
  over: 2,
  note: "",
  ...more,
});
const piece = (id: string) => ({
  id,
  label: id,
  plain_label: `plain ${id}`,
  now: { text: "square", plain: "square" },
  asks: `asks ${id}`,
  left: `left ${id}`,
  drills: [],
});
const putting = (more: Partial<Putting> = {}): Putting => ({
  plan: { distances_m: [3, 6], each: 3, unit: "m", next_m: null },
  school: "quiet",
  noted: { recording_id: "r1", green_speed_ft: 10.5, putter_grip: "", face_grip_bias_deg: null, putter: PUTTER },
  putts: [putt(1), putt(2), putt(3, { what: "practice", counts: false, kind: "no_ball" })],
  rows: [
    {
      distance_m: 3,
      putts: ["p1", "p2", "p3"],
      counting: 2,
      owed: 1,
      steps: STEPS.slice(0, 6).map((s) => step(s, s === "putter" ? { tone: "look" } : {})),
      pieces: [piece("face_aim"), piece("grip_bias")],
    },
    { distance_m: 6, putts: [], counting: 0, owed: 3, steps: STEPS.slice(0, 6).map((s) => step(s, { tone: "unseen" })), pieces: [] },
  ],
  across: step("distances", { tone: "unseen" }),
  scales_deg: { extension: 5, deviation: 5, roll: 10 },
  growth: [],
  notes: [],
  next_m: 3,
  can_undo: null,
  can_redo: null,
  ...more,
});
const NONE = new Uint8Array([70, 65, 80, 49, 12, 0, 0, 0, ...new TextEncoder().encode('{"putts":[]}')]);
const answers = (read: Putting) => ({
  "GET /api/lessons/L": lesson({ club: "putter", swings: [brief(1, { putt: putt(1).putt })] }),
  "GET /api/lessons/L/putting": read,
  "GET /api/lessons/L/putting/courses": () => new Response(NONE),
  "GET /api/catalogue": { clubs: [{ id: "putter", label: "Putter" }], metrics: [], findings: [], schools: [], drills: [], scenarios: [] },
});

beforeEach(() => localStorage.clear());
afterEach(closeScreen);

describe("the putts of a lesson", () => {
  it("are read in seven steps, one key to the next, one sentence each", async () => {
    serve(answers(putting()));
    open("/lessons/L/putting");
    expect(await screen.findByRole("heading", { level: 2 })).toHaveProperty("textContent", "Plain address.");
    for (const name of STEPS.slice(1)) {
      fireEvent.keyDown(window, { key: "PageDown" });
      await waitFor(() => expect(screen.getByRole("heading", { level: 2 }).textContent).toBe(`Plain ${name}.`));
    }
    fireEvent.keyDown(window, { key: "2" });
    await waitFor(() => expect(screen.getByRole("heading", { level: 2 }).textContent).toBe("Plain extension."));
  });

  it("mark by words where to look, and offer only distances that were putted from", async () => {
    serve(answers(putting()));
    open("/lessons/L/putting");
    expect(await screen.findByRole("button", { name: "6 Putter and pendulum, look here" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "7 Across distances, not seen" })).toBeTruthy();
    expect(screen.getAllByRole("radio").map((r) => r.textContent)).toEqual(["3 m"]);
  });

  it("say how a value is told: once for all, or with each", async () => {
    const facts = [
      { name: { text: "Range", plain: "Range" }, words: { text: "1.2°", plain: "1.2°" }, told: "relative" },
      { name: { text: "Begins", plain: "Begins" }, words: { text: "0.3 s", plain: "0.3 s" }, told: "" },
    ];
    const read = putting();
    read.rows[0]!.steps[0] = step("address", { facts });
    read.rows[0]!.steps[1] = step("extension", { facts: [...facts, { ...facts[0]!, name: { text: "Aim", plain: "Aim" }, told: "absolute" }] });
    serve(answers(read));
    open("/lessons/L/putting");
    expect(await screen.findByText("relative to address · middle of 2 putts")).toBeTruthy();
    fireEvent.keyDown(window, { key: "2" });
    expect(await screen.findByText("middle of 2 putts")).toBeTruthy();
    expect(screen.getByText("Aim", { exact: false }).textContent).toContain("absolute");
  });

  it("warn before a piece of the set is changed", async () => {
    serve(answers(putting()));
    open("/lessons/L/putting");
    await screen.findByRole("heading", { level: 2 });
    fireEvent.keyDown(window, { key: "h" });
    fireEvent.click(await screen.findByRole("button", { name: /plain grip_bias/ }));
    expect(screen.getByText("asks grip_bias")).toBeTruthy();
    expect(screen.getByText("If it stays: left face_aim")).toBeTruthy();
    expect(screen.queryByText("If it stays: left grip_bias")).toBeNull();
  });

  it("without a putt say what to do", async () => {
    serve(answers(putting({ putts: [], rows: [] })));
    open("/lessons/L/putting");
    expect(await screen.findByText("No putts in this lesson yet.")).toBeTruthy();
    expect(screen.getAllByRole("link", { name: "Capture" })).toHaveLength(2);
  });
});

describe("the putter", () => {
  it("is measured by what is noted of it, a comma too, and its pivot set with a height", async () => {
    const asked = serve({ ...answers(putting()), "PATCH /api/recordings/r1/putting": {} });
    open("/lessons/L/putting?step=putter");
    fireEvent.click(await screen.findByRole("button", { name: /^Pivot/ }));
    fireEvent.change(await screen.findByLabelText("Length, cm"), { target: { value: "86,5" } });
    expect(screen.queryByLabelText("Height over the ground, cm")).toBeNull();
    fireEvent.click(screen.getByRole("radio", { name: "Sternum" }));
    fireEvent.change(screen.getByLabelText("Height over the ground, cm"), { target: { value: "x" } });
    expect(screen.getByRole("button", { name: "Measure with these" })).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("Height over the ground, cm"), { target: { value: "130" } });
    fireEvent.click(screen.getByRole("button", { name: "Measure with these" }));
    await waitFor(() =>
      expect(asked.find((a) => a.what === "PATCH /api/recordings/r1/putting")?.body).toEqual({
        putter: { length_m: 0.865, lie_deg: 70, head_offset_m: 0, sensor_m: 0.3, pivot: "sternum", pivot_height_m: 1.3 },
      }),
    );
  });
});

describe("capturing putts", () => {
  it("asks for the newest outcome that is not noted, and one key notes it", async () => {
    const asked = serve({ ...answers(putting()), "PATCH /api/swings/p2": {} });
    open("/lessons/L/capture");
    expect(await screen.findByRole("heading", { name: "Putt 2, 3 m" })).toBeTruthy();
    expect(screen.getByText("4 owed")).toBeTruthy();
    fireEvent.keyDown(window, { key: "4" });
    await waitFor(() => expect(asked.find((a) => a.what === "PATCH /api/swings/p2")?.body).toEqual({ reason: "", putt: { outcome: "short" } }));
  });

  it("tells practice strokes from putts in the matrix", async () => {
    serve(answers(putting()));
    open("/lessons/L/capture");
    expect(await screen.findByRole("button", { name: "Putt 3, practice stroke" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Putt 1, where it went is not noted" })).toBeTruthy();
    expect(screen.getAllByText("owed")).toHaveLength(4);
  });
});
