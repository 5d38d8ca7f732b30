import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { connection, NotSent, patiently } from "./connection";

const ok = () => new Response("{}", { status: 200 });
const at = (path: string, init?: RequestInit) => new Request(`http://here${path}`, init);
const prepared = vi.fn();
let answers: (() => Promise<Response>)[] = [];
let sent: string[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  prepared.mockClear();
  sent = [];
  vi.stubGlobal(
    "fetch",
    vi.fn((request: Request | string) => {
      const path = typeof request === "string" ? request : new URL(request.url).pathname;
      sent.push(path);
      return (answers.shift() ?? (() => Promise.resolve(ok())))();
    }),
  );
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  answers = [];
});

const gone = () => Promise.reject(new TypeError("Failed to fetch"));
const unknown = () => Promise.resolve(new Response("{}", { status: 401 }));

it("waits while nothing answers, says so, and goes through when it does", async () => {
  answers = [gone, gone, gone];
  const seen: boolean[] = [];
  const stop = connection.subscribe(() => seen.push(connection.get().lost));
  const answer = patiently(at("/api/swings/1", { method: "PATCH", body: "{}" }), prepared);
  await vi.advanceTimersByTimeAsync(5000);
  expect((await answer).status).toBe(200);
  expect(sent).toEqual(["/api/swings/1", "/readyz", "/readyz", "/readyz", "/api/swings/1"]);
  expect(seen).toEqual([true, false]);
  stop();
});

it("says that the database is away, waits for it and goes through", async () => {
  const away = () => Promise.resolve(new Response(JSON.stringify({ code: "database" }), { status: 503 }));
  const busy = () => Promise.resolve(new Response("", { status: 503 }));
  answers = [away, busy];
  const seen: boolean[] = [];
  const stop = connection.subscribe(() => seen.push(connection.get().away));
  const answer = patiently(at("/api/swings/1", { method: "PATCH", body: "{}" }), prepared);
  await vi.advanceTimersByTimeAsync(5000);
  expect((await answer).status).toBe(200);
  expect(sent).toEqual(["/api/swings/1", "/readyz", "/readyz", "/api/swings/1"]);
  expect(seen).toEqual([true, false]);
  stop();
});

it("what might be done twice is not sent again when the database comes back: its answer is given", async () => {
  answers = [() => Promise.resolve(new Response(JSON.stringify({ code: "database" }), { status: 503 }))];
  const answer = await patiently(at("/api/players", { method: "POST", body: "{}" }), prepared);
  expect(answer.status).toBe(503);
  await vi.advanceTimersByTimeAsync(3000);
  expect(connection.get().away).toBe(false);
  expect(sent.filter((p) => p === "/api/players")).toHaveLength(1);
});

it("another refusal for a while is no reason to wait", async () => {
  answers = [() => Promise.resolve(new Response("not words", { status: 503 }))];
  expect((await patiently(at("/api/swings/1"), prepared)).status).toBe(503);
  expect(sent).toEqual(["/api/swings/1"]);
});

it("does not send twice what might be done twice, and keeps looking for the connection", async () => {
  answers = [gone, gone];
  const answer = patiently(at("/api/players", { method: "POST", body: "{}" }), prepared);
  await expect(answer).rejects.toBeInstanceOf(NotSent);
  expect(connection.get().lost).toBe(true);
  await vi.advanceTimersByTimeAsync(3000);
  expect(connection.get().lost).toBe(false);
  expect(sent.filter((p) => p === "/api/players")).toHaveLength(1);
});

it("waits for a new sign-in where the old one has run out, with that one's token", async () => {
  answers = [unknown];
  const answer = patiently(at("/api/lessons/1"), prepared);
  await vi.advanceTimersByTimeAsync(10);
  expect(connection.get().expired).toBe(true);
  expect(sent).toHaveLength(1);
  connection.signedIn();
  expect((await answer).status).toBe(200);
  expect(connection.get().expired).toBe(false);
  expect(prepared).toHaveBeenCalledTimes(2);
});

it.each(["/api/me", "/api/sign-in"])("lets %s say itself that nobody is signed in", async (path) => {
  answers = [unknown];
  expect((await patiently(at(path), prepared)).status).toBe(401);
  expect(connection.get().expired).toBe(false);
});

it("leaves a wrong password to the screen that asked for it: nobody was signed out", async () => {
  answers = [() => Promise.resolve(new Response(JSON.stringify({ code: "wrong_password" }), { status: 401 }))];
  expect((await patiently(at("/api/me/password", { method: "PUT", body: "{}" }), prepared)).status).toBe(401);
  expect(connection.get().expired).toBe(false);
});

it("gives up what is no longer wanted", async () => {
  answers = [gone, gone, gone];
  const leave = new AbortController();
  const answer = patiently(at("/api/swings/1", { signal: leave.signal }), prepared);
  answer.catch(() => undefined);
  await vi.advanceTimersByTimeAsync(10);
  leave.abort();
  await vi.advanceTimersByTimeAsync(2000);
  await expect(answer).rejects.toMatchObject({ name: "AbortError" });
});
