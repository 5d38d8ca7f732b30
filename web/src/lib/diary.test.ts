import { expect, it } from "vitest";

import { clockOf, closed, lanes, minutesOf, mondayOf, nowThere, plusDays, readHours, shownHours, slotLines, stepped, writeHours } from "./diary";

it("reads the wall as it is written, whatever the zone", () => {
  expect(minutesOf("2031-03-30T09:45:00+01:00")).toBe(585);
  expect(clockOf(585)).toBe("09:45");
  expect(plusDays("2031-03-30", 1)).toBe("2031-03-31"); // the day of 23 hours
  expect(mondayOf("2031-03-30")).toBe("2031-03-24");
  expect(mondayOf("2031-03-31")).toBe("2031-03-31");
  expect(stepped(52)).toBe(45);
});

it("shows eight to eight, and more where there is more", () => {
  expect(shownHours([])).toEqual({ from: 480, until: 1200 });
  expect(shownHours([{ begins: "2031-01-01T06:30:00Z", ends: "2031-01-01T21:10:00Z" }])).toEqual({ from: 360, until: 1320 });
});

it("says when nobody works", () => {
  const open = [
    { begins: "2031-01-01T09:00:00Z", ends: "2031-01-01T13:00:00Z" },
    { begins: "2031-01-01T14:00:00Z", ends: "2031-01-01T18:00:00Z" },
    { begins: "2031-01-02T09:00:00Z", ends: "2031-01-02T18:00:00Z" },
  ];
  expect(closed(open, "2031-01-01", 480, 1200)).toEqual([
    [480, 540],
    [780, 840],
    [1080, 1200],
  ]);
  expect(closed(open, "2031-01-03", 480, 1200)).toEqual([[480, 1200]]);
});

it("puts what shares time side by side", () => {
  const found = lanes([
    { id: "a", from: 0, until: 60 },
    { id: "b", from: 30, until: 90 },
    { id: "c", from: 60, until: 120 },
    { id: "d", from: 120, until: 150 },
  ]);
  expect(found.map((x) => x.group === found[0]!.group)).toEqual([true, true, true, false]);
  expect(found.map((x) => [x.id, x.lane, x.of])).toEqual([
    ["a", 0, 2],
    ["b", 1, 2],
    ["c", 0, 2],
    ["d", 0, 1],
  ]);
});

it("reads hours as a person writes them", () => {
  expect(readHours("9:00-13:00, 14:00–18:00")).toEqual([
    [540, 780],
    [840, 1080],
  ]);
  expect(readHours("")).toEqual([]);
  expect(["nine to five", "13:00-9:00", "9:00-25:00", "9:70-10:00"].map(readHours)).toEqual([null, null, null, null]);
  expect(
    writeHours([
      [540, 780],
      [840, 1440],
    ]),
  ).toBe("09:00-13:00, 14:00-24:00");
});

it("knows what the clock shows there", () => {
  expect(nowThere("Europe/Lisbon", new Date("2031-07-01T23:30:00Z"))).toEqual({ day: "2031-07-02", minutes: 30 });
  expect(nowThere("Pacific/Auckland", new Date("2031-07-01T00:00:00Z"))).toEqual({ day: "2031-07-01", minutes: 720 });
});

it("writes into a place what has room there, the name first", () => {
  const details = ["10:00", "Bay 1", "markers"];
  expect(slotLines(300, 50, "Ilse Marrow", details)).toEqual({ name: ["Ilse Marrow"], details: "10:00 · Bay 1 · markers" });
  expect(slotLines(100, 50, "Ilse Marrow", details)).toEqual({ name: ["Ilse"], details: "10:00" });
  expect(slotLines(100, 64, "Ilse Marrow", details)).toEqual({ name: ["Ilse", "Marrow"], details: "10:00" });
  expect(slotLines(150, 50, "Bartholomew-Maximilian Rose", details)).toEqual({ name: ["Bartholomew"], details: "10:00 · Bay 1" });
  expect(slotLines(40, 50, "Bartholomew-Maximilian Rose", details)).toEqual({ name: ["BMR"], details: "" });
  expect(slotLines(12, 50, "Ilse Marrow", details)).toEqual({ name: [], details: "" });
  expect(slotLines(300, 30, "Ilse Marrow", details)).toEqual({ name: ["Ilse Marrow"], details: "" });
});
