import { describe, expect, it } from "vitest";

import { ballOfKey, ballWords, columnOfSide, sideOfColumn } from "./sides";
import { changeInWords, inWords, moment, momentLines, wayInWords, type MetricWords } from "./words";

const extension: MetricWords = {
  id: "e",
  label: "Extension",
  plain_label: "Cup",
  unit: "deg",
  positive: "extended",
  negative: "flexed",
  plain_positive: "cupped",
  plain_negative: "bowed",
  decimals: 0,
};

describe("words", () => {
  it("name a direction and never a sign", () => {
    expect(inWords(extension, 12.4, "standard")).toBe("12° extended");
    expect(inWords({ ...extension, told_to: 180 }, -290, "plain")).toBe("over 180° bowed");
    expect(inWords({ ...extension, told_to: 180 }, -144, "plain")).toBe("144° bowed");
    expect(inWords(extension, -12.4, "plain")).toBe("12° bowed");
  });

  it("name moments", () => {
    expect(moment("shaft_level_back")).toBe("shaft level back");
    expect(momentLines("shaft_level_back")).toEqual(["shaft level", "back"]);
    expect(momentLines("top")).toEqual(["top"]);
    expect(moment("address..top")).toBe("address to top");
  });
});

describe("ball flight", () => {
  it("is kept by lead and trail side and read back as this player sees it", () => {
    for (const hand of ["right", "left"] as const) for (const column of [0, 1, 2]) expect(columnOfSide(sideOfColumn(column, hand), hand)).toBe(column);
    expect(sideOfColumn(0, "right")).toBe("lead");
    expect(sideOfColumn(0, "left")).toBe("trail");
  });

  it("follows the keys 1 to 9", () => {
    expect(ballOfKey(1, "right")).toEqual({ start: "lead", curve: "lead" });
    expect(ballOfKey(5, "left")).toEqual({ start: "straight", curve: "straight" });
    expect(ballOfKey(9, "right")).toEqual({ start: "trail", curve: "trail" });
    expect(ballWords("trail", "straight", "right")).toBe("starts right, flies straight");
    expect(ballWords("trail", "lead", "left")).toBe("starts left, curves right");
  });
});

it("less of what has one word is said as less", () => {
  const share = {
    id: "s",
    label: "",
    plain_label: "",
    unit: "%",
    positive: "on it",
    negative: "on it",
    plain_positive: "on it",
    plain_negative: "on it",
    decimals: 0,
  };
  expect(changeInWords(share, -24, "plain")).toBe("24 % less on it");
  expect(changeInWords(share, 24, "plain")).toBe("24 % more on it");
  expect(wayInWords({ ...share, plain_negative: "off it" }, -1, "plain")).toBe("more off it");
});
