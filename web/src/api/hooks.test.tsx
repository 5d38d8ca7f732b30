import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { Schemas } from "./client";
import { swingQuery, tracesQuery, useApplyToLesson, useChangeSwing, useJoin, useLesson, usePutLesson, useUndo } from "./hooks";
import { keys } from "./keys";

/** What was asked of the server, and what it answers by method and path. */
let asked: string[] = [];
let answers: Record<string, unknown> = {};
let signals: AbortSignal[] = [];

vi.mock("./client", () => {
  const ask = (method: string) => (path: string, options?: { params?: { path?: Record<string, string>; query?: object }; signal?: AbortSignal }) => {
    const where = Object.entries(options?.params?.path ?? {}).reduce((p, [k, v]) => p.replace(`{${k}}`, v), path);
    const query = options?.params?.query ? `?${new URLSearchParams(options.params.query as Record<string, string>)}` : "";
    asked.push(`${method} ${where}${query}`);
    if (options?.signal) signals.push(options.signal);
    return Promise.resolve({ data: answers[`${method} ${where}`] });
  };
  return {
    api: { GET: ask("GET"), POST: ask("POST"), PATCH: ask("PATCH") },
    data: async (call: Promise<{ data?: unknown }>) => (await call).data,
    send: (request: { url?: string }) => {
      asked.push(`block ${request.url}`);
      return new Promise(() => undefined);
    },
    problemOf: () => new Error("no"),
  };
});

const brief = (number: number, more: object = {}) => ({ id: `s${number}`, number, kind: "normal", club: "7-iron", ...more });
const summary = (club: string, counting: number) => ({ club, counting });
const lesson = () => ({
  id: "L",
  note: "",
  swings: [brief(1), brief(2), brief(3)],
  summaries: [summary("7-iron", 3), summary("driver", 0)],
  recordings: ["one"],
  blocks: [],
  can_undo: null,
  can_redo: null,
});
const swing = (number: number) => ({ ...brief(number), headline: { text: "old" }, findings: [], metrics: ["kept"] });
const changed = (more: object = {}) => ({
  brief: brief(2, { kind: "drill" }),
  headline: { text: "new" },
  findings: ["f"],
  summaries: [summary("7-iron", 2)],
  can_undo: "swing 2: drill",
  can_redo: null,
  others: [],
  stale: true,
  ...more,
});

let client: QueryClient;
const wrapper = ({ children }: { children: ReactNode }) => <QueryClientProvider client={client}>{children}</QueryClientProvider>;
const held = () => client.getQueryData<ReturnType<typeof lesson>>(keys.lesson("L"))!;
const opened = (number: number) => client.getQueryData<ReturnType<typeof swing>>(keys.swing(`s${number}`))!;
const isStale = (number: number) => client.getQueryState(keys.swing(`s${number}`))!.isInvalidated;

beforeEach(() => {
  asked = [];
  signals = [];
  answers = { "GET /api/lessons/L": lesson(), "GET /api/swings/s2": swing(2) };
  client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 60_000 } } });
  client.setQueryData(keys.lesson("L"), lesson());
  for (const k of [1, 2]) client.setQueryData(keys.swing(`s${k}`), swing(k));
});
afterEach(() => {
  cleanup();
  client.clear();
});

/** The lesson and a swing stand open on a screen, so that asking again would be seen. */
function watched<T>(hook: () => T) {
  return renderHook(
    () => {
      useLesson("L");
      useQuery(swingQuery("s2"));
      return hook();
    },
    { wrapper },
  );
}

it("a mark goes in place: the strip, the summary, what is said of the swing; nothing is asked again", async () => {
  answers["PATCH /api/swings/s2"] = changed();
  const { result } = watched(() => useChangeSwing("L"));
  await act(() => result.current.mutateAsync({ id: "s2", patch: { kind: "drill" } as Schemas["SwingPatch"] }));
  expect(asked).toEqual(["PATCH /api/swings/s2"]);
  expect(held().swings.map((s) => s.kind)).toEqual(["normal", "drill", "normal"]);
  expect(held().summaries).toEqual([summary("driver", 0), summary("7-iron", 2)]);
  expect([held().can_undo, held().can_redo]).toEqual(["swing 2: drill", null]);
  expect(opened(2)).toMatchObject({ kind: "drill", headline: { text: "new" }, findings: ["f"], metrics: ["kept"] });
  expect([isStale(1), isStale(2)]).toEqual([true, false]);
});

