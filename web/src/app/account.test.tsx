import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import { closeScreen, me, open, refusal, serve } from "@/testing/screen";

afterEach(closeScreen);

const session = (id: string, more: object = {}) => ({
  id,
  agent: "Chromium on Linux",
  made_at: "2026-03-02T08:00:00Z",
  seen_at: "2026-03-02T09:00:00Z",
  this: false,
  ...more,
});
const none = { since: null, paper_left: 0, asked: false };
const on = { since: "2026-03-02T08:00:00Z", paper_left: 10, asked: false };
const here = session("s1", { this: true });

async function account(more: Parameters<typeof serve>[0] = {}) {
  const asked = serve({
    "GET /api/players": [],
    "GET /api/me/second-factor": none,
    "GET /api/me/sessions": [here, session("s2"), session("s3", { agent: "Firefox on Windows" })],
    ...more,
  });
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

it("sets up a second factor: password, picture, code, and the codes for paper until they are put away", async () => {
  const offer = { secret: "JBSWY3DPEHPK3PXP", uri: "otpauth://totp/x", rows: ["101", "010", "101"] };
  const answers: object[] = [refusal(401, "This code is not right.", "wrong_code"), { codes: ["abcd-efgh", "ijkl-mnop"], factor: on }];
  const { asked, sheet } = await account({
    "POST /api/me/second-factor/offer": offer,
    "POST /api/me/second-factor/confirm": () => answers.shift() ?? null,
  });
  fireEvent.click(await sheet.findByRole("button", { name: "Set up my phone" }));
  fireEvent.change(sheet.getByLabelText("Your password once more"), { target: { value: "arc-demo" } });
  fireEvent.click(sheet.getByRole("button", { name: "Go on" }));
  const picture = await sheet.findByRole("img", { name: "A code for your phone" });
  expect(picture.querySelector("path")!.getAttribute("d")!.match(/M/g)).toHaveLength(5);
  expect(sheet.getByText("JBSW Y3DP EHPK 3PXP")).toBeTruthy();
  for (const typed of ["000000", "123456"]) {
    fireEvent.change(sheet.getByLabelText("The code"), { target: { value: typed } });
    fireEvent.click(sheet.getByRole("button", { name: "Use it from now on" }));
    if (typed === "000000") expect((await sheet.findByRole("alert")).textContent).toContain("not right");
  }
  expect(await sheet.findByText("ijkl-mnop")).toBeTruthy();
  fireEvent.click(sheet.getByRole("button", { name: "I have them on paper" }));
  expect(sheet.queryByText("ijkl-mnop")).toBeNull();
  expect(sheet.getByText(/10 codes are left on your paper/)).toBeTruthy();
  expect(asked.filter((a) => a.what.endsWith("/confirm")).map((a) => a.body)).toEqual([{ code: "000000" }, { code: "123456" }]);
});

it("asks for the code when the password was right, and for nothing else then", async () => {
  const answers: object[] = [refusal(401, "Now the six digits", "code_needed"), me];
  const asked = serve({
    "GET /api/me": refusal(401, "Not signed in", "not_signed_in"),
    "POST /api/sign-in": () => answers.shift() ?? null,
    "GET /api/players": [],
  });
  open("/players");
  fireEvent.change(await screen.findByLabelText("E-mail"), { target: { value: "m@x.example" } });
  fireEvent.change(screen.getByLabelText(/^Password/), { target: { value: "arc-demo" } });
  fireEvent.click(screen.getByRole("button", { name: "Sign in" }));
  const code = await screen.findByLabelText(/^The code/);
  expect(screen.queryByLabelText(/^Password/)).toBeNull();
  expect(screen.queryByRole("alert")).toBeNull();
  fireEvent.change(code, { target: { value: "123 456" } });
  fireEvent.click(screen.getByRole("button", { name: "Sign in" }));
  expect(await screen.findByRole("heading", { name: "Players" })).toBeTruthy();
  expect(asked.filter((a) => a.what === "POST /api/sign-in").at(-1)!.body).toMatchObject({ email: "m@x.example", password: "arc-demo", code: "123 456" });
});

it("opens nothing to an owner whose academy asks for a second factor before it is set up", async () => {
  serve({ "GET /api/me": { ...me, bare: true }, "GET /api/me/second-factor": { ...none, asked: true } });
  open("/players");
  expect(await screen.findByRole("heading", { name: "One more thing, Mara." })).toBeTruthy();
  expect(await screen.findByRole("button", { name: "Set up my phone" })).toBeTruthy();
  expect(screen.queryByRole("link", { name: "Players" })).toBeNull();
});
