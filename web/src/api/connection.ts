import { tr } from "@/lib/language";

/** Whether the application can be reached and knows who is there. Requests wait here; screens say so and keep what was typed. */
export interface State {
  /** Nothing answers. */
  lost: boolean;
  /** The application answers, its database does not. */
  away: boolean;
  /** The sign-in has run out. */
  expired: boolean;
}

export const NOT_CONNECTED = tr("Not connected. What you did is kept; trying again.");
export const DATABASE_AWAY = tr("The database does not answer. What you did is kept; trying again.");
export const SEND_AGAIN = tr("Not connected. What you typed is kept; send it again once the connection is back.");
const LOOK_EVERY_MS = 1000;
/** What may be sent twice without being done twice. */
const REPEATABLE = new Set(["GET", "PUT", "PATCH", "DELETE"]);
const OPEN = /\/api\/(me|sign-in|sign-out|health)$/;

let state: State = { lost: false, away: false, expired: false };
const listeners = new Set<() => void>();
let waiting: (() => void)[] = [];

export const connection = {
  get: () => state,
  subscribe: (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
  /** The sign-in is new: what waited for it goes on. */
  signedIn: () => {
    become({ expired: false });
    const all = waiting;
    waiting = [];
    all.forEach((go) => go());
  },
};

function become(part: Partial<State>): void {
  const next = { ...state, ...part };
  if (next.lost === state.lost && next.away === state.away && next.expired === state.expired) return;
  state = next;
  listeners.forEach((listener) => listener());
}

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Whether the application answers, and its database too. */
async function reachable(): Promise<boolean> {
  try {
    const answer = await fetch("/readyz");
    become({ lost: false, away: !answer.ok });
    return answer.ok;
  } catch {
    become({ lost: true, away: false });
    return false;
  }
}

/** Whether an answer says that the database is away. */
async function saysAway(response: Response): Promise<boolean> {
  if (response.status !== 503) return false;
  const body = (await response
    .clone()
    .json()
    .catch(() => ({}))) as { code?: string };
  return body.code === "database";
}

const unlessAborted = (signal: AbortSignal) => {
  if (signal.aborted) throw new DOMException(tr("no longer wanted"), "AbortError");
};

/** What was sent cannot be sent again by itself: it might be done twice. */
export class NotSent extends Error {
  constructor() {
    super(SEND_AGAIN);
  }
}

/** Sends a request as `fetch` does, but waits while the application cannot be reached or the sign-in has run out, and sends it again
 * then. `prepared` is asked before every try. */
export async function patiently(request: Request, prepared: (request: Request) => void): Promise<Response> {
  for (;;) {
    const attempt = request.clone();
    prepared(attempt);
    let response: Response;
    try {
      response = await fetch(attempt);
    } catch (error) {
      unlessAborted(request.signal);
      if (error instanceof DOMException && error.name === "AbortError") throw error;
      become({ lost: true });
      if (!REPEATABLE.has(request.method)) {
        void untilReachable(new AbortController().signal);
        throw new NotSent();
      }
      await untilReachable(request.signal);
      continue;
    }
    if (await saysAway(response)) {
      become({ lost: false, away: true });
      if (!REPEATABLE.has(request.method)) {
        void untilReachable(new AbortController().signal);
        return response;
      }
      await pause(LOOK_EVERY_MS);
      await untilReachable(request.signal);
      continue;
    }
    become({ lost: false, away: false });
    if (OPEN.test(new URL(request.url).pathname) || !(await saysSignedOut(response))) return response;
    become({ expired: true });
    await new Promise<void>((go) => waiting.push(go));
    unlessAborted(request.signal);
  }
}

/** A wrong password or code, asked for by a screen of somebody who is signed in, is the screen's own to say. */
async function saysSignedOut(response: Response): Promise<boolean> {
  if (response.status !== 401) return false;
  const { code } = (await response
    .clone()
    .json()
    .catch(() => ({}))) as { code?: string };
  return code === undefined || code === "not_signed_in";
}

async function untilReachable(signal: AbortSignal): Promise<void> {
  while (!(await reachable())) {
    unlessAborted(signal);
    await pause(LOOK_EVERY_MS);
  }
}
