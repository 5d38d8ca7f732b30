import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import { lessonAnswers, player } from "@/testing/lesson";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

afterEach(closeScreen);

const job = (state: string, more: object = {}) => ({
  id: "j1",
  kind: "bring",
  name: "player.zip",
  state,
  done: 0,
  total: 2,
  step: "Lesson 1 of 2",
  code: "",
  message: "",
  stopping: false,
  created_at: "2026-11-25T10:00:00Z",
  ended_at: null,
  swings: [],
  ...more,
});

async function chosen() {
  fireEvent.click(await screen.findByRole("button", { name: "Bring one" }));
  const field = await screen.findByLabelText("Export of a player or a lesson");
  fireEvent.change(field, { target: { files: [new File(["PK"], "player.zip", { type: "application/zip" })] } });
}

it("brings a player from a file, says how far it is, and opens the page", async () => {
  let looked = 0;
  serve({
    ...lessonAnswers({}),
    "GET /api/players": [],
    "POST /api/players/bring": job("running"),
    "GET /api/jobs/j1": () => (looked++ ? job("done", { done: 2, player_id: "p1" }) : job("running", { done: 1 })),
    "GET /api/players/p1": { ...player(), lessons: [] },
    "GET /api/players/p1/progress": null,
  });
  const { at } = open("/players");
  await chosen();
  expect(await screen.findByText("Lesson 1 of 2 …")).toBeTruthy();
  await waitFor(() => expect(at()).toBe("/players/p1"), { timeout: 4000 });
});

it("says why a file was not taken", async () => {
  serve({ ...lessonAnswers({}), "GET /api/players": [], "POST /api/players/bring": refusal(422, "player.zip: not a zip file, or cut off.") });
  open("/players");
  await chosen();
  expect(await screen.findByText(/cut off/)).toBeTruthy();
});
