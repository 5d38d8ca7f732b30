import { describe, expect, it } from "vitest";

import { checkpointOf, GROUPS, groupOf, measureById, MEASURES, measureOf, sides } from "./measures";
import type { MetricWords } from "./words";

const metric = {
  id: "x",
  label: "X",
  plain_label: "x",
  unit: "deg",
  positive: "closed",
  negative: "open",
  plain_positive: "turned away",
  plain_negative: "turned to the target",
  decimals: 0,
} as MetricWords;

describe("groups of measures", () => {
  it("hold every measure once", () => {
    expect(new Set(MEASURES.map((m) => m.id)).size).toBe(MEASURES.length);
    for (const m of MEASURES) expect(groupOf(m.id).measures).toContain(m);
  });
  it("are found by their own name where they have no measures", () => {
    expect(groupOf("sequence").id).toBe("sequence");
    expect(groupOf("ground").id).toBe("ground");
    expect(groupOf("nonsense").id).toBe(GROUPS[0]!.id);
  });
});

describe("where a finding is looked at", () => {
  it.each([
    ["pelvis_turn", "pelvis_turn"],
    ["hinge_held", "lead_wrist_radial_deviation"],
    ["share_of_turn", "thorax_turn"],
    ["sequence_gap", "sequence"],
    ["tempo", "sequence"],
  ])("%s in %s", (from, to) => expect(measureOf(from)).toBe(to));
  it.each([
    ["address..top", "top"],
    ["swing", "arm_level_down"],
    ["impact..impact+0.1s", "impact"],
    ["top", "top"],
  ])("%s at %s", (event, checkpoint) => expect(checkpointOf(event)).toBe(checkpoint));
});

describe("words beside the trace", () => {
  it("are the catalogue's, in one vocabulary", () => {
    expect(sides(measureById("pelvis_turn")!, metric, "plain")).toEqual({ up: "turned away", down: "turned to the target", zero: "square" });
    expect(sides(measureById("pelvis_turn")!, metric, "standard").down).toBe("open");
  });
  it("are its own where more and less have a name", () => {
    expect(sides(measureById("posture_from_ground")!, metric, "plain").up).toBe("more upright");
  });
});
