import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import { closeScreen, open, refusal, serve } from "@/testing/screen";

afterEach(closeScreen);

const session = (id: string, more: object = {}) => ({
  id,
  agent: "Chromium on Linux",
  made_at: "2026-03-02T08:00:00Z",
  seen_at: "2026-03-02T09:00:00Z",
  this: false,
  ...more,
});
const here = session("s1", { this: true });

async function account(more: Parameters<typeof serve>[0] = {}) {
  const asked = serve({ "GET /api/players": [], "GET /api/me/sessions": [here, session("s2"), session("s3", { agent: "Firefox on Windows" })], ...more });
  open("/players");
  fireEvent.click(await screen.findByRole("button", { name: "Mara" }));
  return { asked, sheet: within(await screen.findByRole("dialog")) };
}

it("lists where one is signed in, and ends each or all others", async () => {
  const { asked, sheet } = await account({ "DELETE /api/me/sessions/s3": [here, session("s2"), session("s4")], "DELETE /api/me/sessions": [here] });
  expect(await sheet.findByText("Here")).toBeTruthy();
  expect(sheet.getAllByRole("listitem")).toHaveLength(3);
  fireEvent.click(sheet.getByRole("button", { name: "End the session on Firefox on Windows" }));
  await waitFor(() => expect(sheet.queryByText("Firefox on Windows")).toBeNull());
  fireEvent.click(sheet.getByRole("button", { name: "End all others" }));
  await waitFor(() => expect(sheet.getAllByRole("listitem")).toHaveLength(1));
  expect(sheet.queryByRole("button", { name: /End/ })).toBeNull();
  expect(asked.filter((a) => a.what === "GET /api/me/sessions")).toHaveLength(1);
});

it("changes the password, and says in words what is wrong with one", async () => {
  const words = "this password is easily guessed. Take several unrelated words.";
  const answers: object[] = [refusal(409, words)];
  const { asked, sheet } = await account({ "PUT /api/me/password": () => answers.shift() ?? { ok: true } });
  fireEvent.change(sheet.getByLabelText("The present one"), { target: { value: "arc-demo" } });
  fireEvent.change(sheet.getByLabelText("The new one"), { target: { value: "passwordpassword" } });
  fireEvent.click(sheet.getByRole("button", { name: "Change it" }));
  expect((await sheet.findByRole("alert")).textContent).toContain(words);
  fireEvent.change(sheet.getByLabelText("The new one"), { target: { value: "ferry lantern walnut" } });
  fireEvent.click(sheet.getByRole("button", { name: "Change it" }));
  expect(await sheet.findByText("Your password is changed.")).toBeTruthy();
  expect(asked.filter((a) => a.what === "PUT /api/me/password").at(-1)!.body).toEqual({ old: "arc-demo", new: "ferry lantern walnut" });
});
