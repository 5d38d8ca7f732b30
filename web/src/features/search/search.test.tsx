import { act, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { change } from "@/lib/settings";
import { lessonAnswers } from "@/testing/lesson";
import { closeScreen, open, refusal, serve, type Asked } from "@/testing/screen";

import { cellOf, sortedSwings } from "./rows";
import { without } from "./Search";

afterEach(closeScreen);

type Found = Schemas["FoundOut"];
const swing = (number: number, value: number | null): Schemas["FoundSwingOut"] => ({
  id: `s${number}`,
  number,
  club: "7-iron",
  ball_start: "",
  ball_curve: "",
  strike: "",
  tags: [],
  findings: number > 1 ? ["over_extended_top"] : [],
  values: [value],
});
const found = (more: Partial<Found> = {}): Found => ({
  text: "7-iron this month",
  said: [
    { text: "7-iron", kind: "club", label: "7-iron", plain_label: "7-iron" },
    { text: "this month", kind: "period", label: "this month", plain_label: "this month" },
  ],
  unknown: [],
  columns: [{ metric: "lead_wrist_extension", moment: "top" }],
  lessons: [
    { lesson_id: "L", on: "2026-11-25", player_id: "p1", player: "Ilse Marrow", handedness: "right", swings: [swing(1, 34), swing(2, 40)], medians: [37] },
    { lesson_id: "K", on: "2026-11-04", player_id: "p2", player: "Bram Oakhollow", handedness: "left", swings: [swing(3, null)], medians: [null] },
  ],
  labels: { over_extended_top: { label: "Over-extended at the top", plain_label: "Cups past the band at the top" } },
  swings: 3,
  more: false,
  players: [],
  before: "7-iron last month",
  ...more,
});
const answers = (told: unknown, saved: Schemas["SavedSearchOut"][] = []) => ({
  ...lessonAnswers({}),
  "GET /api/search": told as object,
  "GET /api/searches": saved,
});
const asked = (all: Asked[]) => all.filter((a) => a.what === "GET /api/search").map((a) => a.query["q"]);

describe("the question", () => {
  it("is asked a moment after typing, and stands in the address", async () => {
    const all = serve(answers(found()));
    open("/search");
    fireEvent.change(await screen.findByLabelText("Find swings"), { target: { value: "7-iron this month" } });
    expect(await screen.findByText("3 swings, 2 players, 2 lessons")).toBeTruthy();
    expect(asked(all)).toEqual(["7-iron this month"]);
  });
  it("says what was understood and what was not, and a tap leaves a part out", async () => {
    const all = serve(answers(found({ unknown: ["blorp"] })));
    open("/search?q=7-iron%20this%20month%20blorp");
    expect(await screen.findByText("Not understood: blorp")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "club: 7-iron; leave it out" }));
    await waitFor(() => expect(asked(all).at(-1)).toBe("this month blorp"));
  });
  it("loses a phrase and the commas about it", () => {
    expect(without("driver, early extension, this month", "early extension")).toBe("driver, this month");
    expect(without("driver, early  extension", "driver")).toBe("early extension");
    expect(without("a (b) c", "(b)")).toBe("a c");
  });
  it("that finds nothing, or is nothing, says so", async () => {
    serve(answers(found({ lessons: [], swings: 0 })));
    open("/search?q=7-iron");
    expect(await screen.findByText("No swing is like that.")).toBeTruthy();
    closeScreen();
    serve(answers(found({ lessons: [], swings: 0, said: [], unknown: ["blorp"] })));
    open("/search?q=blorp");
    expect(await screen.findByText("Nothing was understood.")).toBeTruthy();
    closeScreen();
    serve(answers(refusal(409, "the question is too long")));
    open("/search?q=x");
    expect(await screen.findByText(/too long/)).toBeTruthy();
  });
});

