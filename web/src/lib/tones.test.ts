import { describe, expect, it, vi } from "vitest";

import type { Decision } from "./feed";
import { pitchOf, TrainerTone, type When } from "./tones";

const decision = (inside: boolean | null, error = 0, extra: Partial<Decision> = {}): Decision => ({
  at: 1,
  value: 0,
  inside,
  error,
  speaks: true,
  low: -10,
  high: 10,
  ...extra,
});

describe("what sounds", () => {
  it.each<[When, boolean | null, boolean]>([
    ["inside", true, true],
    ["inside", false, false],
    ["outside", true, false],
    ["outside", false, true],
    ["pitch", true, true],
    ["pitch", false, true],
    ["never", true, false],
    ["inside", null, false],
    ["outside", null, false],
    ["pitch", null, false],
  ])("%s, inside %s: %s", (when, inside, sounds) => expect(pitchOf(when, decision(inside, inside === false ? 5 : 0)) !== null).toBe(sounds));

  it("is nothing in a repetition without feedback", () => expect(pitchOf("inside", decision(true, 0, { speaks: false }))).toBeNull());

  it("is lower below the band and higher above it, the more the farther", () => {
    const at = (error: number) => pitchOf("pitch", decision(error === 0, error))!;
    expect([at(-8), at(-2), at(0), at(2), at(8)]).toEqual([...[at(-8), at(-2), at(0), at(2), at(8)]].sort((a, b) => a - b));
    expect(at(15) / at(0)).toBeCloseTo(2, 9); // an octave at three quarters of the band's width
    expect(pitchOf("outside", decision(false, 5))!).toBeGreaterThan(pitchOf("outside", decision(false, -5))!);
  });
});

describe("the tone", () => {
  const node = () => ({
    connect: vi.fn((next: unknown) => next),
    start: vi.fn(),
    stop: vi.fn(),
    frequency: { value: 0, setTargetAtTime: vi.fn() },
    gain: { value: 0, setTargetAtTime: vi.fn() },
  });
  it("runs all the time and is let through only when it should sound", () => {
    const gains = [] as ReturnType<typeof node>[];
    const context = {
      state: "running",
      currentTime: 2,
      baseLatency: 0.005,
      destination: {},
      createGain: () => (gains.push(node()), gains.at(-1)!),
      createOscillator: node,
      close: vi.fn(() => Promise.resolve()),
    };
    const tone = new TrainerTone("reed", 0.4, () => context as unknown as AudioContext);
    tone.sound(330); // before a tap nothing sounds, and nothing breaks
    tone.wake();
    for (const pitch of [330, 340, null, null]) tone.sound(pitch);
    expect(gains[0]!.gain.setTargetAtTime.mock.calls.map((c) => c[0] as number)).toEqual([0.4, 0]);
    expect(tone.delay_ms).toBeCloseTo(13, 9);
    tone.stop();
    expect(context.close).toHaveBeenCalled();
  });
});
