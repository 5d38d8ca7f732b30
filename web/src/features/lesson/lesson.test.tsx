import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { isMarkerFile, leaveFile, takeWaitingFile } from "@/lib/waitingFile";

import { Markers } from "./Markers";
import { PoseDrawing } from "./PoseDrawing";
import { Setup } from "./Setup";

const inspect = vi.fn();
const bring = vi.fn();
const navigate = vi.fn();
let lesson: object = {};

vi.mock("@/api/hooks", () => ({
  useLesson: () => ({ data: lesson }),
  useCatalogue: () => ({
    data: {
      clubs: [
        { id: "7-iron", label: "7-iron" },
        { id: "driver", label: "Driver" },
      ],
      metrics: [],
    },
  }),
  useRefresh: () => () => Promise.resolve(),
  inspectMarkers: (...args: unknown[]) => inspect(...args) as unknown,
  importMarkers: (...args: unknown[]) => bring(...args) as unknown,
}));
vi.mock("@tanstack/react-router", () => ({
  useParams: () => ({ lessonId: "l1" }),
  useNavigate: () => navigate,
  Link: ({ children }: { children: unknown }) => <a href="/">{children as string}</a>,
}));
const looked = vi.fn();
const stopped = vi.fn();
vi.mock("@/api/client", async (real) => ({
  ...(await real<object>()),
  data: (call: Promise<unknown>) => call,
  api: { GET: () => looked() as unknown, POST: () => stopped() as unknown },
}));
vi.mock("@/shared/ui/live", () => ({ useLive: () => ({ message: { type: "idle" } }) }));

const row = (ours: string, meaning: string, group: string, label: string | null) => ({ ours, meaning, group, label });
const seen = {
  file: "trial.c3d",
  labels: ["LASIS", "RASIS", "CV7", "EXTRA"],
  seconds: 3,
  rate_hz: 240,
  rows: [row("LASI", "pelvis, front, left", "Pelvis", "LASIS"), row("RASI", "pelvis, front, right", "Pelvis", "RASIS"), row("CGRP", "grip end", "Club", null)],
  axes: { ball: "-y", target: "+x", up: "+z" },
  axes_from: "player",
  preset: null,
};
const file = new File(["x"], "trial.c3d");

beforeEach(() => {
  vi.clearAllMocks();
  lesson = { club: "7-iron", player: { handedness: "right" }, recordings: [] };
  inspect.mockResolvedValue(seen);
  bring.mockResolvedValue({ id: "j", state: "done", recording_id: "t", swings: ["s1", "s2"] });
});
afterEach(cleanup);

function shown() {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Markers />
    </QueryClientProvider>,
  );
}

async function chosen() {
  shown();
  fireEvent.change(screen.getByLabelText("Marker file"), { target: { files: [file] } });
  await screen.findByText("2 of 3 markers are known.");
}

