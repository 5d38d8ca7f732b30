/** A device's side of the device link (docs/device-link.md), version 1: one stream of a sensor, sent, kept until it is safe, sent again. */

const VERSION = 1;
const HEADER_BYTES = 24;
const OFFSET_BYTES = 4;
/** Acceleration and rate, three axes each. */
export const VALUES = 6;
const SAMPLE_BYTES = OFFSET_BYTES + 4 * VALUES;
export const SUBPROTOCOL = "finearc.link.v1";
/** Pauses before each further try to connect, ms. */
const AGAIN_MS = [200, 500, 1000, 2000, 5000];
const CLOCK_EVERY_MS = 1000;
/** The clock is asked more often until so many answers are there. */
const FIRST_CLOCKS = 5;
const HEALTH_EVERY = 5;
/** Frames kept unacknowledged: a minute and more at twenty a second. */
const MOST_KEPT = 2000;

/** One reading: device time in µs; specific force x, y, z in m/s², angular velocity x, y, z in rad/s. */
export interface Sample {
  t_us: number;
  values: readonly number[];
}

export interface LinkState {
  /** connecting: no connection yet, or again; refused: the server does not take this device. */
  phase: "connecting" | "connected" | "refused";
  reason: string;
  bay: string;
  /** What the bay is doing, as it says. */
  state: string;
  pose: string;
  swing: number;
  /** Words for a person. */
  notice: string;
  sent: number;
  /** Samples that are on the server's disk. */
  safe: number;
}

const START: LinkState = { phase: "connecting", reason: "", bay: "", state: "idle", pose: "", swing: 0, notice: "", sent: 0, safe: 0 };

/** Samples as bytes, each with its own offset in time. */
export function frameOf(stream: number, first: number, samples: readonly Sample[]): ArrayBuffer {
  const begins = samples[0]!.t_us;
  const view = new DataView(new ArrayBuffer(HEADER_BYTES + SAMPLE_BYTES * samples.length));
  view.setUint8(0, VERSION);
  view.setUint8(1, stream);
  view.setUint16(2, samples.length, true);
  view.setUint32(4, first, true);
  view.setBigUint64(8, BigInt(Math.round(begins)), true);
  samples.forEach((sample, k) => {
    const at = HEADER_BYTES + k * SAMPLE_BYTES;
    view.setUint32(at, Math.round(sample.t_us - begins), true);
    sample.values.forEach((value, n) => view.setFloat32(at + OFFSET_BYTES + 4 * n, value, true));
  });
  return view.buffer;
}

interface Kept {
  after: number;
  data: ArrayBuffer;
}

/** Stays connected until ``stop``. ``hello``: as it is sent, without type and protocol; ``now_us``: the device's clock. */
export class DeviceLink {
  private socket: WebSocket | null = null;
  private kept: Kept[] = [];
  private next = 0;
  private tries = 0;
  private beats = 0;
  private last: { t0: number; t3: number } | null = null;
  private timers: ReturnType<typeof setTimeout>[] = [];
  private stopped = false;
  private told: LinkState = START;

  constructor(
    private readonly url: string,
    private readonly hello: Record<string, unknown>,
    private readonly now_us: () => number,
    private readonly changed: (state: LinkState) => void,
    private readonly health: () => Record<string, unknown> = () => ({}),
    private readonly open: (url: string, protocol: string) => WebSocket = (url, protocol) => new WebSocket(url, protocol),
  ) {}

  start(): void {
    const socket = this.open(this.url, SUBPROTOCOL);
    socket.binaryType = "arraybuffer";
    this.socket = socket;
    socket.onopen = () => this.say({ type: "hello", protocol: 1, ...this.hello });
    socket.onmessage = (event: MessageEvent<unknown>) => this.hear(JSON.parse(String(event.data)) as Message);
    socket.onclose = () => this.lost(socket);
  }

  /** Samples in the order of their times. */
  send(samples: readonly Sample[]): void {
    if (!samples.length) return;
    const data = frameOf(0, this.next, samples);
    this.next += samples.length;
    this.kept.push({ after: this.next, data });
    if (this.kept.length > MOST_KEPT) this.kept.shift();
    if (this.told.phase === "connected") this.socket?.send(data);
    this.tell({ sent: this.next });
  }

  stop(reason: string): void {
    this.stopped = true;
    this.timers.forEach(clearTimeout);
    if (this.told.phase === "connected") this.say({ type: "bye", reason });
    this.socket?.close();
  }

  private say(message: Record<string, unknown>): void {
    if (this.socket?.readyState === 1) this.socket.send(JSON.stringify(message));
  }

  private tell(part: Partial<LinkState>): void {
    this.told = { ...this.told, ...part };
    this.changed(this.told);
  }

  private hear(message: Message): void {
    if (message.type === "welcome") this.welcomed(message);
    else if (message.type === "refused") this.tell({ phase: "refused", reason: message.reason });
    else if (message.type === "clock") this.last = { t0: message.t0_us, t3: this.now_us() };
    else if (message.type === "ack") this.isSafe(message.sequence);
    else if (message.type === "notice") this.tell({ notice: message.words });
    else if (message.type === "state") this.tell({ state: message.state, pose: message.pose ?? "", swing: message.number ?? this.told.swing });
  }

  private welcomed(message: Extract<Message, { type: "welcome" }>): void {
    this.tries = this.beats = 0;
    this.last = null; // whatever was asked before was answered on another connection
    this.tell({ phase: "connected", bay: message.bay, reason: "", notice: "" });
    this.beat();
    const wanted = message.resume?.["0"] ?? 0;
    this.kept.filter((k) => k.after > wanted).forEach((k) => this.socket?.send(k.data));
  }

  private isSafe(sequence: number): void {
    this.kept = this.kept.filter((k) => k.after - 1 > sequence);
    this.tell({ safe: sequence + 1 });
  }

  /** Clock and health, again and again. */
  private beat(): void {
    if (this.stopped || this.told.phase !== "connected") return;
    const answered = this.last ? { last_t0_us: this.last.t0, last_t3_us: this.last.t3 } : {};
    this.say({ type: "clock", t0_us: this.now_us(), ...answered });
    if (this.beats % HEALTH_EVERY === 0) this.say({ type: "health", ...this.health() });
    this.beats += 1;
    this.after(this.beats < FIRST_CLOCKS ? CLOCK_EVERY_MS / 10 : CLOCK_EVERY_MS, () => this.beat());
  }

  private lost(socket: WebSocket): void {
    if (this.stopped || socket !== this.socket || this.told.phase === "refused") return;
    this.tell({ phase: "connecting" });
    this.timers = [];
    this.after(AGAIN_MS[Math.min(this.tries, AGAIN_MS.length - 1)]!, () => this.start());
    this.tries += 1;
  }

  private after(ms: number, work: () => void): void {
    this.timers = [...this.timers.slice(-3), setTimeout(work, ms)];
  }
}

type Message =
  | { type: "welcome"; bay: string; resume?: Record<string, number> }
  | { type: "refused"; code: number; reason: string }
  | { type: "clock"; t0_us: number }
  | { type: "ack"; stream: number; sequence: number }
  | { type: "state"; state: string; pose?: string; number?: number }
  | { type: "notice"; name: string; words: string };
