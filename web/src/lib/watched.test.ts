import { describe, expect, it } from "vitest";

import { bandNow, beyond, type BandAt } from "./watched";

const band = (at: string, low: number | null, high: number | null, relative = false): BandAt => ({ metric: "m", at, low, high, relative });
const bands = [band("address", 5, 20), band("top", -10, 4), band("impact", null, 0), band("finish", 0, 1), band("address", -5, 5, true)];

describe("the band that holds now", () => {
  it.each([
    [0, 5],
    [3, 5],
    [1, -10],
    [2, null],
    [0.5, undefined],
    [1.5, undefined],
  ])("at %d begins at %s", (along, low) => expect(bandNow(bands, "m", along)?.low).toBe(low));
  it("is none of another measure, and none told from the address", () => {
    expect(bandNow(bands, "other", 0)).toBeNull();
    expect(bandNow([band("address", -5, 5, true)], "m", 0)).toBeNull();
  });
});

describe("how far beyond", () => {
  it.each([
    [4, -1],
    [25, 5],
    [12, 0],
  ])("%d is %d", (value, over) => expect(beyond(value, bands[0]!)).toBe(over));
  it("an open side has no beyond", () => expect([beyond(-99, bands[2]!), beyond(3, bands[2]!), beyond(3, null)]).toEqual([0, 3, 0]));
});
