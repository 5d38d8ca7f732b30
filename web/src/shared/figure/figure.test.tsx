import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { makeCursor } from "@/lib/cursor";
import type { FigureInfo } from "@/lib/figure";
import { MEASURES } from "@/lib/measures";
import type { Traces } from "@/lib/traces";

import { MeasureGauge } from "./BodyGauge";
import Figure3D from "./Figure3D";
import { Mannequin } from "./mannequin";

const scene = { look: vi.fn(), show: vi.fn(), at: vi.fn(), resize: vi.fn(), recolour: vi.fn(), dispose: vi.fn(), onFree: () => {} };
vi.mock("./scene", () => ({
  FigureScene: vi.fn(function () {
    return scene;
  }),
}));

beforeEach(() => {
  sessionStorage.clear();
  vi.clearAllMocks();
});
afterEach(cleanup);

const empty: Traces = { n: 0, time: new Float32Array(0), columns: {} };
const wrist: FigureInfo = { measured: ["lead_forearm", "lead_hand"], faint: ["head", "club"], placed: false, note: "Drawn on one spot." };

function shown(info: FigureInfo, cursor = makeCursor(1)) {
  render(
    <Figure3D
      block={empty}
      traces={empty}
      info={info}
      mirror={false}
      addressS={0}
      startS={0}
      endS={1}
      cursor={cursor}
      theme="light"
      says={{ turn: "pelvis 41° closed" }}
    />,
  );
  return cursor;
}

describe("the figure in space", () => {
  it("names what is faint and keeps overlays off that would rest on it", () => {
    shown(wrist);
    expect(screen.getByText(/not measured \(head, club\)\. Drawn on one spot\./)).toBeDefined();
    for (const name of ["Turn", "Spine", "Pelvis path", "Lead hip", "Club path"])
      expect((screen.getByRole("button", { name }) as HTMLButtonElement).disabled).toBe(true);
    expect((screen.getByRole("button", { name: "Address" }) as HTMLButtonElement).disabled).toBe(false);
  });
  it("follows the cursor and the eye", async () => {
    const cursor = shown({ ...wrist, measured: ["pelvis"], faint: [] });
    await waitFor(() => expect(scene.at).toHaveBeenCalledWith(1));
    cursor.set(1.5);
    expect(scene.at).toHaveBeenLastCalledWith(1.5);
    fireEvent.click(screen.getByRole("radio", { name: "Above" }));
    expect(scene.look).toHaveBeenLastCalledWith("above");
    fireEvent.click(screen.getByRole("button", { name: "Turn" }));
    expect(scene.show).toHaveBeenLastCalledWith("turn", true);
    expect(screen.getByText("pelvis 41° closed")).toBeDefined();
    fireEvent.click(screen.getByRole("button", { name: "Turn" }));
    expect(screen.queryByText("pelvis 41° closed")).toBeNull();
  });
  it("lets go of the graphics when it leaves", async () => {
    shown(wrist);
    await waitFor(() => expect(scene.at).toHaveBeenCalled());
    cleanup();
    expect(scene.dispose).toHaveBeenCalledOnce();
  });
  it("comes back with the eye and overlays that were chosen", async () => {
    sessionStorage.setItem("figure-view", JSON.stringify({ eye: "behind", on: ["turn"] }));
    shown({ ...wrist, measured: ["pelvis"], faint: [] });
    await waitFor(() => expect(scene.look).toHaveBeenCalledWith("behind"));
    expect(screen.getByRole("button", { name: "Turn" }).getAttribute("aria-pressed")).toBe("true");
  });
});

describe("the mannequin", () => {
  it("poses every part and hides a limb inside a gap", () => {
    const names = ["lead_hip", "lead_knee"];
    const columns: Record<string, Float32Array> = { time_s: Float32Array.from([0, 1]) };
    names.forEach((n, k) =>
      ["x", "y", "z"].forEach((a) => {
        columns[`${n}_${a}`] = Float32Array.from([k, n === "lead_knee" ? NaN : k]);
      }),
    );
    const block: Traces = { n: 2, time: columns["time_s"]!, columns };
    const body = new Mannequin(["lead_thigh"], false);
    body.pose(block, 0, false);
    const visible = () => body.group.children.filter((c) => c.visible).length;
    const before = visible();
    body.pose(block, 1, false);
    expect(visible()).toBeLessThan(before);
    body.dispose();
  });
});

describe("gauges", () => {
  it.each(MEASURES.map((m) => [m.id, m] as const))("draws %s with its band, in rust when out", (_, m) => {
    const { container } = render(
      <svg>
        <MeasureGauge metric={m.id} drawing={m.drawing} value={20} low={-5} high={5} out mirror />
      </svg>,
    );
    expect(container.querySelector('[fill="var(--band)"]')).not.toBeNull();
    expect(container.querySelector('[stroke="var(--rust)"]') !== null || m.drawing === "shaft" || m.drawing === "roll").toBe(true);
    expect(container.querySelector("g")!.getAttribute("transform")).toContain("scale(-1,1)");
  });
  it("has no sector without a band", () => {
    const { container } = render(
      <svg>
        <MeasureGauge metric="pelvis_turn" drawing="turn" value={null} low={null} high={null} out={false} mirror={false} />
      </svg>,
    );
    expect(container.querySelector('[fill="var(--band)"]')).toBeNull();
  });
});
