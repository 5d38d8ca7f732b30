/** @jsxImportSource preact */
import { render } from "preact";
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { dayHere, type Answer, type Page } from "./answers";
import { Practice } from "./Practice";

const today = dayHere();
const later = (days: number) => dayHere(new Date(Date.now() + days * 86_400_000));
const block = (number: number, day: string) => ({
  number,
  day,
  minutes: 20,
  drills: [{ id: "peg", label: "Peg in the glove", how: "Slip a peg under the strap.", feel: "Flat hand.", caution: "Slowly at first.", dose: "Ten." }],
  feedback: 1,
  why: ["One thing alone while it is new."],
  done: false,
  feel: null,
  pain_free: false,
});
const page = (): Page => ({
  player: "Ilse",
  manner: { language: "en", lengths: "cm", distances: "m", clock: "24" },
  plan: {
    id: "7e4a1c52-1f7b-4a54-9b57-0d7c3c0f7a11",
    revision: "r",
    first: later(-2),
    last: later(5),
    minutes: {},
    place: "garage",
    equipment: null,
    blocks: [block(0, today), block(1, later(2))],
    withheld: [],
    broken: [],
    stopped: "",
    dropped: 0,
    room: "slow and half swings",
    today,
  },
  days: {
    "0": [
      { day: later(2), breaks: ["40 minutes on that day, where there are 20."] },
      { day: later(3), breaks: [] },
    ],
    "1": [],
  },
  not_done: [],
  when_it_hurts: "The plan stops here. See a licensed health professional.",
});

/** A server that is there or not; keeps what it was told, by key, once. */
function server() {
  const told = new Map<string, Answer>();
  const state = { online: true, status: 200, calls: 0, told };
  vi.stubGlobal("fetch", (_: string, init: RequestInit = {}) => {
    state.calls += 1;
    if (!state.online) return Promise.reject(new TypeError("no connection"));
    if (init.method === "POST") for (const a of (JSON.parse(String(init.body)) as { answers: Answer[] }).answers) told.set(a.key, a);
    const shown = page();
    const done = [...told.values()].filter((a) => a.kind === "done").map((a) => a.block);
    shown.plan!.blocks = shown.plan!.blocks.map((b) => ({ ...b, done: done.includes(b.number) }));
    return Promise.resolve(new Response(JSON.stringify(state.status === 200 ? shown : { message: "gone" }), { status: state.status }));
  });
  return state;
}

let root: HTMLElement;
const open = () => {
  root = document.createElement("div");
  document.body.append(root);
  render(<Practice token="t0ken" />, root);
};
const close = () => {
  render(null, root);
  root.remove();
};
beforeEach(() => {
  window.localStorage.clear();
  window.scrollTo = () => undefined;
  Element.prototype.scrollIntoView = () => undefined;
});
afterEach(() => {
  close();
  vi.unstubAllGlobals();
});

it("shows today's block with drill, feel, caution and dose, and a tick goes through", async () => {
  const there = server();
  open();
  await screen.findByRole("heading", { name: "Today" });
  for (const words of ["Peg in the glove", "Slip a peg under the strap.", "Flat hand.", "Slowly at first.", "Ten."])
    screen.getAllByText(words, { exact: false });
  fireEvent.click(screen.getByRole("button", { name: "Done" }));
  await screen.findByText("How did it feel?");
  await waitFor(() => expect([...there.told.values()].map((a) => [a.kind, a.block])).toEqual([["done", 0]]));
});

it("keeps what was said without a connection, over a reload, and sends it once", async () => {
  const there = server();
  open();
  await screen.findByRole("button", { name: "Done" });
  there.online = false;
  fireEvent.click(screen.getByRole("button", { name: "Done" }));
  fireEvent.click(await screen.findByRole("button", { name: "4" }));
  await screen.findByText(/Not connected. What you said is kept here/);
  close();
  open();
  await screen.findByRole("button", { name: /Done. Take it back/ });
  expect(there.told.size).toBe(0);
  there.online = true;
  window.dispatchEvent(new Event("online"));
  await waitFor(() =>
    expect([...there.told.values()].map((a) => [a.kind, a.feel])).toEqual([
      ["done", undefined],
      ["felt", 4],
    ]),
  );
  await waitFor(() => expect(screen.queryByText(/Not connected/)).toBeNull());
  const calls = there.calls;
  window.dispatchEvent(new Event("online"));
  await waitFor(() => expect(there.calls).toBe(calls + 1));
  expect(there.told.size).toBe(2);
});

it("moves a block, and says beforehand what that breaks", async () => {
  const there = server();
  open();
  fireEvent.click(await screen.findByRole("button", { name: "Another day" }));
  await screen.findByText(/Against the plan: 40 minutes on that day/);
  fireEvent.click(
    screen
      .getAllByRole("listitem")
      .find((li) => !li.textContent.includes("Against"))!
      .querySelector("button")!,
  );
  await waitFor(() => expect([...there.told.values()].map((a) => [a.kind, a.to])).toEqual([["moved", later(3)]]));
});

it("stops at once when it hurts, also without a connection", async () => {
  const there = server();
  open();
  await screen.findByRole("button", { name: "Done" });
  there.online = false;
  fireEvent.click(screen.getByRole("button", { name: "It hurts" }));
  fireEvent.click(await screen.findByRole("button", { name: "lower back" }));
  await screen.findByText(/The plan stops here. See a licensed health professional/);
  expect(screen.queryByRole("button", { name: "Done" })).toBeNull();
});

it("forgets everything when the link opens nothing any more", async () => {
  const there = server();
  open();
  await screen.findByRole("button", { name: "Done" });
  there.status = 404;
  window.dispatchEvent(new Event("online"));
  await screen.findByText("This link opens nothing any more.");
  expect(window.localStorage.length).toBe(0);
});

it("does not hang on an answer that is refused", async () => {
  const there = server();
  open();
  await screen.findByRole("button", { name: "Done" });
  there.status = 422;
  fireEvent.click(screen.getByRole("button", { name: "Done" }));
  await screen.findByText("gone");
  expect((JSON.parse(window.localStorage.getItem("practice:t0ken")!) as { waiting: unknown[] }).waiting).toEqual([]);
});

it("leaves a block out that no drill suits any more", async () => {
  const shown = page();
  shown.plan!.blocks[0]!.drills = [];
  vi.stubGlobal("fetch", () => Promise.resolve(new Response(JSON.stringify(shown))));
  open();
  await screen.findByText(/Leave this one out: your instructor looks at it again first/);
});
