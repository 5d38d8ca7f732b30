import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import { makeCursor } from "@/lib/cursor";
import { decodeTraces } from "@/lib/traces";

import { ArcNavigator } from "./arc/ArcNavigator";
import { SmallArc } from "./arc/SmallArc";
import { aligned, TraceChart } from "./charts/TraceChart";
import { Gauge } from "./figure/Gauge";
import { Choice, ErrorLine } from "./ui/controls";

afterEach(cleanup);

const checkpoints = [
  { name: "address", time: 0 },
  { name: "takeaway", time: 0.2 },
  { name: "top", time: 1 },
  { name: "impact", time: 1.3 },
];

describe("the arc navigator", () => {
  it("selects a checkpoint, marks what is outside, and says where it is", () => {
    const select = vi.fn();
    const { container } = render(
      <ArcNavigator
        checkpoints={checkpoints}
        start={0}
        end={2}
        cursor={makeCursor(1)}
        out={[[0.9, 1.1]]}
        mirror={false}
        selected="top"
        verdicts={{ top: "high" }}
        onSelect={select}
      />,
    );
    expect(screen.getByRole("slider").getAttribute("aria-valuetext")).toBe("top");
    expect(container.querySelectorAll('path[fill="var(--rust)"]')).toHaveLength(1);
    fireEvent.pointerDown(screen.getByText("impact"));
    expect(select).toHaveBeenCalledWith("impact");
  });
});

describe("the small arc", () => {
  it("dashes warm-ups and doubles what leaves the band", () => {
    const { container } = render(<SmallArc checkpoints={checkpoints} out={[[0.8, 1.1]]} mirror chosen={false} dashed />);
    expect(container.querySelector("[stroke-dasharray]")).not.toBeNull();
    expect(container.querySelectorAll('[stroke="var(--rust)"]')).toHaveLength(1);
  });
});

describe("the trace", () => {
  it("aligns another swing on takeaway, top and impact", () => {
    const slow = [
      { name: "takeaway", time: 5 },
      { name: "top", time: 7 },
      { name: "impact", time: 7.6 },
    ];
    expect(aligned(checkpoints, slow, 6)).toBeCloseTo(0.6);
    expect(aligned(checkpoints, slow, 7.3)).toBeCloseTo(1.15);
    expect(aligned([], slow, 6)).toBe(6);
  });

  it("draws band and line and names the directions", () => {
    const header = JSON.stringify({ n: 3, columns: ["time_s", "x", "x_band_low", "x_band_high"] });
    const padded = header + " ".repeat((4 - (header.length % 4)) % 4);
    const buffer = new ArrayBuffer(8 + padded.length + 48);
    new Uint8Array(buffer).set(new TextEncoder().encode("FAT1"));
    new DataView(buffer).setUint32(4, padded.length, true);
    new Uint8Array(buffer, 8).set(new TextEncoder().encode(padded));
    new Float32Array(buffer, 8 + padded.length).set([0, 1, 1.5, 10, 20, 5, 0, 0, 0, 15, 15, 15]);
    const { container } = render(
      <TraceChart
        traces={decodeTraces(buffer)}
        metric="x"
        checkpoints={checkpoints}
        ghost={null}
        cursor={makeCursor(0)}
        up="cupped"
        down="bowed"
        zero="flat"
        out={[[0.9, 1.1]]}
        selected="top"
        onSelect={() => {}}
      />,
    );
    expect(screen.getByText("cupped ↑")).toBeDefined();
    expect(container.querySelector('path[fill="var(--band)"]')).not.toBeNull();
  });
});

describe("the gauge", () => {
  it("turns the hand by the angle and mirrors a left-hander", () => {
    const { container } = render(
      <svg>
        <Gauge metric="lead_wrist_extension" value={30} low={0} high={25} out mirror />
      </svg>,
    );
    expect(container.querySelector('[transform="rotate(-30)"]')).not.toBeNull();
    expect(container.querySelector('[transform="scale(-1,1)"]')).not.toBeNull();
  });
});

describe("controls", () => {
  it("say which choice is taken", () => {
    const change = vi.fn();
    render(
      <Choice
        label="Hand"
        value="right"
        options={[
          { id: "right", label: "Right" },
          { id: "left", label: "Left" },
        ]}
        onChange={change}
      />,
    );
    expect(screen.getByRole("radio", { name: "Right" }).getAttribute("aria-checked")).toBe("true");
    fireEvent.click(screen.getByRole("radio", { name: "Left" }));
    expect(change).toHaveBeenCalledWith("left");
  });

  it("show an error in its own words and nothing without one", () => {
    render(
      <>
        <ErrorLine error={null} />
        <ErrorLine error={new Error("row 3: not a number")} />
      </>,
    );
    expect(screen.getAllByRole("alert")).toHaveLength(1);
    expect(screen.getByText("row 3: not a number")).toBeDefined();
  });
});
