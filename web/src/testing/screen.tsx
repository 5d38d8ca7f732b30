/** Screens under test as the browser opens them: the real routes, store of answers and client; only the network is played. */
import { QueryClientProvider } from "@tanstack/react-query";
import { createMemoryHistory, createRouter, RouterProvider } from "@tanstack/react-router";
import { cleanup, render } from "@testing-library/react";
import { vi } from "vitest";

import type { Schemas } from "@/api/client";
import { newQueryClient } from "@/api/queries";
import { routeTree } from "@/app/router";

export interface Asked {
  /** Method and path, as `GET /api/diary`. */
  what: string;
  query: Record<string, string>;
  body: unknown;
  /** The revision that it says it saw. */
  seen: string | null;
}
type Answer = object | null | Response | ((asked: Asked) => object | null);

/** Answers with another status than 200: what the server refuses with. */
export const refusal = (status: number, message: string, code = "refused", more: object = {}) =>
  new Response(JSON.stringify({ code, message, ...more }), { status });

export const me: Schemas["Me"] = {
  instructor: "Mara Tidewell",
  instructor_id: "i1",
  academy: "Harbour Arc",
  csrf: "token",
  manner: { language: "en", lengths: "cm", distances: "m", clock: "24" },
  role: "owner",
  rights: ["account", "watch", "diary", "fit", "teach", "rules", "own"],
  bare: false,
  apart: false,
};

/** A live channel on which nothing is said. */
class Silent {
  close() {}
}

/** Plays the server: answers by method and path. Gives the list of what was asked, which grows. What has no answer fails loudly. */
export function serve(answers: Record<string, Answer>): Asked[] {
  const asked: Asked[] = [];
  vi.stubGlobal("EventSource", Silent);
  vi.stubGlobal("fetch", async (input: Request | string) => {
    const request = typeof input === "string" ? new Request(input) : input;
    const url = new URL(request.url);
    const file = request.headers.get("content-type")?.startsWith("multipart/") ?? false;
    const text = request.method === "GET" || file ? "" : await request.text();
    const one = {
      what: `${request.method} ${url.pathname}`,
      query: Object.fromEntries(url.searchParams),
      body: text ? (JSON.parse(text) as unknown) : null,
      seen: request.headers.get("if-match"),
    };
    asked.push(one);
    const answer = ({ "GET /api/me": me, ...answers } as Record<string, Answer>)[one.what];
    if (answer === undefined) return refusal(599, `the test has no answer to ${one.what}`);
    const found = typeof answer === "function" ? answer(one) : answer;
    return found instanceof Response ? found : new Response(JSON.stringify(found), { status: 200 });
  });
  return asked;
}

/** Opens an address of the application; gives the place it has come to since. */
export function open(path: string): { at: () => string } {
  const history = createMemoryHistory({ initialEntries: [path] });
  const router = createRouter({ routeTree, history });
  render(
    <QueryClientProvider client={newQueryClient()}>
      <RouterProvider router={router as never} />
    </QueryClientProvider>,
  );
  return { at: () => history.location.pathname };
}

/** After each test. */
export function closeScreen(): void {
  cleanup();
  vi.unstubAllGlobals();
  sessionStorage.clear();
  localStorage.clear();
}
