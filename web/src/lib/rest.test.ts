import { describe, expect, it } from "vitest";

import { restOf } from "./rest";
import type { Traces } from "./traces";

const time = Float32Array.from({ length: 201 }, (_, k) => k / 100);
const traces = (columns: Record<string, (t: number) => number>): Traces => ({
  n: 201,
  time,
  columns: Object.fromEntries(Object.entries(columns).map(([id, f]) => [id, time.map(f)])),
});
const events = [
  { name: "address", time_s: 0 },
  { name: "top", time_s: 1 },
  { name: "arm_level_down", time_s: 1.5 },
  { name: "impact", time_s: 2 },
];
const swing = (metric: string, moment: string, value: number, verdict: string, band: { low: number | null; high: number | null }) =>
  ({
    headline: { finding: "f" },
    findings: [{ finding: "f", metric, moment }],
    events,
    values: { [metric]: { at: [], sd: [], source: "wrist sensors", other: { [moment]: [value, 1] }, seen: {} } },
    judged: [{ metric, moment, verdict, band }],
  }) as unknown as Parameters<typeof restOf>[0];

describe("what a finding rests on", () => {
  it("a change is told from where it began, its band from the value there", () => {
    const rest = restOf(swing("posture_from_ground", "address..top", -11, "low", { low: -5, high: 5 }), traces({ posture_from_ground: (t) => 30 - 11 * t }))!;
    expect(rest.from).toEqual({ time: 0, value: 30 });
    expect(rest.to.value).toBeCloseTo(19);
    expect([rest.low, rest.high, rest.out, rest.checkpoint]).toEqual([25, 35, true, "top"]);
    expect(rest.said).toMatchObject({ metric: "posture_from_ground", value: -11 });
  });
  it("a share is told from where most was gained, between address and there", () => {
    const course = (t: number) => (t < 1 ? -20 + 40 * t : 20 - 30 * (t - 1));
    const rest = restOf(swing("hinge_held", "swing", 62, "low", { low: 80, high: null }), traces({ lead_wrist_radial_deviation: course }))!;
    expect(rest.from).toEqual({ time: 1, value: 20 });
    expect(rest.to.value).toBeCloseTo(5, 4); // 25 of 40 gained degrees are left: 62 %
    expect([rest.low, rest.high]).toEqual([12, 20]);
    expect(restOf(swing("hinge_held", "swing", 62, "low", { low: 80, high: null }), traces({ lag: course }))!.column).toBe("lag");
  });
  it("a limit to one side stands at its checkpoint; a band with two ends is drawn along the trace already", () => {
    const one = swing("pelvis_forward_bend", "impact", 5, "low", { low: 10, high: null });
    one.values = { pelvis_forward_bend: { at: Array(10).fill(5), sd: Array(10).fill(1), source: "body sensors" } } as never;
    const rest = restOf(one, traces({ pelvis_forward_bend: () => 5 }))!;
    expect([rest.from, rest.to.time, rest.low, rest.high, rest.said]).toEqual([null, 2, 10, null, null]);
    one.judged = [{ metric: "pelvis_forward_bend", moment: "impact", verdict: "low", band: { low: 10, high: 20 } }];
    expect(restOf(one, traces({ pelvis_forward_bend: () => 5 }))).toBeNull();
  });
  it("without a band, or where it was not measured, nothing is drawn", () => {
    const none = swing("hinge_held", "swing", 62, "low", { low: 80, high: null });
    expect(restOf({ ...none, judged: [] }, traces({ lag: () => 0 }))).toBeNull();
    expect(restOf(none, traces({}))).toBeNull();
    expect(restOf({ ...none, events: [] }, traces({ lag: () => 0 }))).toBeNull();
  });
});
