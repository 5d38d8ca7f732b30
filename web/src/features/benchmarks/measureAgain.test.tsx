import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { MeasureAgain } from "./MeasureAgain";

const calls = { start: vi.fn(), decide: vi.fn(), stop: vi.fn(), goOn: vi.fn() };
let state: object = {};
const change = (mutate: (...args: unknown[]) => unknown) => ({ mutate, isPending: false, error: null });
vi.mock("@/api/jobs", () => ({
  useMeasuring: () => ({ data: state, isPending: false }),
  useMeasuringChanges: () => Object.fromEntries(Object.entries(calls).map(([k, f]) => [k, change(f)])),
}));

const job = { id: "j", kind: "measure_again", state: "done", done: 3, total: 9, step: "Recording 4 of 9", message: "", stopping: false };
const report = {
  engine: "0.5.0",
  engines: ["0.4.0"],
  recordings: 9,
  swings: 35,
  values: 24_300,
  changed: 0,
  gone: 0,
  new: 0,
  verdicts: 0,
  findings: 0,
  unreadable: [],
};
const nothing = { engine: "0.5.0", job: null, accepting: null, stopped: null, report: null, largest: [] };

beforeEach(() => vi.clearAllMocks());
afterEach(cleanup);
const shown = (part: object) => {
  state = { ...nothing, ...part };
  render(<MeasureAgain />);
};

it("begins when it is told to", () => {
  shown({});
  fireEvent.click(screen.getByText("Measure again"));
  expect(calls.start).toHaveBeenCalledOnce();
});

it("says how far it is and can be stopped", () => {
  shown({ job: { ...job, state: "running" }, report });
  expect(screen.getByText("Recording 4 of 9 …")).toBeDefined();
  fireEvent.click(screen.getByText("Stop"));
  expect(calls.stop).toHaveBeenCalledWith("j");
});

it("goes on where it was stopped", () => {
  shown({ stopped: { ...job, state: "cancelled" } });
  expect(screen.getByText("The last time it stopped after 3 of 9 recordings.")).toBeDefined();
  fireEvent.click(screen.getByText("Go on where it stopped"));
  expect(calls.goOn).toHaveBeenCalledWith("j");
});

it("says that nothing changes where nothing does", () => {
  shown({ job, report });
  expect(screen.getByText("Nothing changes.")).toBeDefined();
  expect(screen.getByText("all 24,300 values of 35 swings read the same.")).toBeDefined();
  fireEvent.click(screen.getByText("Done"));
  expect(calls.decide).toHaveBeenCalledWith({ id: "j", decision: "dismiss" });
});

it("shows what changes, and leaves the decision to the instructor", () => {
  const largest = [{ swing_id: "s", label: "Ilse Marrow, swing 2", metric: "Lead wrist extension", moment: "top", before: "12° extended", after: "3° flexed" }];
  const unreadable = [{ recording_id: "r", swings: 4, why: "an imu stream of lead_hand is missing" }];
  shown({ job, report: { ...report, changed: 1, verdicts: 1, findings: 2, unreadable }, largest });
  expect(screen.getByText("1 of 24,300 values read otherwise; 1 value falls on another side of a band; other differences show in 2 swings.")).toBeDefined();
  expect(screen.getByText("3° flexed")).toBeDefined();
  expect(screen.getByText(/1 recording cannot be read any more; its swings stay/)).toBeDefined();
  fireEvent.click(screen.getByText("Leave everything as it is"));
  expect(calls.decide).toHaveBeenCalledWith({ id: "j", decision: "dismiss" });
  fireEvent.click(screen.getByText("Accept the new values"));
  expect(calls.decide).toHaveBeenLastCalledWith({ id: "j", decision: "accept" });
});
