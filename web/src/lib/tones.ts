/** The trainer's sound: made in the browser, begun and ended within a few thousandths of a second. */
import type { Decision } from "./feed";
import { tr } from "@/lib/language";

/** When it sounds. */
export type When = "inside" | "outside" | "pitch" | "never";
/** How it sounds. */
export type Tone = "reed" | "glass" | "pulse";

export const TONES: Record<Tone, string> = { reed: tr("Reed"), glass: tr("Glass"), pulse: tr("Pulse") };
export const WHENS: Record<When, string> = {
  inside: tr("while inside"),
  outside: tr("while outside"),
  pitch: tr("pitch by how far"),
  never: tr("no sound"),
};

const BASE_HZ = 330;
/** An octave is so many band widths (or, with one limit, so many times 20). */
const OCTAVE_WIDTHS = 0.75;
const RAMP_S = 0.008;

/** What a decision sounds like: null for silence, else how high, Hz. Below the band it is lower, above it higher. */
export function pitchOf(when: When, d: Decision | null): number | null {
  if (!d || !d.speaks || d.inside === null || when === "never") return null;
  if (when === "inside") return d.inside ? BASE_HZ : null;
  if (when === "outside") return d.inside ? null : d.error > 0 ? BASE_HZ * 1.5 : BASE_HZ / 1.5;
  const width = d.low !== null && d.high !== null ? d.high - d.low : 20;
  return d.inside ? BASE_HZ : BASE_HZ * 2 ** Math.max(-1, Math.min(1.5, d.error / (OCTAVE_WIDTHS * width)));
}

interface Voice {
  gain: GainNode;
  pitches: { node: OscillatorNode; times: number }[];
}

/** Partials of each tone: wave, times the pitch, how loud. */
const PARTS: Record<Tone, [OscillatorType, number, number][]> = {
  reed: [
    ["triangle", 1, 0.8],
    ["sawtooth", 2, 0.12],
  ],
  glass: [
    ["sine", 2, 0.7],
    ["sine", 5.4, 0.18],
  ],
  pulse: [
    ["square", 0.5, 0.3],
    ["sine", 1.5, 0.4],
  ],
};

/** One tone that runs all the time and is let through or not. */
export class TrainerTone {
  private context: AudioContext | null = null;
  private voice: Voice | null = null;
  private loud = false;
  /** When the last message came and when its sound begins, s, for measuring. */
  delay_ms: number | null = null;

  constructor(
    private tone: Tone,
    private volume: number,
    private readonly make: () => AudioContext | null = () => (typeof AudioContext === "undefined" ? null : new AudioContext({ latencyHint: "interactive" })),
  ) {}

  /** To be called from a tap: browsers let no page sound before one. */
  wake(): void {
    this.context ??= this.make();
    if (!this.context) return;
    if (this.context.state === "suspended") void this.context.resume();
    this.voice ??= this.built(this.context);
  }

  change(tone: Tone, volume: number): void {
    if (tone !== this.tone && this.context) {
      this.voice?.pitches.forEach((p) => p.node.stop());
      this.tone = tone;
      this.voice = this.built(this.context);
      this.loud = false;
    }
    this.volume = volume;
  }

  /** Sound at a pitch, Hz, or be silent. */
  sound(pitch: number | null): void {
    const { context, voice } = this;
    if (!context || !voice) return;
    const now = context.currentTime;
    if (pitch !== null) voice.pitches.forEach((p) => p.node.frequency.setTargetAtTime(pitch * p.times, now, RAMP_S));
    if ((pitch !== null) === this.loud) return;
    this.loud = pitch !== null;
    voice.gain.gain.setTargetAtTime(this.loud ? this.volume : 0, now, RAMP_S);
    this.delay_ms = 1000 * (context.baseLatency + (context.outputLatency || 0) + RAMP_S);
  }

  stop(): void {
    this.sound(null);
    void this.context?.close();
    this.context = this.voice = null;
  }

  private built(context: AudioContext): Voice {
    const gain = context.createGain();
    gain.gain.value = 0;
    gain.connect(context.destination);
    const pitches = PARTS[this.tone].map(([type, times, share]) => {
      const node = context.createOscillator();
      const part = context.createGain();
      node.type = type;
      node.frequency.value = BASE_HZ * times;
      part.gain.value = share;
      node.connect(part).connect(gain);
      node.start();
      return { node, times };
    });
    return { gain, pitches };
  }
}
