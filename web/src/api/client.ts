import createClient, { type Middleware } from "openapi-fetch";

import type { components, paths } from "./generated/schema";

export type Schemas = components["schemas"];

let csrf = "";
export function setCsrf(value: string): void {
  csrf = value;
}
export function csrfToken(): string {
  return csrf;
}

/** What the server said went wrong: what, where, what to do. */
export class Problem extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("x-csrf-token", csrf);
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) throw await problemOf(response);
    return response;
  },
};

export async function problemOf(response: Response): Promise<Problem> {
  try {
    const body = (await response.json()) as { code?: string; message?: string };
    return new Problem(body.code ?? "error", body.message ?? response.statusText, response.status);
  } catch {
    return new Problem("error", "The application does not answer as expected. Try again.", response.status);
  }
}

export const api = createClient<paths>({ baseUrl: "/" });
api.use(guard);

/** The answer's data, or the problem thrown. */
export async function data<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data: found } = await call;
  return found as T;
}
