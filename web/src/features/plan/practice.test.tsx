import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { QueryClientProvider } from "@tanstack/react-query";
import { afterEach, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { newQueryClient } from "@/api/queries";
import { closeScreen, refusal, serve } from "@/testing/screen";

import { feedbackSaid } from "./PracticeDays";
import { PracticeSheet } from "./PracticeSheet";

afterEach(closeScreen);

const plan = (more: Partial<Schemas["PracticeOut"]> = {}): Schemas["PracticeOut"] => ({
  id: "p1",
  revision: "r1",
  first: "2026-03-03",
  last: "2026-03-16",
  minutes: { "0": 20 },
  place: "range",
  equipment: null,
  blocks: [
    {
      number: 0,
      day: "2026-03-09",
      minutes: 20,
      drills: [{ id: "peg", label: "Peg in the glove", how: "Slip a peg under the strap.", feel: "", caution: "", dose: "Ten." }],
      feedback: 1,
      why: ["The first one: soon after the lesson, while the feel is fresh."],
      done: false,
      feel: null,
      pain_free: false,
    },
  ],
  withheld: [],
  broken: [],
  stopped: "",
  dropped: 0,
  room: "any speed",
  today: "2026-03-02",
  ...more,
});
/** Days have places in a page; jsdom lays nothing out. */
async function byKeys(held: HTMLElement, codes: string[]): Promise<void> {
  const days = screen.getAllByRole("listitem");
  days.forEach((day, k) => (day.getBoundingClientRect = () => new DOMRect(0, 50 * k, 500, 50)));
  const at = days.findIndex((day) => day.contains(held));
  held.parentElement!.getBoundingClientRect = () => new DOMRect(100, 50 * at, 400, 50);
  held.focus();
  for (const code of codes) {
    fireEvent.keyDown(document.activeElement ?? held, { code });
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
}
const shown = (answers: Parameters<typeof serve>[0]) => {
  const asked = serve(answers);
  render(
    <QueryClientProvider client={newQueryClient()}>
      <PracticeSheet open onClose={() => undefined} lessonId="l1" />
    </QueryClientProvider>,
  );
  return asked;
};

it("asks for days and place, makes the plan and says why", async () => {
  const asked = shown({ "GET /api/lessons/l1/practice": { plan: null, equipment: ["an alignment stick"] }, "PUT /api/lessons/l1/practice": plan() });
  fireEvent.change(await screen.findByLabelText("Minutes on Tuesday"), { target: { value: "30" } });
  fireEvent.change(screen.getByLabelText("Minutes on Monday"), { target: { value: "0" } });
  fireEvent.click(screen.getByRole("radio", { name: "Garage" }));
  fireEvent.click(screen.getByRole("button", { name: "Make the plan" }));
  fireEvent.click(await screen.findByRole("button", { name: /^Monday 9 Mar/ }));
  screen.getByText(/while the feel is fresh/);
  expect(asked.find((a) => a.what.startsWith("PUT"))!.body).toEqual({
    minutes: { "1": 30, "2": 20, "4": 20, "6": 20 },
    place: "garage",
    equipment: null,
    last: null,
  });
});

it("moves a block and says what that breaks", async () => {
  const broken = [{ rule: "minutes" as const, day: "2026-03-11", words: "40 minutes on Wednesday, where there are 20." }];
  const asked = shown({ "GET /api/lessons/l1/practice": { plan: plan(), equipment: [] }, "POST /api/lessons/l1/practice/moved": plan({ broken }) });
  const held = await screen.findByRole("button", { name: /^Move Peg in the glove/ });
  await byKeys(held, ["Space", "ArrowDown", "Space"]);
  await screen.findByText(/40 minutes on Wednesday/);
  expect(asked.find((a) => a.what.endsWith("/moved"))!.body).toEqual({ number: 0, to: "2026-03-10" });
});

it("leaves out what is not there", async () => {
  const asked = shown({
    "GET /api/lessons/l1/practice": { plan: null, equipment: ["a mirror", "an alignment stick"] },
    "PUT /api/lessons/l1/practice": plan(),
  });
  fireEvent.click(await screen.findByRole("checkbox", { name: "a mirror" }));
  fireEvent.click(screen.getByRole("button", { name: "Make the plan" }));
  await screen.findByText(/1 blocks/);
  expect(asked.find((a) => a.what.startsWith("PUT"))!.body).toMatchObject({ equipment: ["an alignment stick"] });
});

it("shows what the player ticked, and how it felt", async () => {
  const done = { ...plan().blocks[0]!, done: true, feel: 4 };
  shown({ "GET /api/lessons/l1/practice": { plan: plan({ blocks: [done] }), equipment: [] } });
  await screen.findByText(/done, felt 4 of 5/);
  expect(screen.queryByRole("button", { name: /^Move/ })).toBeNull();
});

it("stops with pain and says whom to see", async () => {
  const stopped = "Pain on 02 March: the plan stops. Any pain: stop, and see a licensed health professional.";
  shown({ "GET /api/lessons/l1/practice": { plan: plan(), equipment: [] }, "POST /api/lessons/l1/practice/pain": plan({ blocks: [], stopped }) });
  fireEvent.click(await screen.findByRole("button", { name: "Pain: stop it" }));
  await screen.findByText(stopped);
  await waitFor(() => expect(screen.queryByRole("button", { name: "Pain: stop it" })).toBeNull());
});

it("says why nothing can be planned", async () => {
  const words = "Nothing can be practised: no priority has a drill. Choose another drill in the lesson's plan.";
  shown({ "GET /api/lessons/l1/practice": { plan: null, equipment: ["an alignment stick"] }, "PUT /api/lessons/l1/practice": refusal(422, words, "no_plan") });
  fireEvent.click(await screen.findByRole("button", { name: "Make the plan" }));
  await screen.findByText(words);
});

it("says how much feedback there is", () => {
  expect([0, 0.5, 1].map(feedbackSaid)).toEqual(["no feedback", "feedback 50 %", "feedback each time"]);
});
