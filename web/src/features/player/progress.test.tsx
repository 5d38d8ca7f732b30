import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { lessonAnswers, player } from "@/testing/lesson";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

import { apart, dayOf, drawn } from "./progress";

afterEach(closeScreen);

type Told = Schemas["ProgressOut"];
const point = (on: string, median: number, more: Partial<Told["points"][number]> = {}): Told["points"][number] => ({
  lesson_id: on,
  on,
  swings: 5,
  median,
  low: median - 2,
  high: median + 2,
  sd: 1.5,
  test: null,
  kept: "",
  ...more,
});
const told = (more: Partial<Told> = {}): Told => ({
  metric: "lead_wrist_extension",
  moment: "top",
  club: "7-iron",
  sentence: "A real change over 6 weeks: from 40° extended to 31° extended.",
  plain_sentence: "A real change over 6 weeks: from 40° cupped to 31° cupped.",
  verdict: "changed",
  points: [point("2026-10-05", 40, { test: 33 }), point("2026-10-26", 34, { kept: "kept in part" }), point("2026-11-16", 31)],
  noise: 4,
  per_week: -1.5,
  low: 0,
  high: 30,
  events: [{ on: "2026-10-05", kind: "priority", says: "Over-extended" }],
  offered: [{ metric: "lead_wrist_extension", moment: "top", club: "7-iron" }],
  ...more,
});

describe("the drawing", () => {
  it("holds every lesson, its test and the noise about the first", () => {
    const { x, y, least, most } = drawn(told(), 760, 232);
    expect(x("2026-10-05")).toBeLessThan(x("2026-10-26"));
    expect(y(40)).toBeLessThan(y(31));
    expect(least).toBeLessThan(0);
    expect(most).toBeGreaterThan(44);
  });
  it("names the days that have room", () => {
    expect([...apart([0, 20, 400])].sort()).toEqual([0, 2]);
    expect(dayOf("2026-10-05")).toBe("5 Oct");
  });
});

describe("a player's progress", () => {
  const opened = (answer: Parameters<typeof serve>[0][string]) => {
    const asked = serve({ ...lessonAnswers({}), "GET /api/players/p1": { ...player(), lessons: [] }, "GET /api/players/p1/progress": answer });
    open("/players/p1");
    return asked;
  };
  it("opens the page with one sentence, the course, what was kept and what happened", async () => {
    opened(told());
    expect(await screen.findByText("A real change over 6 weeks: from 40° cupped to 31° cupped.")).toBeTruthy();
    expect(screen.getByRole("img", { name: /40° on 5 Oct, 34° on 26 Oct, 31° on 16 Nov$/ })).toBeTruthy();
    expect(screen.getByText("26 Oct: what the test before had shown was kept in part.")).toBeTruthy();
    expect(screen.getByText("About 2° more bowed a week, over 3 lessons.")).toBeTruthy();
    expect(document.querySelectorAll("[data-part=event], [data-part=test], [data-part=noise]")).toHaveLength(3);
    expect(screen.getByText(/priority: Over-extended/)).toBeTruthy();
  });
  it("follows another measure that was a priority", async () => {
    const hinge = { metric: "lead_wrist_radial_deviation" as const, moment: "top", club: "7-iron" };
    const asked = opened(told({ offered: [...told().offered, hinge] }));
    const choice = await screen.findByLabelText("Measure to follow");
    fireEvent.change(choice, { target: { value: "lead_wrist_radial_deviation top 7-iron" } });
    await waitFor(() => expect(asked.at(-1)!.query).toEqual(hinge));
  });
  it("shows how steady the player is when that is asked for", async () => {
    const steady: Schemas["ConsistencyOut"] = {
      metric: "lead_wrist_extension",
      moment: "top",
      sentence: "Steadier than at first: ± 1° now, ± 3° then.",
      points: [
        { lesson_id: "a", on: "2026-10-05", swings: 5, sd: 3, low: 1.8, high: 8.6, likeness: 0.98 },
        { lesson_id: "b", on: "2026-10-26", swings: 2, sd: null, low: null, high: null, likeness: null },
        { lesson_id: "c", on: "2026-11-16", swings: 5, sd: 1.2, low: 0.7, high: 3.4, likeness: 0.9991 },
      ],
    };
    const asked = serve({
      ...lessonAnswers({}),
      "GET /api/players/p1": { ...player(), lessons: [] },
      "GET /api/players/p1/progress": told(),
      "GET /api/players/p1/consistency": steady,
    });
    open("/players/p1");
    fireEvent.click(await screen.findByRole("radio", { name: "How steady" }));
    expect(await screen.findByText(steady.sentence)).toBeTruthy();
    expect(screen.getByRole("img", { name: "Scatter within a lesson: 3° on 5 Oct, 1° on 16 Nov" })).toBeTruthy();
    expect(screen.getByText(/5 Oct 0.98 · 16 Nov 0.99/)).toBeTruthy();
    expect(asked.at(-1)!.query).toEqual({ metric: "lead_wrist_extension", moment: "top", club: "7-iron" });
  });
  it("is not there where nothing was ever a priority, and says what went wrong", async () => {
    opened(null);
    expect(await screen.findByText(/No lessons yet/)).toBeTruthy();
    expect(document.querySelector("figure")).toBe(null);
    closeScreen();
    opened(refusal(409, "there is no measure."));
    expect(await screen.findByText(/there is no measure/)).toBeTruthy();
  });
});
