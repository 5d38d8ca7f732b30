import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import type { Schemas } from "@/api/client";
import { makeCursor } from "@/lib/cursor";

import { GroundChart } from "./GroundChart";
import { atPhase } from "./groundPicture";
import { AskGuess, FeelAndReal } from "./Guess";
import { MatClock } from "./MatClock";

afterEach(cleanup);

const GROUND: Schemas["GroundOut"] = {
  source: "pressure mat",
  feet: [],
  split_m: 0,
  split_by_hand: false,
  moments: [
    { name: "return", time_s: 1.05, uncertainty_s: 0.01 },
    { name: "even", time_s: 1.15, uncertainty_s: 0.01 },
  ],
  sentence: "",
  no_sentence: "",
  guess: { side: "lead", foot: "heels" },
  real: { side: "trail", foot: "toes", lead_share: 40, heel_toe: 66 },
  offset: { shift_s: 0.37, sd_s: 0.007 },
  alone: false,
  recording_shift_s: null,
  has_own_clock: true,
  bands: [
    { school: "front_foot", label: "Front foot", low: 70, high: 95, chosen: true, provenance: "MEM", note: "" },
    { school: "reverse", label: "Reverse", low: 40, high: 65, chosen: false, provenance: "MEM", note: "" },
  ],
};
const BEADS = [
  { name: "takeaway", time: 0.2 },
  { name: "top", time: 1.0 },
  { name: "impact", time: 1.3 },
];
const time = Float32Array.from({ length: 150 }, (_, k) => k / 100);
const TRACES = {
  n: 150,
  time,
  columns: { time_s: time, stance_position: time.map((t) => 50 - 30 * Math.sin(3 * t)), lead_heel_toe: time.map(() => 52), trail_heel_toe: time.map(() => 48) },
};
const back = (verdict: string) =>
  ({ metric: "return_time", moment: "top", verdict, band: { low: -0.25, high: -0.05 }, value: 0.05 }) as unknown as Schemas["JudgedOut"];

function chart(
  panel: "between" | "along",
  options: { checkpoints?: typeof BEADS; verdict?: string; mirror?: boolean; onMove?: (name: string, time: number) => void } = {},
) {
  return render(
    <GroundChart
      panel={panel}
      traces={TRACES}
      ground={GROUND}
      judged={[back(options.verdict ?? "high")]}
      checkpoints={options.checkpoints ?? BEADS}
      cursor={makeCursor(1)}
      ghost={null}
      reference={null}
      mirror={options.mirror ?? false}
      onSelect={vi.fn()}
      onMove={options.onMove ?? vi.fn()}
    />,
  );
}

describe("the guess", () => {
  it("asks side then place, in the player's own left and right", () => {
    const onGuess = vi.fn();
    render(<AskGuess mirror onGuess={onGuess} onSkip={vi.fn()} />);
    expect(screen.getAllByRole("button").map((b) => b.textContent)).toEqual(["left foot", "even", "right foot", "Show without a guess"]);
    fireEvent.click(screen.getByRole("button", { name: "left foot" }));
    fireEvent.click(screen.getByRole("button", { name: "toes" }));
    expect(onGuess).toHaveBeenCalledWith("trail", "toes");
  });
  it("can go back and can be skipped", () => {
    const onSkip = vi.fn();
    render(<AskGuess mirror={false} onGuess={vi.fn()} onSkip={onSkip} />);
    fireEvent.click(screen.getByRole("button", { name: "even" }));
    fireEvent.click(screen.getByRole("button", { name: "Back" }));
    expect(screen.getByRole("heading").textContent).toContain("where was your weight");
    fireEvent.click(screen.getByRole("button", { name: "Show without a guess" }));
    expect(onSkip).toHaveBeenCalledOnce();
  });
  it("puts felt beside was", () => {
    const { container, rerender } = render(<FeelAndReal ground={GROUND} mirror={false} />);
    expect(container.textContent).toBe("Feltleft foot, heelsWasright foot, toes");
    rerender(<FeelAndReal ground={{ ...GROUND, guess: { side: "trail", foot: "toes" } }} mirror={false} />);
    expect(container.textContent).toContain("Wasjust that");
    rerender(<FeelAndReal ground={{ ...GROUND, guess: null }} mirror={false} />);
    expect(container.textContent).toBe("");
  });
});

