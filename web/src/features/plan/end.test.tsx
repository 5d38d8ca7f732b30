import { QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";

import { newQueryClient } from "@/api/queries";
import { lesson, player } from "@/testing/lesson";
import { closeScreen, refusal, serve } from "@/testing/screen";

import { EndSheet } from "./EndSheet";

const navigate = vi.hoisted(() => vi.fn());
vi.mock("@tanstack/react-router", async (original) => ({ ...(await original<object>()), useNavigate: () => navigate }));

afterEach(() => {
  closeScreen();
  navigate.mockClear();
});

const chosen = [{ finding: "f", drill: "d", why: "w", override_reason: "" }] as never;
const ending = (its: Parameters<typeof lesson>[0], answer: () => object) => {
  const onClose = vi.fn();
  const asked = serve({ "POST /api/lessons/L/close": answer });
  render(
    <QueryClientProvider client={newQueryClient()}>
      <EndSheet open onClose={onClose} lesson={lesson(its)} chosen={chosen} />
    </QueryClientProvider>,
  );
  return { asked, onClose };
};

it("ends with what was chosen, one note and the next day, and stays in the lesson", async () => {
  const { asked, onClose } = ending({ note: "Slower." }, () => ({ kept: true }));
  expect(screen.getByLabelText<HTMLTextAreaElement>("One note").value).toBe("Slower.");
  fireEvent.change(screen.getByLabelText("One note"), { target: { value: "Slower, then home." } });
  fireEvent.change(screen.getByLabelText("Next lesson"), { target: { value: "2026-03-09" } });
  fireEvent.click(screen.getByRole("button", { name: "End now" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(asked[0]!.body).toEqual({ priorities: chosen, note: "Slower, then home.", next_date: "2026-03-09" });
  expect(navigate).not.toHaveBeenCalled();
});

it("a walk-in without consent is told that all goes, and is led to today once it has gone", async () => {
  const { asked } = ending({ player: player({ name: "", walk_in: true, consent: false }) }, () => ({ kept: false }));
  expect(screen.getByText("Nobody has consented:").parentElement!.textContent).toContain("erases everything captured");
  fireEvent.click(screen.getByRole("button", { name: "End and erase" }));
  await waitFor(() => expect(navigate).toHaveBeenCalledWith({ to: "/" }));
  expect((asked[0]!.body as { next_date: null }).next_date).toBeNull();
});

it("a walk-in who consented is not threatened with it", () => {
  ending({ player: player({ walk_in: true, consent: true }) }, () => ({ kept: true }));
  expect(screen.queryByText("Nobody has consented:")).toBeNull();
});

it("a note that somebody wrote meanwhile is not written over: both are kept", async () => {
  const theirs = { note: "From Ines.", next_date: null, priorities: [] };
  const answers = [new Response(JSON.stringify({ code: "changed_meanwhile", message: "Ines Vale changed this.", theirs, revision: "r2" }), { status: 412 })];
  const { asked, onClose } = ending({}, () => answers.shift() ?? { kept: true });
  fireEvent.change(screen.getByLabelText("One note"), { target: { value: "Mine." } });
  fireEvent.click(screen.getByRole("button", { name: "End now" }));
  expect(await screen.findByText("Ines Vale changed this.")).toBeTruthy();
  fireEvent.click(screen.getByRole("radio", { name: /Both/ }));
  fireEvent.click(screen.getByRole("button", { name: "Save what is chosen" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(asked.map((a) => a.seen)).toEqual(['"r1"', '"r2"', null].slice(0, asked.length));
  expect(asked[1]!.body).toMatchObject({ note: "From Ines.\nMine.", priorities: chosen });
});

it("what is refused is said, and the note stays", async () => {
  const { onClose } = ending({}, () => refusal(409, "A capture is running; stop it first."));
  fireEvent.change(screen.getByLabelText("One note"), { target: { value: "Kept." } });
  fireEvent.click(screen.getByRole("button", { name: "End now" }));
  expect((await screen.findByRole("alert")).textContent).toContain("A capture is running; stop it first.");
  expect(screen.getByLabelText<HTMLTextAreaElement>("One note").value).toBe("Kept.");
  expect(onClose).not.toHaveBeenCalled();
});
