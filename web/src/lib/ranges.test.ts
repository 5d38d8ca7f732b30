import { describe, expect, it } from "vitest";

import { search, typed, withEdit, withoutEdit, wrongLimits, type RangeEdit } from "./ranges";

const range = (id: string, label: string, family: string, provenance: string) => ({
  id,
  label,
  moment: "top",
  family,
  school: "",
  club_class: "iron",
  provenance,
});
const edit = (id: string, low = 1): RangeEdit => ({ id, low, high: 2, soft_low: 0, soft_high: 0, note: null, lean: true, retire: false });

describe("limits as typed", () => {
  it("takes a comma, a typographic minus, and nothing for an open side", () => {
    expect(typed(" 2,5 ")).toBe(2.5);
    expect(typed("−4")).toBe(-4);
    expect(typed("")).toBeNull();
    expect(typed("two")).toBeUndefined();
  });
  it("says what is wrong", () => {
    expect(wrongLimits(1, 2, false)).toBe("");
    expect(wrongLimits(3, 2, false)).toContain("lies above");
    expect(wrongLimits(null, null, false)).toContain("At least one");
    expect(wrongLimits(null, null, true)).toBe("");
    expect(wrongLimits(undefined, 2, false)).toContain("Give numbers");
  });
});

describe("changes that are not saved yet", () => {
  it("keep the last one for each range, and can be taken back", () => {
    const once = withEdit({ base: "v", changes: [] }, edit("A"));
    const twice = withEdit(withEdit(once, edit("B")), edit("A", 0));
    expect(twice.changes.map((c) => [c.id, c.low])).toEqual([
      ["B", 1],
      ["A", 0],
    ]);
    expect(withoutEdit(twice, "B").changes.map((c) => c.id)).toEqual(["A"]);
  });
});

describe("searching ranges", () => {
  const all = [range("B5", "Upper-body turn", "turn", "common practice"), range("W12", "Hinge still held", "wrist", "house value")];
  it("finds every word anywhere, in a group", () => {
    expect(search(all, "turn common", "").map((r) => r.id)).toEqual(["B5"]);
    expect(search(all, "house iron", "").map((r) => r.id)).toEqual(["W12"]);
    expect(search(all, "", "wrist").map((r) => r.id)).toEqual(["W12"]);
    expect(search(all, "turn house", "")).toEqual([]);
  });
});