describe("a marker file", () => {
  it("comes with suggestions, and with what a missing group costs", async () => {
    await chosen();
    expect(screen.getByText(/no shaft, face, path or impact from the club/)).toBeDefined();
    expect((screen.getByLabelText("To the ball") as HTMLSelectElement).value).toBe("-y");
    expect(screen.getByText("Read off the player's pelvis and back at the start of the file.")).toBeDefined();
  });
  it("is imported with what was corrected, and remembered when it has a name", async () => {
    await chosen();
    fireEvent.change(screen.getByLabelText("CGRP, grip end"), { target: { value: "EXTRA" } });
    fireEvent.change(screen.getByLabelText("To the ball"), { target: { value: "+y" } });
    fireEvent.change(screen.getByLabelText(/Remember these names as/), { target: { value: "camera bay" } });
    fireEvent.click(screen.getByRole("button", { name: "Import and measure" }));
    await waitFor(() => expect(bring).toHaveBeenCalledOnce());
    expect(bring.mock.calls[0]![2]).toEqual({
      names: { LASI: "LASIS", RASI: "RASIS", CGRP: "EXTRA" },
      axes: { ball: "+y", target: "+x", up: "+z" },
      club: "7-iron",
      remember_as: "camera bay",
    });
    await waitFor(() => expect(navigate).toHaveBeenCalledWith({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId: "l1", swingId: "s1" } }));
  });
  it("cannot be imported while one label stands for two markers", async () => {
    await chosen();
    fireEvent.change(screen.getByLabelText("CGRP, grip end"), { target: { value: "LASIS" } });
    expect(screen.getByRole("alert").textContent).toContain("“LASIS” is chosen for two markers");
    expect((screen.getByRole("button", { name: "Import and measure" }) as HTMLButtonElement).disabled).toBe(true);
  });
  it("shows how far it is, and stops when it is told to", async () => {
    const running = { id: "j", state: "running", done: 1, total: 5, step: "Measuring swing 2 of 5", stopping: false };
    bring.mockResolvedValue({ ...running, state: "waiting", done: 0, total: 0, step: "" });
    looked.mockResolvedValue(running);
    stopped.mockImplementation(() => {
      looked.mockResolvedValue({ ...running, state: "cancelled" });
      return Promise.resolve({ ...running, stopping: true });
    });
    await chosen();
    fireEvent.click(screen.getByText("Import and measure"));
    expect(await screen.findByText("Waiting for its turn …")).toBeDefined();
    expect(await screen.findByText("Measuring swing 2 of 5 …")).toBeDefined();
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("1");
    fireEvent.click(screen.getByText("Stop"));
    await waitFor(() => expect(screen.queryByRole("progressbar")).toBeNull());
    expect(stopped).toHaveBeenCalledOnce();
    expect(navigate).not.toHaveBeenCalled();
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("says why it came to nothing", async () => {
    bring.mockResolvedValue({ id: "j", state: "failed", code: "bundle", message: "trial.c3d: no swing in it." });
    await chosen();
    fireEvent.click(screen.getByText("Import and measure"));
    expect((await screen.findByRole("alert")).textContent).toContain("trial.c3d: no swing in it.");
  });

  it("goes to the setup answer when it holds no swing", async () => {
    bring.mockResolvedValue({ id: "j", state: "done", recording_id: "t", swings: [] });
    await chosen();
    fireEvent.click(screen.getByRole("button", { name: "Import and measure" }));
    await waitFor(() => expect(navigate).toHaveBeenCalledWith({ to: "/lessons/$lessonId/setup", params: { lessonId: "l1" } }));
  });
  it("that cannot be read is explained, and another can be chosen", async () => {
    inspect.mockRejectedValue(new Error("trial.c3d: the C3D is damaged or cut off. Export it again"));
    shown();
    fireEvent.change(screen.getByLabelText("Marker file"), { target: { files: [file] } });
    expect((await screen.findByRole("alert")).textContent).toContain("damaged or cut off");
    expect(screen.getByRole("button", { name: "Choose a file" })).toBeDefined();
  });
  it("dropped on another screen is opened here, once", async () => {
    leaveFile(file);
    shown();
    await screen.findByText("2 of 3 markers are known.");
    expect(takeWaitingFile()).toBeNull();
    expect([isMarkerFile("A.C3D"), isMarkerFile("a.trc"), isMarkerFile("a.zip")]).toEqual([true, true, false]);
  });
});

const value = (metric: string, words: string, verdict = "in_range") => ({
  metric,
  moment: "address",
  value: 3,
  band: { range_id: "B2", low: -5, high: 5, words: "5° open to 5° closed", plain_words: "5° open to 5° closed", by: "common practice" },
  verdict,
  words,
  uncertainty: 2,
});

describe("the setup answer", () => {
  const take = (setup: object | null) => ({
    recordings: [{ calibration: { method: "markers" }, warnings: [], source: "bundle", setup }],
    player: { handedness: "left" },
  });
  it("is one question, one answer, one instruction, with the rest beside it", () => {
    lesson = take({
      question: "Where do the hips aim?",
      answer: "The pelvis is 17° open.",
      plain_answer: "The hips are 17° open.",
      instruction: "Set both heels on one rod.",
      good: false,
      metric: "pelvis_turn",
      values: [value("pelvis_turn", "17° open", "high"), value("thorax_turn", "12° open", "high")],
    });
    const { container } = render(<Setup />);
    expect(screen.getByText("Where do the hips aim?")).toBeDefined();
    expect(screen.getByText("The hips are 17° open.")).toBeDefined();
    expect(screen.getByText("12° open")).toBeDefined();
    expect(screen.queryByText(/cannot see aim/)).toBeNull();
    expect(container.querySelector("svg g")!.getAttribute("transform")).toBe("scale(-1,1)");
  });
  it("of a wrist pair says what it cannot see", () => {
    lesson = take({
      question: "q",
      answer: "a",
      plain_answer: "a",
      instruction: "Keep this.",
      good: true,
      metric: "lead_wrist_extension",
      values: [value("lead_wrist_extension", "21° cupped")],
    });
    render(<Setup />);
    expect(screen.getByText(/cannot see aim, posture or balance/)).toBeDefined();
  });
  it("is asked for when there is none", () => {
    lesson = take(null);
    render(<Setup />);
    expect(screen.getByText("Take your address and stand still.")).toBeDefined();
    cleanup();
    lesson = { recordings: [], player: { handedness: "right" } };
    render(<Setup />);
    expect(screen.getByText("No calibration yet.")).toBeDefined();
  });
});

describe("the poses", () => {
  it.each([
    ["square_upright", "Standing upright, seen from the side"],
    ["bow", "Bowed forward from the hips, seen from the side"],
    ["raised", "Same straight arm, raised about the elbow"],
    ["flat", "Arm level, palm down"],
    ["lifted", "Elbow lifted straight ahead, forearm pointing up"],
  ])("%s is drawn", (pose, says) => {
    render(<PoseDrawing pose={pose} mirror />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(says);
  });
});
