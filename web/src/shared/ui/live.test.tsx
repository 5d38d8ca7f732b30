import { act, cleanup, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { LiveProvider, useLive, type LiveMessage } from "./live";

const join = vi.fn(() => Promise.resolve());
const heard = vi.hoisted(() => ({ captured: vi.fn(), refused: vi.fn(), done: vi.fn() }));
const sound = vi.hoisted(() => ({ on: true }));
vi.mock("@/api/hooks", () => ({ useJoin: () => join }));
vi.mock("@/lib/sound", () => ({ sounds: heard }));
vi.mock("@/lib/settings", () => ({ settings: () => ({ sound: sound.on }) }));

/** A channel that says what the test lets it say. */
class Channel {
  static open: Channel[] = [];
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  closed = false;
  constructor(readonly address: string) {
    Channel.open.push(this);
  }
  close() {
    this.closed = true;
  }
}
const channel = () => Channel.open.at(-1)!;
const say = (message: LiveMessage) => act(() => channel().onmessage!({ data: JSON.stringify(message) }));

function Shown() {
  const { message, captured, connected } = useLive();
  return <p data-testid="live">{[message.type, captured ?? "none", connected ? "connected" : "apart"].join(" ")}</p>;
}
const shown = () => screen.getByTestId("live").textContent;

beforeEach(() => {
  vi.useFakeTimers();
  vi.clearAllMocks();
  sound.on = true;
  Channel.open = [];
  vi.stubGlobal("EventSource", Channel);
  render(
    <LiveProvider lessonId="L">
      <Shown />
    </LiveProvider>,
  );
  act(() => channel().onopen!());
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

it("what stood when the lesson was opened is shown, and is no news", () => {
  expect(channel().address).toBe("/api/lessons/L/live");
  say({ type: "captured", swings: ["s1"] });
  expect(shown()).toBe("captured s1 connected");
  expect(join).not.toHaveBeenCalled();
  expect(heard.captured).not.toHaveBeenCalled();
});

it("a captured swing sounds, flashes the edge and joins the lesson", () => {
  say({ type: "ready" });
  say({ type: "captured", swings: ["s2", "s3"] });
  expect(shown()).toBe("captured s3 connected");
  expect(document.querySelectorAll(".edge-flash")).toHaveLength(1);
  expect(heard.captured).toHaveBeenCalledOnce();
  expect(join).toHaveBeenCalledOnce();
  expect(screen.getByText("Captured")).toBeDefined();
});

it("captured stays readable before ready takes its place", () => {
  say({ type: "ready" });
  say({ type: "captured", swings: ["s2"] });
  say({ type: "ready" });
  act(() => vi.advanceTimersByTime(2400));
  expect(shown()).toBe("captured s2 connected");
  act(() => vi.advanceTimersByTime(200));
  expect(shown()).toBe("ready s2 connected");
});

it("the next swing does not wait for the last one to have been read", () => {
  say({ type: "ready" });
  say({ type: "captured", swings: ["s2"] });
  say({ type: "ready" });
  say({ type: "swinging" });
  expect(shown()).toBe("swinging s2 connected");
  act(() => vi.advanceTimersByTime(5000));
  expect(shown()).toBe("swinging s2 connected");
});

it("a swing in which nothing was found flashes nothing", () => {
  say({ type: "ready" });
  say({ type: "captured", swings: [] });
  expect(document.querySelector(".edge-flash")).toBeNull();
  expect(heard.captured).not.toHaveBeenCalled();
  expect(join).toHaveBeenCalledOnce();
});

it("a pose that is refused and one that is done sound different, and both renew the lesson", () => {
  say({ type: "pose" });
  say({ type: "refused", reason: "moved" });
  say({ type: "calibrated", sentence: "good" });
  say({ type: "setup" });
  expect([heard.refused.mock.calls.length, heard.done.mock.calls.length]).toEqual([1, 1]);
  expect(join).toHaveBeenCalledTimes(3);
});

it("is silent where sound is off", () => {
  sound.on = false;
  say({ type: "ready" });
  say({ type: "captured", swings: ["s2"] });
  say({ type: "refused" });
  say({ type: "calibrated" });
  expect(Object.values(heard).every((f) => f.mock.calls.length === 0)).toBe(true);
  expect(join).toHaveBeenCalledTimes(3);
});

it("says when the channel is lost and when it is back", () => {
  say({ type: "ready" });
  act(() => channel().onerror!());
  expect(shown()).toBe("ready none apart");
  act(() => channel().onopen!());
  expect(shown()).toBe("ready none connected");
});

it("leaving the lesson closes its channel", () => {
  const own = channel();
  cleanup();
  expect(own.closed).toBe(true);
});
