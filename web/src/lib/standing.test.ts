import { expect, test } from "vitest";

import { pointAt } from "./figure";
import { standing } from "./standing";

test("the newest place of each joint is what is drawn, mirrored for a left-hander", () => {
  const block = standing();
  block.put({ pelvis: [0.1, 0.2, 0.9], neck: [0, 0, 1.4] });
  expect(pointAt(block.traces, "pelvis", 0, false)!.map((v) => Math.round(10 * v) / 10)).toEqual([0.1, 0.2, 0.9]);
  expect(pointAt(block.traces, "pelvis", 0, true)![1]).toBeCloseTo(-0.2);
  block.put({ pelvis: [0.3, 0.2, 0.9] });
  expect(pointAt(block.traces, "pelvis", 0, false)![0]).toBeCloseTo(0.3);
  expect(pointAt(block.traces, "neck", 0, false)).toBeNull();
});
