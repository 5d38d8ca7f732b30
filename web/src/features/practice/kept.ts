import { applied, type Answer, type Page } from "./answers";
import { MANNER } from "./manner";

/** What the phone keeps: the page as it came last, and what was said since and has not arrived. */
interface Kept {
  page: Page | null;
  waiting: Answer[];
}

export type State = { at: "opening" } | { at: "gone" } | { at: "nothing" } | { at: "here"; page: Page; waiting: number; online: boolean; words: string };

const NAME = "practice:";
const AGAIN_MS = 20_000;

/** Keeps the page of one link on the phone, says what was answered as soon as it can, and tells whoever looks. */
export class Keeper {
  #kept: Kept;
  #state: State = { at: "opening" };
  #online = true;
  #words = "";
  #busy = false;
  #again: ReturnType<typeof setTimeout> | undefined;

  constructor(
    readonly token: string,
    private readonly tell: (state: State) => void,
    private readonly storage: Storage = window.localStorage,
    private readonly ask: typeof fetch = (...of) => window.fetch(...of),
  ) {
    this.#kept = read(storage, NAME + token);
    if (this.#kept.page) this.#show();
  }

  get state(): State {
    return this.#state;
  }

  /** Kept on the phone before it is shown as done. */
  say(...answers: Answer[]): void {
    this.#kept.waiting.push(...answers);
    this.#words = "";
    this.#write();
    this.#show();
    void this.meet();
  }

  /** Send what waits, fetch what is new. */
  async meet(): Promise<void> {
    if (this.#busy) return;
    this.#busy = true;
    clearTimeout(this.#again);
    try {
      do await this.#once(this.#kept.waiting);
      while (this.#kept.waiting.length && this.#online && this.#state.at === "here");
    } finally {
      this.#busy = false;
    }
    if (!this.#online && this.#state.at !== "gone") this.#again = setTimeout(() => void this.meet(), AGAIN_MS);
  }

  end(): void {
    clearTimeout(this.#again);
  }

  async #once(waiting: Answer[]): Promise<void> {
    const sent = [...waiting];
    const response = await this.#send(sent);
    if (response === null) {
      this.#online = false;
      this.#show();
      return;
    }
    this.#online = true;
    if (response.status === 404) {
      this.storage.removeItem(NAME + this.token);
      this.storage.removeItem(MANNER + this.token);
      this.#kept = { page: null, waiting: [] };
      this.#become({ at: "gone" });
    } else if (response.ok) {
      const page = (await response.json()) as Page;
      this.#words = page.not_done.map((x) => x.why).join(" ");
      this.#arrived(sent, page);
    } else if (sent.length > 1) {
      for (const one of sent) await this.#once([one]);
    } else {
      // it can never arrive: the page says so and goes on
      this.#words = ((await response.json().catch(() => ({}))) as { message?: string }).message ?? "";
      this.#arrived(sent, this.#kept.page);
    }
  }

  #arrived(sent: Answer[], page: Page | null): void {
    const keys = new Set(sent.map((a) => a.key));
    this.#kept = { page, waiting: this.#kept.waiting.filter((a) => !keys.has(a.key)) };
    this.#write();
    this.#show();
  }

  async #send(answers: Answer[]): Promise<Response | null> {
    const body = answers.length ? { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify({ answers }) } : {};
    try {
      const response = await this.ask(`/api/p/${this.token}`, { cache: "no-store", ...body });
      return response.status >= 500 || response.status === 429 ? null : response;
    } catch {
      return null;
    }
  }

  #write(): void {
    this.storage.setItem(NAME + this.token, JSON.stringify(this.#kept));
  }

  #show(): void {
    const { page, waiting } = this.#kept;
    if (page) this.#become({ at: "here", page: applied(page, waiting), waiting: waiting.length, online: this.#online, words: this.#words });
    else if (!this.#online) this.#become({ at: "nothing" });
  }

  #become(state: State): void {
    this.#state = state;
    this.tell(state);
  }
}

function read(storage: Storage, name: string): Kept {
  try {
    const kept = JSON.parse(storage.getItem(name) ?? "null") as Kept | null;
    return kept ?? { page: null, waiting: [] };
  } catch {
    return { page: null, waiting: [] };
  }
}
