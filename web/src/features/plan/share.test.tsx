import { QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { newQueryClient } from "@/api/queries";
import { closeScreen, refusal, serve } from "@/testing/screen";

import { ShareSheet } from "./ShareSheet";

afterEach(closeScreen);

const link = (id: string, more: Partial<Schemas["LinkOut"]> = {}): Schemas["LinkOut"] => ({
  id,
  purpose: "page",
  made_at: "2026-11-25T10:00:00Z",
  made_by: "Mara Tidewell",
  expires_at: "2026-12-25T10:00:00Z",
  open: true,
  opened: 0,
  opened_at: null,
  ...more,
});

function shown(answers: Parameters<typeof serve>[0]) {
  const asked = serve(answers);
  render(
    <QueryClientProvider client={newQueryClient()}>
      <ShareSheet open onClose={() => {}} lessonId="L" />
    </QueryClientProvider>,
  );
  return asked;
}

it("makes a link for the days that were chosen, shows it once, and as a code for a camera", async () => {
  const asked = shown({ "GET /api/lessons/L/links": [], "POST /api/lessons/L/links": { ...link("a"), path: "/s/secret" } });
  fireEvent.click(await screen.findByRole("radio", { name: "A week" }));
  fireEvent.click(screen.getByRole("button", { name: "Make the link" }));
  expect(await screen.findByText(`${window.location.origin}/s/secret`)).toBeTruthy();
  expect(asked.find((a) => a.what.startsWith("POST"))!.body).toEqual({ days: 7, purpose: "page" });
  expect(screen.getByText("It is not shown again.")).toBeTruthy();
  expect(document.querySelector("svg title")!.textContent).toMatch(/phone's camera/);
});

it("says how often each was opened, and takes one back", async () => {
  let open = true;
  const asked = shown({
    "GET /api/lessons/L/links": () => [link("a", { open, opened: 2 }), link("b", { open: false })],
    "DELETE /api/links/a": () => {
      open = false;
      return link("a", { open: false });
    },
  });
  expect((await screen.findByText(/Open until 25 Dec 2026/)).textContent).toContain("opened 2 times");
  expect(screen.getByText(/Not open any more/).textContent).toContain("not opened yet");
  fireEvent.click(screen.getByRole("button", { name: "Take back" }));
  await waitFor(() => expect(screen.queryByRole("button", { name: "Take back" })).toBe(null));
  expect(asked.some((a) => a.what === "DELETE /api/links/a")).toBe(true);
});

it("says why none can be made", async () => {
  shown({ "GET /api/lessons/L/links": [], "POST /api/lessons/L/links": refusal(409, "nothing is shared of a player without consent") });
  fireEvent.click(await screen.findByRole("button", { name: "Make the link" }));
  expect(await screen.findByText(/without consent/)).toBeTruthy();
});