describe("the course", () => {
  it("shows the bands of both schools, the chosen one filled", () => {
    const { container } = chart("between");
    const bands = [...container.querySelectorAll('rect[stroke="var(--sea)"]')].map((r) => r.getAttribute("fill"));
    expect(bands).toContain("var(--band)");
    expect(bands).toContain("none");
    expect(container.textContent).toContain("front foot");
    expect(container.textContent).toContain("reverse");
  });
  it("marks a late return in rust and a timely one in ink", () => {
    expect(chart("between").container.querySelector('path[fill="var(--rust)"]')).not.toBeNull();
    expect(chart("between", { verdict: "in_range" }).container.querySelector('path[fill="var(--rust)"]')).toBeNull();
  });
  it("names the foot that is up by the player's hand", () => {
    expect(chart("between").container.textContent).toContain("left foot ↑");
    expect(chart("between", { mirror: true }).container.textContent).toContain("right foot ↑");
  });
  it("draws both feet heel to toe with their own dashes", () => {
    const { container } = chart("along");
    expect(container.querySelectorAll('path[stroke="var(--ink)"][stroke-dasharray]').length).toBeGreaterThan(0);
    expect(container.textContent).toContain("heels ↓");
  });
  it("lets a checkpoint be dragged to another instant, and not by a mere tap", () => {
    const onMove = vi.fn();
    const { container } = chart("between", { onMove });
    const svg = container.querySelector("svg")!;
    svg.getBoundingClientRect = () => ({ left: 0, width: 640, top: 0, height: 200 }) as DOMRect;
    const impact = [...container.querySelectorAll("g.cursor-ew-resize")].at(-1)!;
    fireEvent.pointerDown(impact, { clientX: 500 });
    fireEvent.pointerUp(svg, { clientX: 500 });
    expect(onMove).not.toHaveBeenCalled();
    fireEvent.pointerDown(impact, { clientX: 500 });
    fireEvent.pointerMove(svg, { clientX: 480 });
    fireEvent.pointerUp(svg, { clientX: 480 });
    expect(onMove).toHaveBeenCalledWith("impact", expect.any(Number));
  });
  it("has no place for a reference without the club's checkpoints", () => {
    expect(atPhase(BEADS, -1)).toBeCloseTo(0.2);
    expect(atPhase(BEADS, 0)).toBeCloseTo(1.0);
    expect(atPhase(BEADS, 1)).toBeCloseTo(1.3);
    expect(atPhase(BEADS, 2)).toBeCloseTo(1.6);
    expect(atPhase(BEADS.slice(2), 0)).toBeNull();
  });
});

describe("the mat's clock", () => {
  it("says how well it is set and shifts from there", () => {
    const onShift = vi.fn();
    render(<MatClock open onClose={vi.fn()} ground={GROUND} onShift={onShift} busy={false} />);
    expect(screen.getByText(/0\.370 s later, good to about 7 ms/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "+5 ms" }));
    expect(onShift).toHaveBeenCalledWith(0.375);
    expect(screen.queryByRole("button", { name: "Find it again" })).toBeNull();
  });
  it("can be given back once it was shifted", () => {
    const onShift = vi.fn();
    render(<MatClock open onClose={vi.fn()} ground={{ ...GROUND, recording_shift_s: 0.4 }} onShift={onShift} busy={false} />);
    fireEvent.click(screen.getByRole("button", { name: "Find it again" }));
    expect(onShift).toHaveBeenCalledWith(null);
  });
});
