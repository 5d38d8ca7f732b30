import { act, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import { connection } from "@/api/connection";
import { settings } from "@/lib/settings";
import { closeScreen, me, open, refusal, serve } from "@/testing/screen";

import { keysFor } from "./Help";

afterEach(closeScreen);

const diary = { day: "2026-03-02", today: "2026-03-02", time_zone: "UTC", lessons: [], instructors: [], bays: [], free: [], left_open: [] };
const key = (name: string) => fireEvent.keyDown(document.body, { key: name });

describe("the door", () => {
  it("asks who is there, says what is wrong, and opens what was asked for", async () => {
    let right = false;
    const asked = serve({
      "GET /api/me": refusal(401, "Sign in first.", "not_signed_in"),
      "GET /api/players": [],
      "POST /api/sign-in": () => (right ? me : refusal(403, "E-mail or password is wrong.")),
    });
    open("/players");
    fireEvent.change(await screen.findByLabelText("E-mail"), { target: { value: "mara@harbour.example" } });
    fireEvent.change(screen.getByLabelText("Password"), { target: { value: "wrong" } });
    fireEvent.click(screen.getByRole("button", { name: "Sign in" }));
    expect((await screen.findByRole("alert")).textContent).toContain("E-mail or password is wrong.");
    expect(screen.getByLabelText<HTMLInputElement>("E-mail").value).toBe("mara@harbour.example");
    right = true;
    fireEvent.change(screen.getByLabelText("Password"), { target: { value: "right" } });
    fireEvent.click(screen.getByRole("button", { name: "Sign in" }));
    expect(await screen.findByRole("heading", { name: "Players" })).toBeTruthy();
    expect(asked.filter((a) => a.what === "POST /api/sign-in").map((a) => a.body)).toEqual([
      { email: "mara@harbour.example", password: "wrong", end_others: false, code: "" },
      { email: "mara@harbour.example", password: "right", end_others: false, code: "" },
    ]);
  });

  it("a sign-in that runs out is renewed over the screen, and what waited goes through with the new one", async () => {
    let known = true;
    const asked = serve({
      "GET /api/diary": diary,
      "GET /api/players": ({ query }) =>
        known ? [{ id: "p", name: query.q ? "Found" : "All", handedness: "right", population: "adult", consent: true }] : refusal(401, "no", "not_signed_in"),
      "POST /api/sign-in": () => {
        known = true;
        return { ...me, csrf: "newer" };
      },
    });
    open("/players");
    await screen.findByText("All");
    known = false;
    fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: "fo" } });
    const again = within(await screen.findByRole("dialog", { name: /Your sign-in has run out, Mara Tidewell/ }));
    fireEvent.keyDown(document.activeElement ?? document.body, { key: "Escape" }); // nothing behind it works yet
    expect(screen.getByRole("dialog")).toBeTruthy();
    fireEvent.change(again.getByLabelText("E-mail"), { target: { value: "mara@harbour.example" } });
    fireEvent.change(again.getByLabelText("Password"), { target: { value: "arc" } });
    fireEvent.click(again.getByRole("button", { name: "Sign in" }));
    expect(await screen.findByText("Found")).toBeTruthy();
    expect(screen.queryByRole("dialog")).toBeNull();
    expect(screen.getByLabelText<HTMLInputElement>("Find by name").value).toBe("fo");
    expect(asked.filter((a) => a.what === "GET /api/players").map((a) => a.query.q)).toEqual(["", "fo", "fo"]);
    expect(connection.get().expired).toBe(false);
  });

  it("a server in trouble is not taken for a stranger", async () => {
    serve({ "GET /api/me": () => refusal(503, "The store does not answer.") });
    open("/");
    expect((await screen.findByRole("alert")).textContent).toContain("The store does not answer.");
    expect(screen.queryByLabelText("Password")).toBeNull();
  });

  it("an address that leads nowhere says so", async () => {
    serve({});
    open("/nowhere");
    expect(await screen.findByText("There is nothing here.")).toBeTruthy();
  });
});

describe("help and settings", () => {
  it("open with a key, are kept on this device, and d changes light and dark", async () => {
    serve({ "GET /api/diary": diary });
    open("/");
    await screen.findByText("Nobody is booked.");
    key("?");
    const sheet = within(await screen.findByRole("dialog", { name: "Keys and settings" }));
    fireEvent.click(sheet.getByRole("radio", { name: "Extended, flexed" }));
    fireEvent.click(sheet.getByRole("radio", { name: "the left hand" }));
    fireEvent.click(within(sheet.getByRole("radiogroup", { name: "Sounds" })).getByRole("radio", { name: "Off" }));
    expect(settings()).toMatchObject({ words: "standard", bar: "left", sound: false });
    fireEvent.click(sheet.getByRole("radio", { name: "Dark" }));
    expect(document.documentElement.dataset.theme).toBe("dark");
    fireEvent.keyDown(document.activeElement ?? document.body, { key: "Escape" });
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    act(() => void key("d"));
    expect(settings().theme).toBe("light");
  });

  it("the question mark in the top line does the same", async () => {
    serve({ "GET /api/diary": diary });
    open("/");
    fireEvent.click(await screen.findByRole("button", { name: "Keys and settings" }));
    expect(await screen.findByRole("dialog", { name: "Keys and settings" })).toBeTruthy();
  });
});

it("help begins with the keys of the view that is open", () => {
  expect(keysFor("/lessons/a/plan").map(([where]) => where)).toEqual([
    "Here, in Plan",
    "Everywhere",
    "In Swing",
    "In Diary",
    "In Putting",
    "In Compare",
    "In Table",
    "In Capture",
    "In Live",
    "In Train",
    "In Search",
    "In Show",
  ]);
  expect(keysFor("/lessons/a/swings/b")[0]![1][0]).toEqual(["← →", "checkpoint before / after"]);
  expect(keysFor("/players").map(([where]) => where)[0]).toBe("Everywhere");
});
