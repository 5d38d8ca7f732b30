import { describe, expect, it } from "vitest";

import { catalogue, headline, swing } from "@/testing/lesson";
import type { Traces } from "@/lib/traces";
import type { MetricWords } from "@/lib/words";

import { shownOf } from "./look";

const CUP = "lead_wrist_extension";
const HINGE = "lead_wrist_radial_deviation";
const words = (id: string, label: string, plus: string, unit = "deg") => ({
  ...catalogue.metrics[0]!,
  id,
  label,
  plain_label: label,
  unit,
  plain_positive: plus,
  plain_negative: `un${plus}`,
});
const metrics = [
  ...catalogue.metrics,
  words(HINGE, "Hinge", "hinged"),
  words("hinge_held", "Hinge still held", "held", "%"),
  words("tempo", "Tempo", "", "ratio"),
] as unknown as MetricWords[];
const time = Float32Array.from({ length: 201 }, (_, k) => k / 100);
const traces = (columns: Record<string, (t: number) => number>): Traces => ({
  n: 201,
  time,
  columns: Object.fromEntries(Object.entries(columns).map(([id, f]) => [id, time.map(f)])),
});
const told = (metric: string, moment: string, value: number, band: { low: number | null; high: number | null }) =>
  swing(2, {
    headline: { ...headline, finding: "f" as never, metric: metric as never, moment: moment as never },
    findings: [{ finding: "f", metric, moment } as never],
    values: { [metric]: { at: [], sd: [], source: "wrist sensors", other: { [moment]: [value, 1] } } } as never,
    judged: [{ metric, moment, verdict: "low", words: "", band } as never],
    events: [
      ["address", 0],
      ["shaft_level_back", 0.6],
      ["top", 1],
      ["arm_level_down", 1.2],
      ["impact", 1.4],
    ].map(([name, time_s]) => ({ name, time_s }) as never),
  });

describe("the one number of Show", () => {
  it("is the share of the hinge that the sentence speaks of, where it is left", () => {
    const course = (t: number) => (t < 1 ? -20 + 40 * t : 20 - 60 * (t - 1));
    const seen = shownOf(told("hinge_held", "swing", 70, { low: 80, high: null }), traces({ [HINGE]: course, [CUP]: () => 0 }), metrics);
    expect(seen.told).toEqual({ amount: "70 %", way: "held", of: "at arm level down" });
    expect(seen.id).toBe(HINGE);
    expect(seen.value).toBeCloseTo(8);
    expect([seen.low, seen.out]).toEqual([12, true]);
  });
  it("is a change with where it began", () => {
    const seen = shownOf(told(CUP, "address..shaft_level_back", -12, { low: -5, high: 5 }), traces({ [CUP]: (t) => 22 - 20 * t }), metrics);
    expect(seen.told).toEqual({ amount: "12°", way: "more bowed", of: "since address, at shaft level back" });
    expect([seen.low, seen.high]).toEqual([17, 27]);
    expect(seen.value).toBeCloseTo(10, 4);
  });
  it("is the finding's own value where its measure has no drawing", () => {
    const seen = shownOf(told("tempo", "swing", 2.1, { low: 2.6, high: 3.4 }), traces({ [CUP]: () => 30 }), metrics);
    expect(seen.id).toBe(CUP);
    expect(seen.told!.of).toBe("tempo");
  });
  it("is the drawn measure at its checkpoint otherwise", () => {
    expect(shownOf(swing(2), traces({ [CUP]: () => 41 }), metrics).told).toEqual({ amount: "41°", way: "cupped", of: "at the top" });
  });
});