describe("the answer", () => {
  it("is lessons with their swings, what the measures say, and what was found", async () => {
    serve(answers(found()));
    open("/search?q=7-iron");
    expect(await screen.findByText(/cup at top 37° cupped/)).toBeTruthy();
    expect(screen.getAllByText("Cups past the band at the top (1)")).toHaveLength(2);
    const link = screen.getByRole("link", { name: "Swing 2" });
    expect(link.getAttribute("href")).toBe("/lessons/L/swings/s2");
  });
  it("names findings in the field's words where these are set", async () => {
    serve(
      answers(found({ said: [{ text: "over-extended", kind: "finding", label: "Over-extended at the top", plain_label: "Cups past the band at the top" }] })),
    );
    change({ words: "standard" });
    open("/search?q=over-extended");
    expect(await screen.findAllByText("Over-extended at the top (1)")).toHaveLength(2);
    expect(screen.getByRole("button", { name: "finding: Over-extended at the top; leave it out" })).toBeTruthy();
    act(() => change({ words: "plain" }));
    expect(screen.getByRole("button", { name: "finding: Cups past the band at the top; leave it out" })).toBeTruthy();
  });
  it("is a table by one key, sorted by a tap on a head", async () => {
    serve(answers(found()));
    open("/search?q=7-iron");
    await screen.findByText("3 swings, 2 players, 2 lessons");
    fireEvent.keyDown(document.body, { key: "t" });
    const table = within(await screen.findByRole("table"));
    const shown = () => table.getAllByRole("link").map((a) => a.textContent);
    expect(shown()).toEqual(["1", "2", "3"]);
    fireEvent.click(table.getByRole("button", { name: /^Cup at top/ }));
    expect(shown()).toEqual(["1", "2", "3"]); // the smallest first, without a value last
    fireEvent.click(table.getByRole("button", { name: /^Cup at top/ }));
    expect(shown()).toEqual(["2", "1", "3"]);
    expect(table.getByText("40° cupped")).toBeTruthy();
  });
  it("is a group that is compared with the time before, in the measure that was asked about", async () => {
    serve(answers(found()));
    open("/search?q=7-iron");
    const link = await screen.findByRole("link", { name: "Compare with the time before" });
    const url = new URL(link.getAttribute("href")!, "http://x");
    expect(url.pathname).toBe("/lessons/L/compare");
    expect(Object.fromEntries(url.searchParams)).toEqual({
      a: "found:7-iron this month",
      b: "found:7-iron last month",
      metric: "lead_wrist_extension",
      moment: "top",
    });
    expect(screen.getByRole("link", { name: "CSV" }).getAttribute("href")).toBe("/api/search.csv?q=7-iron");
  });
  it("says when it is only the newest", async () => {
    serve(answers(found({ more: true })));
    open("/search?q=7-iron");
    expect(await screen.findByText("The newest 3 swings, 2 players, 2 lessons")).toBeTruthy();
  });
});

describe("saved questions", () => {
  const one = { id: "q1", name: "Mine", query: "driver this month", made_by: "Mara", made_at: "2026-11-25T10:00:00Z" };
  it("are asked again by a tap, kept and removed", async () => {
    const all = serve({ ...answers(found(), [one]), "POST /api/searches": one, "DELETE /api/searches/q1": {} });
    open("/search?q=7-iron");
    fireEvent.click(await screen.findByRole("button", { name: "Save" }));
    await waitFor(() => expect(all.find((a) => a.what === "POST /api/searches")!.body).toEqual({ name: "7-iron", query: "7-iron" }));
    fireEvent.click(screen.getByRole("button", { name: /^Mine/ }));
    await waitFor(() => expect(asked(all).at(-1)).toBe("driver this month"));
    fireEvent.click(screen.getByRole("button", { name: "Remove “Mine”" }));
    await waitFor(() => expect(all.some((a) => a.what === "DELETE /api/searches/q1")).toBe(true));
  });
});

describe("rows", () => {
  it("are in order by anything", () => {
    const order = (by: string, down: boolean) => sortedSwings(found(), { by, down }).map((r) => r.swing.number);
    expect(order("player", false)).toEqual([3, 1, 2]);
    expect(order("day", false)).toEqual([3, 1, 2]);
    expect(order("swing", true)).toEqual([3, 2, 1]);
    expect(order("0", true)).toEqual([2, 1, 3]);
  });
  it("have values with their direction", () => {
    const metric = {
      id: "x",
      label: "X",
      plain_label: "X",
      unit: "deg",
      positive: "",
      negative: "flexed",
      plain_positive: "cupped",
      plain_negative: "bowed",
      decimals: 0,
    };
    expect(cellOf(metric, -4.4, "plain")).toBe("4° bowed");
    expect(cellOf(metric, -4.4, "standard")).toBe("4° flexed");
    expect(cellOf(metric, null, "plain")).toBe("");
  });
});
