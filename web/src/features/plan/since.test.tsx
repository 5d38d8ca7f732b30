import { QueryClientProvider } from "@tanstack/react-query";
import { createMemoryHistory, createRootRoute, createRouter, RouterProvider } from "@tanstack/react-router";
import { render, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { newQueryClient } from "@/api/queries";
import { lesson } from "@/testing/lesson";
import { closeScreen, serve } from "@/testing/screen";

import { SinceLast } from "./SinceLast";

afterEach(closeScreen);

const since: Schemas["SinceOut"] = {
  a: "lesson:L",
  b: "lesson:K",
  metric: "lead_wrist_extension",
  moment: "top",
  verdict: "changed",
  sentence: "Since 4 Nov, lead wrist extension at the top really changed: from 40° extended to 31° extended.",
  plain_sentence: "Since 4 Nov, wrist cup at the top really changed: from 40° cupped to 31° cupped.",
};

function shown(answer: Schemas["SinceOut"] | null) {
  const asked = serve({ "GET /api/lessons/L/since": answer });
  const root = createRootRoute({ component: () => <SinceLast lesson={lesson()} words="plain" /> });
  const router = createRouter({ routeTree: root, history: createMemoryHistory() });
  render(
    <QueryClientProvider client={newQueryClient()}>
      <RouterProvider router={router as never} />
    </QueryClientProvider>,
  );
  return asked;
}

it("what came first last time is told against today, and a tap compares the two lessons", async () => {
  shown(since);
  const line = await screen.findByRole("link", { name: since.plain_sentence });
  const url = new URL(line.getAttribute("href")!, "http://x");
  expect(url.pathname).toBe("/lessons/L/compare");
  expect(Object.fromEntries(url.searchParams)).toEqual({ a: "lesson:L", b: "lesson:K", metric: "lead_wrist_extension", moment: "top" });
});

it("nothing is there without a lesson before", async () => {
  const asked = shown(null);
  await waitFor(() => expect(asked).toHaveLength(1));
  expect(screen.queryByRole("link")).toBe(null);
});
