import { expect, test } from "vitest";

import { schoolsTold } from "./schools";

const SCHOOLS = [
  { axis: "wrist", shot: "full", noun: "", seen_by: ["hand"], options: [{ id: "a", label: "Flat at the top" }] },
  { axis: "hips", shot: "full", noun: "pelvis", seen_by: ["pelvis", "markers"], options: [{ id: "b", label: "Free" }] },
  { axis: "stroke", shot: "putt", noun: "", seen_by: ["hand"], options: [{ id: "c", label: "Quiet" }] },
];
const CHOSEN = { wrist: "a", hips: "b", stroke: "c" };

test("schools that show in what is worn are told, each with its noun", () => {
  expect(schoolsTold(SCHOOLS, "7-iron", CHOSEN, new Set(["markers"]))).toEqual(["free pelvis"]);
  expect(schoolsTold(SCHOOLS, "7-iron", CHOSEN, new Set(["hand", "pelvis"]))).toEqual(["flat at the top", "free pelvis"]);
});

test("before anything is worn the first stands for all; without asking, all of a full swing", () => {
  expect(schoolsTold(SCHOOLS, "7-iron", CHOSEN, new Set())).toEqual(["flat at the top"]);
  expect(schoolsTold(SCHOOLS, "7-iron", CHOSEN)).toEqual(["flat at the top", "free pelvis"]);
});

test("a school that is not chosen is not told", () => {
  expect(schoolsTold(SCHOOLS, "7-iron", { wrist: "gone" })).toEqual([]);
});

test("with a putter it is the school of putting", () => {
  expect(schoolsTold(SCHOOLS, "putter", CHOSEN, new Set(["hand"]))).toEqual(["quiet"]);
});
