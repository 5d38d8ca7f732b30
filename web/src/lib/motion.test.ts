import { describe, expect, it } from "vitest";

import { rateOf, sampleOf, upOf, upSign, type Motion } from "./motion";

const event = (acc: [number, number, number], turn: [number, number, number] = [0, 0, 0]): Motion => ({
  timeStamp: 1234.5678,
  accelerationIncludingGravity: { x: acc[0], y: acc[1], z: acc[2] },
  rotationRate: { alpha: turn[0], beta: turn[1], gamma: turn[2] },
});

describe("a phone's motion", () => {
  it("is told in m/s² and rad/s about its own axes, in µs of its clock", () => {
    const sample = sampleOf(event([0.1, 0.2, 9.8], [180, -90, 45]), 1)!;
    expect(sample.t_us).toBe(1234568);
    expect(sample.values.slice(0, 3)).toEqual([0.1, 0.2, 9.8]);
    [Math.PI, -Math.PI / 2, Math.PI / 4].forEach((v, k) => expect(sample.values[3 + k]).toBeCloseTo(v, 12));
  });

  it("is no sample where a part of it is missing", () => {
    expect(sampleOf({ ...event([0, 0, 9.8]), rotationRate: null }, 1)).toBeNull();
    expect(sampleOf({ ...event([0, 0, 9.8]), accelerationIncludingGravity: { x: 0, y: null, z: 1 } }, 1)).toBeNull();
  });

  // W3C Device Orientation and Motion, examples: flat on a table, screen up, reads {0, 0, 9.81} at beta = gamma = 0;
  // held upright at beta = 90 the y axis points up (from memory)
  it.each([
    [0, 0, [0, 0, 1]],
    [90, 0, [0, 1, 0]],
    [0, 90, [-1, 0, 0]],
    [180, 0, [0, 0, -1]],
  ])("knows where up is at beta %d, gamma %d", (beta, gamma, up) => {
    upOf({ beta, gamma })!.forEach((v, k) => expect(v).toBeCloseTo(up[k]!, 12));
  });

  it("is turned round for a phone that tells what pulls instead of what is felt", () => {
    const flat = { beta: 0, gamma: 0 };
    expect(upSign(event([0.1, -0.2, 9.7]), flat)).toBe(1);
    expect(upSign(event([0.1, -0.2, -9.7]), flat)).toBe(-1);
    expect(sampleOf(event([0.1, -0.2, -9.7], [10, 0, 0]), -1)!.values.slice(0, 4)).toEqual([-0.1, 0.2, 9.7, (10 * Math.PI) / 180]);
    expect(upSign(event([0, 9.8, 0]), flat)).toBeNull(); // the two do not fit each other
    expect(upSign(event([0, 0, 9.8]), { beta: null, gamma: null })).toBeNull();
  });

  it("comes at the rate of the middle pause", () => {
    expect(rateOf([0, 16.7, 33.3, 50, 120, 136.7])).toBe(60);
    expect(rateOf([5])).toBe(0);
  });
});
