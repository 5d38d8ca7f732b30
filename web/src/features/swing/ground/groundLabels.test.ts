import { describe, expect, it } from "vitest";

import { boxOf, overlap } from "@/lib/labels";
import type { Traces } from "@/lib/traces";

import { groundLabels, HERE } from "./groundLabels";

const [WIDTH, BOTTOM, END] = [640, 150, 2];
const x = (t: number) => (WIDTH * t) / END;
const y = (v: number) => 20 + ((BOTTOM - 20) * (100 - v)) / 100;
const time = Float32Array.from({ length: 201 }, (_, k) => k / 100);
/** Back to 20 %, and from `turn` on over to the lead foot. */
const course = (turn: number): Traces => ({
  n: time.length,
  time,
  columns: { stance_position: time.map((t) => (t < turn ? Math.max(20, 50 - 60 * t) : Math.min(90, 20 + 160 * (t - turn)))) },
});
const asked = (turn: number, impact = 1.6) => ({
  ground: {
    bands: [
      { school: "front_foot", label: "Front foot", low: 70, high: 95, chosen: true },
      { school: "reverse", label: "Reverse", low: 40, high: 60, chosen: false },
    ] as never,
    moments: [
      { name: "return", time_s: turn },
      { name: "even", time_s: turn + 0.19 },
    ] as never,
  },
  traces: course(turn),
  wanted: { low: 1.0, high: 1.2 },
  impact,
  x,
  y,
  start: 0,
  end: END,
  width: WIDTH,
  bottom: BOTTOM,
  sides: ["left foot ↑", "right foot ↓"] as const,
});
const words: Record<string, string> = { "school front_foot": "front foot", "school reverse": "reverse", return: "starts back", even: "even", [HERE]: HERE };

describe("names on the pressure's course", () => {
  it.each([0.9, 1.1, 1.3, 1.5])("never stand on one another, nor leave the picture, when the return is at %s s", (turn) => {
    const spots = groundLabels(asked(turn));
    const boxes = [...spots].map(([key, spot]) => boxOf({ lines: [words[key]!], size: 16, bold: key.includes("front") }, spot));
    boxes.forEach((a, k) => {
      expect(a.left).toBeGreaterThanOrEqual(0);
      expect(a.right).toBeLessThanOrEqual(WIDTH);
      for (const b of boxes.slice(k + 1)) expect(overlap(a, b)).toBe(false);
    });
    const edge = boxOf({ lines: ["right foot ↓"], size: 16 }, { x: 3, y: BOTTOM - 4, anchor: "start" });
    for (const a of boxes) expect(overlap(a, edge)).toBe(false);
    for (const key of ["school front_foot", "return", "even"]) expect(spots.has(key)).toBe(true);
    const even = boxOf({ lines: ["even"], size: 16 }, spots.get("even")!);
    expect(overlap(even, { left: x(1.578), right: x(1.622), top: y(60), bottom: y(40) })).toBe(false);
  });

  it("keep off the line: the chosen school's name goes to the side where the line is not", () => {
    const spot = groundLabels(asked(1.1))!.get("school front_foot")!;
    const box = boxOf({ lines: ["front foot"], size: 16, bold: true }, spot);
    const { time: t, columns } = course(1.1);
    const crossed = [...t].some(
      (s, k) => x(s) > box.left && x(s) < box.right && y(columns["stance_position"]![k]!) > box.top && y(columns["stance_position"]![k]!) < box.bottom,
    );
    expect(crossed).toBe(false);
  });

  it("keep off the words at the left edge, where the pressure starts back close to it", () => {
    const close = { ...asked(0.2), start: 0 };
    const edge = boxOf({ lines: ["right foot ↓"], size: 16 }, { x: 3, y: BOTTOM - 4, anchor: "start" });
    const spots = groundLabels(close);
    expect(overlap(boxOf({ lines: ["starts back"], size: 16 }, spots.get("return")!), edge)).toBe(false);
  });

  it("leave out what has no room before what matters", () => {
    const narrow = { ...asked(1.1), width: 90, x: (t: number) => (90 * t) / END };
    const spots = groundLabels(narrow);
    expect(spots.has(HERE)).toBe(false);
    expect(spots.has("school front_foot")).toBe(false);
    expect(spots.has("return")).toBe(true);
  });
});
