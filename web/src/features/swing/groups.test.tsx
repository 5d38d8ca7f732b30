import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import type { Schemas } from "@/api/client";
import { makeCursor } from "@/lib/cursor";
import { GROUPS, groupsWith } from "@/lib/measures";
import type { Traces } from "@/lib/traces";

import { MeasureChooser } from "./MeasureChooser";
import { Sequence } from "./Sequence";
import { Unseen } from "./Unseen";

afterEach(cleanup);

const group = (id: string) => GROUPS.find((g) => g.id === id)!;
const checkpoints = [
  { name: "top", time: 1 },
  { name: "impact", time: 1.25 },
];
const value = (metric: string, v: number, verdict = "in_range") => ({ metric, moment: "swing", value: v, verdict, words: `${v}`, unit: "s" });
const swing = (judged: ReturnType<typeof value>[], power: object[] = []) => {
  const values = Object.fromEntries(judged.map((v) => [v.metric, { at: [], sd: [], source: "markers", other: { swing: [v.value, 0.01] } }]));
  return { values, judged, power, missing: [] } as unknown as Schemas["SwingOut"];
};
const time = Float32Array.from({ length: 200 }, (_, k) => 0.8 + 0.003 * k);
const rate = (at: number, sign: number) => Float32Array.from(time, (t) => sign * Math.exp(-(((t - at) / 0.05) ** 2)));
const traces: Traces = { n: 200, time, columns: { time_s: time, pelvis_turn_rate: rate(1.1, -1), thorax_turn_rate: rate(1.15, -1), club_rate: rate(1.24, 1) } };

describe("the group chooser", () => {
  it("offers the measures that were seen and says which groups were not", () => {
    const chosen = vi.fn();
    render(
      <MeasureChooser
        group={group("turn")}
        groups={groupsWith("7-iron", () => true)}
        measure="pelvis_turn"
        seen={(m) => m.id !== "shoulder_line_turn"}
        groupSeen={(g) => g.id !== "ground"}
        onGroup={chosen}
        onMeasure={vi.fn()}
      />,
    );
    expect(screen.getByRole("button", { name: "Pelvis" }).getAttribute("aria-pressed")).toBe("true");
    expect(screen.queryByRole("button", { name: "Shoulders" })).toBeNull();
    fireEvent.click(screen.getByLabelText("Group: Turn"));
    expect(screen.queryByRole("button", { name: /Putter/ })).toBeNull(); // of putts alone
    expect(screen.getByRole("button", { name: /Ground/ }).textContent).toContain("not seen");
    fireEvent.click(screen.getByRole("button", { name: /Travel/ }));
    expect(chosen).toHaveBeenCalledWith(group("travel"));
  });
});

describe("the order of the parts", () => {
  const times = [
    value("pelvis_peak_time", 0.15),
    value("thorax_peak_time", 0.1),
    value("club_peak_time", 0.01),
    value("pelvis_peak_rate", 480),
    value("thorax_peak_rate", 650),
    value("club_peak_rate", 2100),
  ];
  it("is said in words, with what is missing", () => {
    render(<Sequence swing={swing([...times, value("sequence_gap", 0.03)])} traces={traces} checkpoints={checkpoints} cursor={makeCursor(1.1)} />);
    expect(screen.getByText("In order: pelvis, upper body, lead arm, club.")).toBeDefined();
    expect(screen.getByText("480°/s")).toBeDefined();
    expect(screen.getByText("0.15 s before impact")).toBeDefined();
    expect(screen.getByText("not measured by these sources")).toBeDefined();
  });
  it("names the order that was seen when it is not the usual one", () => {
    const early = [value("pelvis_peak_time", 0.1), value("thorax_peak_time", 0.15), value("sequence_gap", -0.05, "low")];
    render(<Sequence swing={swing(early)} traces={traces} checkpoints={checkpoints} cursor={makeCursor(1.1)} />);
    expect(screen.getByText("Out of order: upper body, then pelvis.")).toBeDefined();
  });
  it("does not guess an order from parts of it", () => {
    render(<Sequence swing={swing(times)} traces={traces} checkpoints={checkpoints} cursor={makeCursor(1.1)} />);
    expect(screen.getByText("The order cannot be told here.")).toBeDefined();
  });
  it("tells the three sources of power or what they need", () => {
    const power = [
      { kind: "lateral", label: "Side to side", says: ["pelvis 9 cm toward target"], missing: null },
      { kind: "vertical", label: "Up and down", says: [], missing: "needs knee markers" },
    ];
    render(<Sequence swing={swing([], power)} traces={traces} checkpoints={checkpoints} cursor={makeCursor(1.1)} />);
    expect(screen.getByText("pelvis 9 cm toward target")).toBeDefined();
    expect(screen.getByText("needs knee markers")).toBeDefined();
  });
});

describe("what the sources cannot see", () => {
  it("is listed with its reason and what to add", () => {
    const missing = [
      { reason: "needs pelvis markers", metrics: ["pelvis_sway"] },
      { reason: "no top", metrics: ["tempo"] },
    ];
    const metrics = [
      { id: "pelvis_sway", label: "Pelvis sway", family: "travel" },
      { id: "tempo", label: "Tempo", family: "timing" },
    ] as Schemas["MetricInfo"][];
    render(<Unseen group={group("travel")} swing={{ missing } as unknown as Schemas["SwingOut"]} metrics={metrics} onBack={vi.fn()} />);
    expect(screen.getByText("Positions need markers: cameras see where the body goes.")).toBeDefined();
    expect(screen.getByText("needs pelvis markers")).toBeDefined();
    expect(screen.queryByText("Tempo")).toBeNull();
  });
});
