import { describe, expect, it } from "vitest";

import { along, boxOf, overlap, placed, type Label, type Spot } from "./labels";

const screen = { left: 0, top: 0, right: 580, bottom: 236 };
const name = (key: string, x: number, priority: number, more: Partial<Label> = {}): Label => ({
  key,
  lines: [key],
  size: 17,
  priority,
  spots: (["middle", "end", "start"] as const).map((anchor): Spot => ({ x, y: 200, anchor })),
  ...more,
});

describe("names", () => {
  it("of checkpoints 10 ms apart never stand over one another, and the more important ones are kept", () => {
    // 580 px for 1.6 s: 10 ms are 3.6 px
    for (let step = 0; step <= 60; step += 2) {
      const labels = ["arm level", "top", "impact", "shaft level"].map((k, n) => name(k, 200 + n * step, [1, 3, 4, 0][n]!));
      const found = placed(labels, screen);
      const boxes = labels.filter((l) => found.has(l.key)).map((l) => boxOf(l, found.get(l.key)!));
      for (const [i, a] of boxes.entries()) for (const b of boxes.slice(i + 1)) expect(overlap(a, b)).toBe(false);
      expect(found.has("impact")).toBe(true);
      if (found.has("shaft level") && step < 10) expect(found.has("top")).toBe(true);
    }
  });
  it("take the next place where the best one is full", () => {
    const found = placed([name("impact", 300, 2), name("arm", 336, 1)], screen);
    expect(found.get("impact")!.anchor).toBe("middle");
    expect(found.get("arm")!.anchor).toBe("start");
  });
  it("stay on the picture", () => {
    expect(placed([name("address", 3, 1)], screen).get("address")!.anchor).toBe("start");
    expect(placed([name("impact", 577, 1)], screen).get("impact")!.anchor).toBe("end");
    expect(placed([name("nowhere", 900, 1)], screen).has("nowhere")).toBe(false);
  });
  it("keep off what must be seen, but the chosen one stands in any case", () => {
    const full = [{ left: 0, top: 150, right: 580, bottom: 236 }];
    const found = placed([name("top", 300, 9, { must: true }), name("arm", 100, 1)], screen, full);
    expect([...found.keys()]).toEqual(["top"]);
  });
  it("of two lines are as high as two lines", () => {
    const one = boxOf(name("a", 0, 0), { x: 0, y: 100, anchor: "start" });
    const two = boxOf(name("a", 0, 0, { lines: ["a", "b"] }), { x: 0, y: 100, anchor: "start" });
    expect(two.bottom - one.bottom).toBeCloseTo(1.05 * 17);
  });
  it("see a line as one without gaps", () => {
    const line = along(Array.from({ length: 101 }, (_, k): [number, number] => [k * 3, 80 + 40 * Math.sin(k / 8)]));
    for (let k = 5; k < 95; k++) {
      const point = { left: k * 3, right: k * 3 + 0.1, top: 80 + 40 * Math.sin(k / 8), bottom: 80.1 + 40 * Math.sin(k / 8) };
      expect(line.some((b) => overlap(b, point))).toBe(true);
    }
  });
});
