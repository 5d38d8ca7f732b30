import { describe, expect, it } from "vitest";

import { arcMap, arcPath, point, type Checkpoint } from "./arc";

const checkpoints: Checkpoint[] = [
  { name: "address", time: 0 },
  { name: "takeaway", time: 0.2 },
  { name: "shaft_level_back", time: 0.55 },
  { name: "top", time: 1.0 },
  { name: "arm_level_down", time: 1.17 },
  { name: "impact", time: 1.28 },
  { name: "finish", time: 2.0 },
];
const map = arcMap(checkpoints, 0, 2.2);

describe("the arc", () => {
  it("starts at the bottom, climbs to the top and comes back down to impact", () => {
    expect(map.place(0)).toEqual({ angle: 0, lane: 0 });
    expect(map.place(1.0).angle).toBe(225);
    expect(map.place(1.28)).toEqual({ angle: 0, lane: 1 });
    expect(map.place(2.0).angle).toBeLessThan(0);
  });

  it("gives back the instant of a place, in either lane", () => {
    for (const t of [0.1, 0.4, 0.8, 1.1, 1.25, 1.6]) {
      const { angle, lane } = map.place(t);
      expect(map.time(angle, lane)).toBeCloseTo(t, 6);
    }
  });

  it("is drawn to the viewer's left for a right-hander and mirrored for a left-hander", () => {
    const [right] = point(100, 100, 50, 90, false);
    const [left] = point(100, 100, 50, 90, true);
    expect(right).toBeCloseTo(50);
    expect(left).toBeCloseTo(150);
  });

  it("draws a smooth path: no step of more than a few degrees", () => {
    const points = arcPath(map, 0, 1.28, [0, 0], [100, 90], false)
      .slice(1)
      .split("L")
      .map((p) => p.split(",").map(Number) as [number, number]);
    const steps = points.slice(1).map(([x, y], k) => Math.hypot(x - points[k]![0], y - points[k]![1]));
    expect(Math.max(...steps)).toBeLessThan(8);
  });

  it("survives a swing whose top was not found", () => {
    const bare = arcMap([{ name: "address", time: 0 }], 0, 2);
    expect(Number.isFinite(bare.place(1).angle)).toBe(true);
  });
});

describe("the arc of a putt", () => {
  const putt = [
    { name: "address", time: 0 },
    { name: "takeaway", time: 0.2 },
    { name: "transition", time: 0.9 },
    { name: "impact", time: 1.2 },
    { name: "finish", time: 1.6 },
  ];
  it("turns at the transition, short of a swing's, and ends as far on the other side", () => {
    const map = arcMap(putt, 0, 1.7);
    expect(map.top).toBe(0.9);
    expect(map.place(0.9)).toEqual({ angle: 72, lane: 0 });
    expect(map.place(1.2)).toEqual({ angle: 0, lane: 1 });
    expect(map.place(1.6).angle).toBe(-72);
  });
});
