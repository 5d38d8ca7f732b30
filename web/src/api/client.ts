import createClient, { type Middleware } from "openapi-fetch";

import { patiently } from "./connection";
import type { components, paths } from "./generated/schema";
import { tr } from "@/lib/language";

export type Schemas = components["schemas"];

let csrf = "";
export function setCsrf(value: string): void {
  csrf = value;
}

/** What the server said went wrong: what, where, what to do. */
export class Problem extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly status: number,
    readonly more: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

/** Somebody saved the same meanwhile: what stands there now, and with which revision one saves on top of it. */
export type Clashing = Problem & { theirs: Record<string, unknown>; revision: string };

export class SavedMeanwhile extends Problem {
  get theirs() {
    return this.more.theirs as Record<string, unknown>;
  }
  get revision() {
    return this.more.revision as string;
  }
}

export const isClash = (error: unknown): error is Clashing => error instanceof SavedMeanwhile;

/** Says which revision was seen by whoever saves. */
export const seen = (revision: string) => ({ "if-match": `"${revision}"` });

/** `fetch` that waits for the connection and for a new sign-in. */
export const send = (request: Request): Promise<Response> =>
  patiently(request, (attempt) => {
    if (attempt.method !== "GET") attempt.headers.set("x-csrf-token", csrf);
  });

const guard: Middleware = {
  async onResponse({ response }) {
    if (!response.ok) throw await problemOf(response);
    return response;
  },
};

export async function problemOf(response: Response): Promise<Problem> {
  try {
    const { code = "error", message = response.statusText, ...more } = (await response.json()) as { code?: string; message?: string };
    const kind = code === "changed_meanwhile" ? SavedMeanwhile : Problem;
    return new kind(code, message, response.status, more);
  } catch {
    return new Problem("error", tr("The application does not answer as expected. Try again."), response.status);
  }
}

export const api = createClient<paths>({ baseUrl: "/", fetch: send });
api.use(guard);

/** The answer's data, or the problem thrown. */
export async function data<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data: found } = await call;
  return found as T;
}
