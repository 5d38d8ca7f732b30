import { describe, expect, it } from "vitest";

import { EYES, LIMBS, namedTogether, OVERLAYS, pointAt, type FigureInfo } from "./figure";
import type { Traces } from "./traces";

const PARTS = [
  "pelvis",
  "upper_body",
  "head",
  "lead_upper_arm",
  "trail_upper_arm",
  "lead_forearm",
  "trail_forearm",
  "lead_hand",
  "trail_hand",
  "lead_thigh",
  "trail_thigh",
  "lead_shank",
  "trail_shank",
  "lead_foot",
  "trail_foot",
  "club",
];

const block = (columns: Record<string, number[]>): Traces => {
  const made = Object.fromEntries(Object.entries(columns).map(([k, v]) => [k, Float32Array.from(v)]));
  return { n: columns["time_s"]!.length, time: made["time_s"]!, columns: made };
};
const knee = block({ time_s: [0, 1, 2], k_x: [0, 1, NaN], k_y: [0, 2, 2], k_z: [1, 1, 1] });

describe("a joint at a time", () => {
  it("lies between its samples and is mirrored for a left-hander", () => {
    expect(pointAt(knee, "k", 0.5, false)).toEqual([0.5, 1, 1]);
    expect(pointAt(knee, "k", 0.5, true)).toEqual([0.5, -1, 1]);
  });
  it("is hidden inside a gap and where there is no such joint", () => {
    expect(pointAt(knee, "k", 1.5, false)).toBeNull();
    expect(pointAt(knee, "hip", 0.5, false)).toBeNull();
  });
  it("stays at its ends before and after", () => {
    expect(pointAt(knee, "k", -3, false)).toEqual([0, 0, 1]);
  });
});

describe("parts that were not measured", () => {
  it("are named together where they belong together", () => {
    expect(namedTogether([])).toBe("");
    expect(namedTogether(["lead_thigh", "lead_shank", "lead_foot", "trail_thigh", "trail_shank", "trail_foot"])).toBe("legs");
    expect(namedTogether(["trail_upper_arm", "trail_forearm", "trail_hand", "club"])).toBe("trail arm, club");
    expect(namedTogether(["lead_upper_arm", "head"])).toBe("head, lead upper arm");
    expect(namedTogether(PARTS)).toBe("pelvis, upper body, head, arms, legs, club");
  });
});

describe("the limbs", () => {
  it("hang on known parts, once on each side", () => {
    for (const limb of LIMBS) expect(PARTS).toContain(limb.part);
    expect(LIMBS.filter((l) => l.part.startsWith("lead_"))).toHaveLength(LIMBS.length / 2);
  });
});

describe("overlays", () => {
  const info = (measured: string[], placed: boolean): FigureInfo => ({ measured, faint: PARTS.filter((p) => !measured.includes(p)), placed, note: "" });
  const drawable = (f: FigureInfo) => OVERLAYS.filter((o) => !o.missing(f)).map((o) => o.id);
  it("rest on measured parts only", () => {
    expect(drawable(info(PARTS, true))).toEqual(["address", "turn", "spine", "pelvis", "hip", "club"]);
    expect(drawable(info(["pelvis", "upper_body"], false))).toEqual(["address", "turn"]);
    expect(drawable(info(["lead_forearm", "lead_hand"], false))).toEqual(["address"]);
    expect(drawable(info(["pelvis"], true))).toEqual(["address", "turn", "pelvis"]);
  });
});

describe("the four eyes", () => {
  it("look from four sides", () => {
    const from = Object.values(EYES).map((e) => e.from.map(Math.round).join());
    expect(new Set(from).size).toBe(4);
    expect(EYES.front.from[0]).toBe(1); // before the player, where the ball is
    expect(EYES.target.from[1]).toBe(-1); // behind the player on the target line, looking at the target
  });
});
