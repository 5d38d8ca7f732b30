/** What a recorder must do; the browser's MediaRecorder does. */
export interface Recorder {
  start: () => void;
  stop: () => void;
  ondataavailable: ((event: { data: Blob }) => void) | null;
  onstop: (() => void) | null;
  readonly state: string;
}

/** So much is there before a swing at least, and at most twice that, s. */
const TURN_S = 6;

export interface Kept {
  video: Blob;
  /** How long it is, s. */
  seconds: number;
}

/**
 * Records all the time and keeps nothing but the last seconds: two recorders take turns, so that one of them always began
 * at least six seconds ago. A recorder's video cannot be cut at its beginning; this one need not be.
 */
export class Rolling {
  private turns: { recorder: Recorder; began: number }[] = [];
  private timer: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly make: () => Recorder,
    private readonly now: () => number = () => performance.now(),
  ) {}

  start(): void {
    this.begin();
    this.timer = setInterval(() => {
      if (this.turns.length > 1) this.drop(this.turns.shift()!.recorder);
      this.begin();
    }, 1000 * TURN_S);
  }

  /** The video up to now of whichever began longest ago; recording goes on. Null where none is running. */
  take(): Promise<Kept | null> {
    const oldest = this.turns.shift();
    if (!oldest) return Promise.resolve(null);
    if (!this.turns.length) this.begin();
    const { recorder, began } = oldest;
    if (recorder.state === "inactive") return Promise.resolve(null);
    const seconds = (this.now() - began) / 1000;
    return new Promise((resolve) => {
      const parts: Blob[] = [];
      recorder.ondataavailable = (event) => parts.push(event.data);
      recorder.onstop = () => resolve({ video: new Blob(parts, { type: parts[0]?.type ?? "video/webm" }), seconds });
      recorder.stop();
    });
  }

  stop(): void {
    clearInterval(this.timer);
    for (const { recorder } of this.turns) this.drop(recorder);
    this.turns = [];
  }

  private begin(): void {
    const recorder = this.make();
    recorder.start();
    this.turns.push({ recorder, began: this.now() });
  }

  private drop(recorder: Recorder): void {
    recorder.ondataavailable = null;
    recorder.onstop = null;
    if (recorder.state !== "inactive") recorder.stop();
  }
}
