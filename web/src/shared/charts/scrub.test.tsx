import { act, cleanup, render } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { makeCursor } from "@/lib/cursor";
import type { Traces } from "@/lib/traces";
import { ArcNavigator } from "@/shared/arc/ArcNavigator";

import { TraceChart } from "./TraceChart";

const drawn = vi.hoisted(() => vi.fn());
vi.mock("./MomentName", () => ({
  MomentName: ({ name }: { name: string }) => {
    drawn();
    return <tspan>{name}</tspan>;
  },
}));

const checkpoints = [
  { name: "address", time: 0 },
  { name: "takeaway", time: 0.3 },
  { name: "top", time: 1 },
  { name: "impact", time: 1.3 },
];
const time = Float32Array.from({ length: 200 }, (_, k) => 0.01 * k);
const traces: Traces = { n: 200, time, columns: { time_s: time, lead_wrist_extension: time } };
const nothing = () => undefined;

beforeEach(() => drawn.mockClear());
afterEach(cleanup);

it.each([
  [
    "the trace",
    (cursor: ReturnType<typeof makeCursor>) => (
      <TraceChart
        traces={traces}
        metric="lead_wrist_extension"
        checkpoints={checkpoints}
        ghost={null}
        cursor={cursor}
        up=""
        down=""
        zero=""
        out={[]}
        selected={null}
        onSelect={nothing}
      />
    ),
    "line[stroke-width='3']",
    "x1",
  ],
  [
    "the arc",
    (cursor: ReturnType<typeof makeCursor>) => (
      <ArcNavigator checkpoints={checkpoints} start={0} end={2} cursor={cursor} out={[]} mirror={false} selected={null} verdicts={{}} onSelect={nothing} />
    ),
    "circle[r='11']",
    "cx",
  ],
])("scrubbing draws only what moves of %s again", (_, picture, moving, attribute) => {
  const cursor = makeCursor(0.5);
  const { container } = render(picture(cursor));
  const place = () => Number(container.querySelector(moving)!.getAttribute(attribute));
  const [before, names] = [place(), drawn.mock.calls.length];
  expect(names).toBeGreaterThan(0);
  for (let k = 1; k <= 30; k++) act(() => cursor.set(0.5 + 0.01 * k));
  expect(place()).not.toBe(before);
  expect(drawn.mock.calls.length).toBe(names);
});
