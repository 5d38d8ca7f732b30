import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import { may } from "@/lib/rights";
import { closeScreen, me, open, refusal, serve as playServer } from "@/testing/screen";

afterEach(closeScreen);

const never = { made_at: null, verified_at: null, swings: 0, trouble: "", late: true };
const serve: typeof playServer = (answers) => playServer({ "GET /api/people/backup": never, ...answers });
const person = (name: string, more: object = {}) => ({
  id: name,
  name,
  email: `${name}@x.example`,
  role: "instructor",
  left_at: null,
  me: false,
  second_factor: false,
  ...more,
});
const choices = { owners_second_factor: false, own_players: false };
const mara = person("Mara", { role: "owner", me: true });
const staff = { people: [mara, person("Jonas")], invited: [], choices };

it("invites somebody: the link is shown once, and they are expected", async () => {
  const invited = [{ id: "v", name: "Nell", email: "n@x.example", role: "assistant", again: false, made_by: "Mara", expires_at: "2026-03-03T08:00:00Z" }];
  const asked = serve({ "GET /api/people": staff, "POST /api/people/invitations": { path: "/join/secret", staff: { ...staff, invited } } });
  open("/people");
  fireEvent.click(await screen.findByRole("button", { name: "Invite somebody" }));
  const sheet = within(await screen.findByRole("dialog"));
  fireEvent.change(sheet.getByLabelText("Name"), { target: { value: "Nell" } });
  fireEvent.change(sheet.getByLabelText(/^E-mail/), { target: { value: "n@x.example" } });
  fireEvent.change(sheet.getByLabelText(/^Role/), { target: { value: "assistant" } });
  fireEvent.click(sheet.getByRole("button", { name: "Make the link" }));
  expect(await screen.findByText(/\/join\/secret$/)).toBeTruthy();
  expect(asked.find((a) => a.what === "POST /api/people/invitations")!.body).toEqual({ name: "Nell", email: "n@x.example", role: "assistant" });
  fireEvent.click(within(screen.getByRole("dialog")).getByRole("button", { name: "Close" }));
  expect(await screen.findByText(/^Comes as assistant, until/)).toBeTruthy();
});

it("shuts somebody out only when that was said twice", async () => {
  const left = { people: [mara, person("Jonas", { left_at: "2026-03-02T08:00:00Z" })], invited: [], choices };
  const asked = serve({ "GET /api/people": staff, "POST /api/instructors/Jonas/left": left });
  open("/people");
  const jonas = within(await screen.findByRole("listitem", { name: "Jonas" }));
  fireEvent.click(jonas.getByRole("button", { name: "Leaves …" }));
  expect(asked.some((a) => a.what.endsWith("/left"))).toBe(false);
  fireEvent.click(jonas.getByRole("button", { name: "Shut out" }));
  expect(await jonas.findByText(/^Left /)).toBeTruthy();
  expect(jonas.getByRole("button", { name: "Let come back" })).toBeTruthy();
});

it("says in words why the last owner stays", async () => {
  serve({ "GET /api/people": staff, "PUT /api/instructors/Mara/role": refusal(409, "Mara is the last owner. Make somebody else an owner first.") });
  open("/people");
  const row = within(await screen.findByRole("listitem", { name: "Mara" }));
  fireEvent.change(row.getByLabelText("Role of Mara"), { target: { value: "viewer" } });
  expect(await row.findByText(/the last owner/)).toBeTruthy();
  expect(row.getByLabelText<HTMLSelectElement>("Role of Mara").value).toBe("owner");
});

it("reads the log a page at a time, of one person where asked", async () => {
  const line = (k: number) => ({
    id: `l${k}`,
    at: `2026-03-02T08:00:${String(k % 60).padStart(2, "0")}Z`,
    who: "Jonas",
    what: "player",
    how: "opened",
    fields: "",
    player: "Ilse",
    player_id: "p",
  });
  const first = Array.from({ length: 100 }, (_, k) => line(k));
  const pages: object[] = [first, [{ ...line(0), id: "last", how: "exported" }]];
  const asked = serve({ "GET /api/people": staff, "GET /api/people/log": () => pages.shift() ?? [] });
  open("/people");
  fireEvent.click(await screen.findByRole("radio", { name: "The log" }));
  expect(await screen.findAllByText("player opened")).toHaveLength(100);
  fireEvent.click(screen.getByRole("button", { name: "Earlier" }));
  expect(await screen.findByText("player exported")).toBeTruthy();
  await waitFor(() => expect(screen.queryByRole("button", { name: "Earlier" })).toBeNull());
  expect(asked.filter((a) => a.what === "GET /api/people/log")).toHaveLength(2);
});

it("a viewer is led to the bays, and no control leads elsewhere", async () => {
  serve({ "GET /api/me": { ...me, role: "viewer", rights: ["account", "watch"] }, "GET /api/bays": { bays: [] } });
  const { at } = open("/");
  expect(await screen.findByRole("heading", { name: "Bays" })).toBeTruthy();
  expect(at()).toBe("/bays");
  for (const name of ["Today", "Diary", "Players", "Search", "Benchmarks"]) expect(screen.queryByRole("link", { name })).toBeNull();
});

