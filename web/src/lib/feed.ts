/** What a bay shows as it happens: the newest of everything, told to listeners at once and to drawings once a picture. */

import type { BandAt } from "./watched";
import type { MetricWords } from "./words";
import { tr } from "@/lib/language";

export interface Decision {
  /** Its sample's time, s. */
  at: number;
  value: number;
  /** null outside the phase of the band. */
  inside: boolean | null;
  /** How far beyond the band, negative below. */
  error: number;
  speaks: boolean;
  low: number | null;
  high: number | null;
}

export interface Repetition {
  number: number;
  good: boolean;
  share: number;
  value: number;
  error: number;
  width: number;
  seconds: number;
  speed?: number | null | undefined;
  spoken: boolean;
  felt: string;
  felt_steps?: number | null | undefined;
}

export interface TrainerNow {
  metric: string;
  phase: string;
  test: boolean;
  speaks: boolean;
  /** Feedback in every so many repetitions, 0 for none. */
  every: number;
  width: number;
  locked: boolean;
  relative: boolean;
  low: number | null;
  high: number | null;
  made: number;
  good: number;
  run: number;
  best: number;
  ladder: { rung: string; made: number; good: number }[];
  repetitions: Repetition[];
}

/** The figure as it stands now: places of its joints, m, as a right-hander's, and which parts are measured. */
export interface FigureNow {
  points: Record<string, [number, number, number]>;
  measured: string[];
  placed: boolean;
}

export interface Now {
  connected: boolean;
  /** Whether the door was closed: not signed in, or a code that is none. */
  refused: string;
  bay: string;
  /** Names and units of the measures, for a screen that has no catalogue. */
  measures: MetricWords[];
  /** Whether a recording goes on in the bay. */
  going: boolean;
  hand: string;
  phase: string;
  /** 0 at address, 1 at the top, 2 at impact, 3 at the finish. */
  along: number;
  still: boolean;
  /** The newest value of each measure with its standard uncertainty. */
  values: Record<string, [number, number]>;
  /** What each settled at in the last stillness, and how far it wandered. */
  settled: Record<string, [number, number]>;
  trainer: TrainerNow | null;
  decision: Decision | null;
  /** Null while nothing can be drawn. */
  figure: FigureNow | null;
  /** Ranges in force with the club in hand, for a screen that cannot ask. */
  bands: BandAt[];
}

const NOTHING: Now = {
  connected: false,
  refused: "",
  bay: "",
  measures: [],
  going: false,
  hand: "right",
  phase: "",
  along: 0,
  still: false,
  values: {},
  settled: {},
  trainer: null,
  decision: null,
  figure: null,
  bands: [],
};
const AGAIN_MS = [300, 1000, 2000, 5000];
/** With these the server says that coming back is of no use. */
const CLOSED = new Set([4401, 4403]);

type Told = Record<string, unknown> & { type: string };

/** What is told, put over what was known. */
export function joined(old: Now, told: Told): Now {
  if (told.type === "bay") return { ...old, bay: String(told.name), measures: (told.measures ?? []) as MetricWords[] };
  if (told.type === "repetition" && old.trainer) {
    const made = told as unknown as Repetition;
    const repetitions = [...old.trainer.repetitions.filter((r) => r.number !== made.number), made];
    return { ...old, trainer: { ...old.trainer, repetitions } };
  }
  if (told.type !== "now") return old;
  const part = told as Partial<Now> & { lesson?: string | null; going_on?: boolean };
  const going = part.going_on ?? ("lesson" in told ? part.lesson !== null : old.going);
  return {
    ...old,
    going,
    hand: part.hand ?? old.hand,
    phase: part.phase ?? old.phase,
    along: part.along ?? old.along,
    still: part.still ?? old.still,
    values: going ? { ...old.values, ...part.values } : {},
    settled: going ? { ...old.settled, ...part.settled } : {},
    trainer: "trainer" in told ? (part.trainer ?? null) : old.trainer,
    figure: going ? (part.figure ?? old.figure) : null,
    bands: part.bands ?? old.bands,
    decision: part.decision ?? ("trainer" in told && !part.trainer ? null : old.decision),
  };
}

export class Feed {
  private now: Now = NOTHING;
  private shown: Now = NOTHING;
  private socket: WebSocket | null = null;
  private tries = 0;
  private stopped = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private frame = 0;
  private readonly drawings = new Set<() => void>();
  private readonly listeners = new Set<(now: Now, told: Told) => void>();

  constructor(
    private readonly url: string,
    private readonly first?: Record<string, unknown>,
    private readonly open: (url: string) => WebSocket = (address) => new WebSocket(address),
    private readonly soon: (work: () => void) => number = (work) => requestAnimationFrame(work),
  ) {}

  start(): void {
    const socket = this.open(this.url);
    this.socket = socket;
    socket.onopen = () => {
      if (this.first) socket.send(JSON.stringify(this.first));
      this.tries = 0;
      this.put({ ...this.now, connected: true, refused: "" }, { type: "open" });
    };
    socket.onmessage = (event: MessageEvent<unknown>) => {
      const told = JSON.parse(String(event.data)) as Told;
      this.put(joined(this.now, told), told);
    };
    socket.onclose = (event: CloseEvent) => this.lost(event);
  }

  stop(): void {
    this.stopped = true;
    clearTimeout(this.timer);
    this.socket?.close();
  }

  /** As it stood when the last picture was drawn. */
  get = (): Now => this.shown;

  /** Once a picture at most. */
  subscribe = (draw: () => void): (() => void) => {
    this.drawings.add(draw);
    return () => this.drawings.delete(draw);
  };

  /** At once: for sound. */
  listen = (hear: (now: Now, told: Told) => void): (() => void) => {
    this.listeners.add(hear);
    return () => this.listeners.delete(hear);
  };

  private put(now: Now, told: Told): void {
    this.now = now;
    this.listeners.forEach((hear) => hear(now, told));
    this.frame ||= this.soon(() => {
      this.frame = 0;
      this.shown = this.now;
      this.drawings.forEach((draw) => draw());
    });
  }

  private lost(event: CloseEvent): void {
    if (this.stopped) return;
    const refused = CLOSED.has(event.code) ? event.reason || tr("This screen is not let in.") : "";
    this.put({ ...this.now, connected: false, refused, decision: null }, { type: "lost" });
    if (refused) return;
    this.timer = setTimeout(() => this.start(), AGAIN_MS[Math.min(this.tries, AGAIN_MS.length - 1)]);
    this.tries += 1;
  }
}