it("what another swing says is left alone where it did not change", async () => {
  answers["PATCH /api/swings/s2"] = changed({ stale: false, summaries: [] });
  const { result } = watched(() => useChangeSwing("L"));
  await act(() => result.current.mutateAsync({ id: "s2", patch: {} as Schemas["SwingPatch"] }));
  expect(isStale(1)).toBe(false);
  expect(held().summaries).toEqual(lesson().summaries);
});

it("a moved checkpoint brings the swing whole", async () => {
  answers["PATCH /api/swings/s2"] = changed({ swing: { ...swing(2), metrics: ["measured again"] } });
  const { result } = watched(() => useChangeSwing("L"));
  await act(() => result.current.mutateAsync({ id: "s2", patch: {} as Schemas["SwingPatch"] }));
  expect(opened(2).metrics).toEqual(["measured again"]);
  expect(asked).toEqual(["PATCH /api/swings/s2"]);
});

it("undo of a mark goes in place as the mark did", async () => {
  answers["POST /api/lessons/L/undo"] = { label: "swing 2: drill", changed: changed({ can_undo: null, can_redo: "swing 2: drill" }) };
  const { result } = watched(() => useUndo("L"));
  await act(() => result.current.undo.mutateAsync());
  expect(asked).toEqual(["POST /api/lessons/L/undo"]);
  expect(held().can_redo).toBe("swing 2: drill");
});

it("undo of what changed every swing asks for what is open", async () => {
  answers["POST /api/lessons/L/redo"] = { label: "lead wrist flat", changed: null };
  const { result } = watched(() => useUndo("L"));
  await act(() => result.current.redo.mutateAsync());
  await waitFor(() => expect(asked.sort()).toEqual(["GET /api/lessons/L", "GET /api/swings/s2", "POST /api/lessons/L/redo"]));
});

it("a swing that comes in joins the strip by itself", async () => {
  answers["GET /api/lessons/L/joined"] = { swings: [brief(4)], summaries: [summary("7-iron", 4)], recordings: ["one", "two"], blocks: ["b"] };
  const { result } = watched(() => useJoin("L"));
  await act(() => result.current());
  expect(asked).toEqual(["GET /api/lessons/L/joined?after=3"]);
  expect(held().swings.map((s) => s.number)).toEqual([1, 2, 3, 4]);
  expect(held().summaries).toEqual([summary("7-iron", 4), summary("driver", 0)]);
  expect([held().recordings, held().blocks]).toEqual([["one", "two"], ["b"]]);
  expect(opened(2)).toEqual(swing(2));
});

it("nothing joins a lesson that is not open", async () => {
  client.removeQueries({ queryKey: keys.lesson("L") });
  const { result } = renderHook(() => useJoin("L"), { wrapper });
  await act(() => result.current());
  expect(asked).toEqual([]);
});

it("a lesson that is answered takes its place; swings are asked for when they are next opened", () => {
  const { result } = watched(() => usePutLesson("L"));
  act(() => result.current({ ...lesson(), note: "pinned" } as unknown as Schemas["LessonOut"]));
  expect(held().note).toBe("pinned");
  expect(isStale(1)).toBe(true);
  expect(asked).toEqual([]);
});

it("a note of the lesson leaves its swings and other summaries alone", () => {
  const { result } = watched(() => useApplyToLesson("L"));
  act(() => result.current({ note: "Quiet hands.", summaries: [summary("driver", 1)] } as unknown as Schemas["LessonChanged"]));
  expect(held()).toMatchObject({ note: "Quiet hands.", swings: lesson().swings });
  expect(held().summaries).toEqual([summary("driver", 1), summary("7-iron", 3)]);
});

it("what is left before it came is not waited for", () => {
  client.removeQueries({ queryKey: keys.lesson("L") });
  answers["GET /api/lessons/L"] = new Promise(() => undefined);
  const { unmount } = renderHook(() => useLesson("L"), { wrapper });
  expect(signals.map((s) => s.aborted)).toEqual([false]);
  unmount();
  expect(signals.map((s) => s.aborted)).toEqual([true]);
});

it("a block is kept for ever under its measuring", () => {
  const [first, second] = [1, 2].map((measuring) => tracesQuery({ id: "s1", measuring }));
  expect(first!.queryKey).not.toEqual(second!.queryKey);
  expect(first!.staleTime).toBe(Infinity);
  expect(tracesQuery(undefined).enabled).toBe(false);
});