it("takes a password with a link, and says what is wrong with one that is over", async () => {
  const told = { academy: "Harbour Arc", name: "Nell", email: "n@x.example", role: "assistant", again: false };
  serve({ "GET /api/invitations/secret": told, "POST /api/invitations/secret": { ok: true } });
  open("/join/secret");
  fireEvent.change(await screen.findByLabelText(/^A password/), { target: { value: "ferry lantern walnut" } });
  fireEvent.click(screen.getByRole("button", { name: "Take it" }));
  expect(await screen.findByRole("heading", { name: "That is it, Nell." })).toBeTruthy();
  closeScreen();
  serve({ "GET /api/invitations/old": refusal(404, "gone", "not_found") });
  open("/join/old");
  expect(await screen.findByRole("heading", { name: "This link works no more." })).toBeTruthy();
});

it("knows what whoever is signed in may do", () => {
  expect(may({ rights: ["account", "diary"] }, "diary")).toBe(true);
  expect(may({ rights: ["account", "diary"] }, "teach")).toBe(false);
  expect(may(undefined, "own")).toBe(true);
});

it("asks of the academy's people what their owner chooses, and says why not", async () => {
  const answers: object[] = [refusal(409, "you have no second factor yourself. Set yours up first."), { ...staff, choices: { ...choices, own_players: true } }];
  const asked = serve({ "GET /api/people": staff, "PUT /api/people/choices": () => answers.shift() ?? staff });
  open("/people");
  fireEvent.click(await screen.findByRole("checkbox", { name: "Owners sign in with a second factor" }));
  expect((await screen.findByRole("alert")).textContent).toContain("Set yours up first");
  const own = screen.getByRole<HTMLInputElement>("checkbox", { name: "Instructors open their own players only" });
  fireEvent.click(own);
  await waitFor(() => expect(own.checked).toBe(true));
  expect(asked.filter((a) => a.what === "PUT /api/people/choices").map((a) => a.body)).toEqual([
    { ...choices, owners_second_factor: true },
    { ...choices, own_players: true },
  ]);
});

it("takes the second factor off whoever lost their phone, not off oneself", async () => {
  const both = [person("Mara", { role: "owner", me: true, second_factor: true }), person("Jonas", { second_factor: true })];
  const asked = serve({ "GET /api/people": { ...staff, people: both }, "POST /api/instructors/Jonas/lost-phone": staff });
  open("/people");
  const jonas = within(await screen.findByRole("listitem", { name: "Jonas" }));
  expect(screen.getAllByRole("button", { name: "Lost phone" })).toHaveLength(1);
  fireEvent.click(jonas.getByRole("button", { name: "Lost phone" }));
  await waitFor(() => expect(jonas.queryByRole("button", { name: "Lost phone" })).toBeNull());
  expect(asked.some((a) => a.what.endsWith("/lost-phone"))).toBe(true);
});

const forEver = { raw_months: 0, lessons_months: 0, walk_ins_days: 0 };
const nothing = { raw: 0, lessons: 0, players: 0, walk_ins: 0, names: [], oldest: null, newest: null, count: 0 };
const undecided = { periods: forEver, holds_from: null, would_go: nothing };

async function kept() {
  open("/people");
  fireEvent.click(await screen.findByRole("radio", { name: "What is kept" }));
}

it("shows what a period would let go before it is chosen, and chooses what was seen", async () => {
  const old = { ...nothing, lessons: 2, players: 1, names: ["Ilse", "Bo"], oldest: "2023-01-02T09:00:00Z", newest: "2023-05-02T09:00:00Z", count: 3 };
  const asked = serve({
    "GET /api/people": staff,
    "GET /api/people/periods": undecided,
    "GET /api/people/periods/preview": ({ query }) => (query.lessons_months === "24" ? old : nothing),
    "PUT /api/people/periods": { ...undecided, periods: { ...forEver, lessons_months: 24 }, holds_from: "2999-01-01T00:00:00Z" },
  });
  await kept();
  expect(await screen.findByText("Today nothing would go.")).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Keep it so long" })).toBeNull();
  fireEvent.change(screen.getByLabelText(/^Lessons with what/), { target: { value: "24" } });
  expect(await screen.findByText(/2 lessons, 1 player without any lesson left\./)).toBeTruthy();
  expect(screen.getByText(/^Of Ilse, Bo; from 2 January 2023 to 2 May 2023\.$/)).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Keep it so long" }));
  expect(await screen.findByText(/Until then nothing goes\./)).toBeTruthy();
  expect(asked.find((a) => a.what === "PUT /api/people/periods")!.body).toEqual({ ...forEver, lessons_months: 24, seen: 3 });
});

it("says how old the last backup is that was tried out, and what to do where there is none", async () => {
  const made = { ...never, made_at: "2026-03-02T02:00:00Z", verified_at: "2026-03-02T02:05:00Z", swings: 166, late: false };
  serve({ "GET /api/people/periods": undecided, "GET /api/people/periods/preview": nothing, "GET /api/people": staff });
  await kept();
  expect(await screen.findByText(/Nothing is backed up\./)).toBeTruthy();
  closeScreen();
  serve({ "GET /api/people/periods": undecided, "GET /api/people/periods/preview": nothing, "GET /api/people": staff, "GET /api/people/backup": made });
  await kept();
  expect(await screen.findByText(/Restored on trial and found equal .* The last one holds 166 swings\./)).toBeTruthy();
  expect(screen.queryByRole("alert")).toBeNull();
  closeScreen();
  serve({
    "GET /api/people/periods": undecided,
    "GET /api/people/periods/preview": nothing,
    "GET /api/people": staff,
    "GET /api/people/backup": { ...made, late: true, trouble: "Backup: the disk of /mnt is full." },
  });
  await kept();
  expect((await screen.findByRole("alert")).textContent).toContain("the disk of /mnt is full");
});
