import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import { lessonAnswers } from "@/testing/lesson";
import { closeScreen, open, serve, type Asked } from "@/testing/screen";

import { asText, FIRST, sorted, type Column, type Row } from "./rows";

afterEach(closeScreen);

const columns: Column[] = [
  { key: "lead_wrist_extension@top", metric: "lead_wrist_extension", moment: "top" },
  { key: "tempo@swing", metric: "tempo", moment: "swing" },
];
const row = (number: number, value: number | null, more: Partial<Row> = {}): Row => ({
  swing_id: `s${number}`,
  number,
  kind: "normal",
  club: "7-iron",
  ball_start: "",
  ball_curve: "",
  strike: "",
  tags: [],
  sensor_moved: false,
  values: [value, 3],
  uncertainties: [value === null ? null : 2, 0.1],
  verdicts: ["in_range", ""],
  ...more,
});
const rows = [row(1, 12), row(2, 40, { verdicts: ["high", ""] }), row(3, null, { kind: "warm_up" })];
const told = (more: object = {}) => ({ columns, offered: columns, rows, can_undo: null, can_redo: null, ...more });
const key = (name: string, more: object = {}) => fireEvent.keyDown(document.body, { key: name, ...more });
const sent = (asked: Asked[], what: string) => asked.filter((a) => a.what === what).map((a) => a.body);

async function opened(more: Parameters<typeof serve>[0] = {}) {
  const asked = serve({
    ...lessonAnswers({}),
    "GET /api/lessons/L/table": told(),
    "POST /api/lessons/L/swings/mark": { ok: true },
    "POST /api/lessons/L/undo": { label: "2 swings: warm-up", changed: null },
    ...more,
  });
  const place = open("/lessons/L/table");
  await screen.findByRole("table");
  return { asked, place };
}
const numbers = () => screen.getAllByRole("checkbox").map((c) => c.getAttribute("aria-label")!.replace("Choose swing ", ""));

describe("rows", () => {
  it("are sorted by a column either way, those without a value last", () => {
    const by = columns[0]!.key;
    expect(sorted(rows, columns, FIRST).map((r) => r.number)).toEqual([1, 2, 3]);
    expect(sorted(rows, columns, { by, down: false }).map((r) => r.number)).toEqual([1, 2, 3]);
    expect(sorted(rows, columns, { by, down: true }).map((r) => r.number)).toEqual([2, 1, 3]);
    expect(sorted(rows, columns, { by: "kind", down: true }).map((r) => r.number)).toEqual([3, 1, 2]);
  });
  it("are copied with a tab between cells and no formula", () => {
    const text = asText([row(1, -12, { strike: "centre", ball_start: "=x" as never })], columns, (c) => c.key);
    expect(text.split("\n")).toEqual([
      "swing\tkind\tball start\tball curve\tstrike\tlead_wrist_extension@top\ttempo@swing",
      "1\tnormal\t'=x\t\tcentre\t-12\t3",
    ]);
  });
});

describe("the table of a lesson", () => {
  it("says values in words and where they leave the band", async () => {
    await opened();
    expect(screen.getByText("40° cupped", { exact: false })).toBeTruthy();
    expect(screen.getAllByRole("img", { name: "outside the band" })).toHaveLength(1);
    expect(screen.getByText("warm-up")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: /Wrist cup, top|cup.*top/i }));
    fireEvent.click(screen.getByRole("button", { name: /cup.*top/i }));
    expect(numbers()).toEqual(["2", "1", "3"]);
  });
  it("is worked by keys alone: choose on, mark, undo, open", async () => {
    const { asked, place } = await opened({ "GET /api/lessons/L/table": told({ can_undo: "2 swings: warm-up" }) });
    key(" ");
    key("ArrowDown", { shiftKey: true });
    expect(screen.getByRole("status").textContent).toBe("2 chosen");
    key("k");
    fireEvent.click(within(await screen.findByRole("dialog", { name: "2 swings are" })).getByRole("button", { name: /^warm-up/ }));
    await waitFor(() => expect(sent(asked, "POST /api/lessons/L/swings/mark")).toEqual([{ swing_ids: ["s1", "s2"], kind: "warm_up", reason: "" }]));
    key("z");
    await waitFor(() => expect(sent(asked, "POST /api/lessons/L/undo")).toHaveLength(1));
    key("Escape");
    key("Enter");
    await waitFor(() => expect(place.at()).toBe("/lessons/L/swings/s2"));
  });
  it("compares the two that are chosen, the later against the earlier", async () => {
    const { place } = await opened();
    expect(screen.getByRole("button", { name: "Compare" })).toHaveProperty("disabled", true);
    fireEvent.click(screen.getByRole("checkbox", { name: "Choose swing 2" }));
    fireEvent.click(screen.getByRole("checkbox", { name: "Choose swing 1" }));
    fireEvent.click(screen.getByRole("button", { name: "Compare" }));
    await waitFor(() => expect(place.at()).toBe("/lessons/L/compare"));
  });
  it("shows the columns that are chosen, found by name", async () => {
    const { asked } = await opened();
    key("m");
    const sheet = within(await screen.findByRole("dialog", { name: "Columns" }));
    fireEvent.change(sheet.getByRole("searchbox"), { target: { value: "nothing like it" } });
    expect(sheet.getByText("No measure of this lesson is called that.")).toBeTruthy();
    fireEvent.change(sheet.getByRole("searchbox"), { target: { value: "extension" } });
    fireEvent.click(sheet.getByRole("button", { name: "top", pressed: true }));
    await waitFor(() => expect(asked.filter((a) => a.what === "GET /api/lessons/L/table").at(-1)!.query).toEqual({ column: "tempo@swing" }));
  });
  it("copies what is chosen, and says so", async () => {
    const writeText = vi.fn().mockResolvedValue(undefined);
    vi.stubGlobal("navigator", { ...navigator, clipboard: { writeText } });
    await opened();
    fireEvent.click(screen.getByRole("checkbox", { name: "Choose swing 2" }));
    fireEvent.click(screen.getByRole("button", { name: "Copy" }));
    expect(await screen.findByText("1 row copied")).toBeTruthy();
    expect(writeText.mock.calls[0]![0]).toContain("\n2\tnormal");
    vi.unstubAllGlobals();
  });
  it("says what to do where there is no swing", async () => {
    serve({ ...lessonAnswers({}), "GET /api/lessons/L/table": told({ rows: [] }) });
    open("/lessons/L/table");
    expect(await screen.findByText(/No swing yet/)).toBeTruthy();
  });
});
