import { MutationObserver, onlineManager, QueryObserver } from "@tanstack/react-query";
import { afterEach, expect, it, vi } from "vitest";

import { Problem } from "./client";
import { newQueryClient } from "./queries";

afterEach(() => onlineManager.setOnline(true));

it("sends what is done and asked while the browser says it is offline, so that the lost connection is said", async () => {
  const client = newQueryClient();
  onlineManager.setOnline(false);
  const sent = vi.fn(() => Promise.resolve("marked"));
  await new MutationObserver(client, { mutationFn: sent }).mutate();
  expect(sent).toHaveBeenCalledOnce();
  const asked = vi.fn(() => Promise.resolve("a lesson"));
  expect(await client.fetchQuery({ queryKey: ["lesson"], queryFn: asked })).toBe("a lesson");
});

it("asks again for what is on the screen once the connection is back", async () => {
  const client = newQueryClient();
  client.mount();
  onlineManager.setOnline(false);
  const asked = vi.fn(() => Promise.resolve("a lesson"));
  const stop = new QueryObserver(client, { queryKey: ["lesson"], queryFn: asked, staleTime: 0 }).subscribe(() => undefined);
  await vi.waitFor(() => expect(client.getQueryData(["lesson"])).toBe("a lesson"));
  onlineManager.setOnline(true);
  await vi.waitFor(() => expect(asked).toHaveBeenCalledTimes(2));
  stop();
  client.unmount();
});

it("asks again after a change what is still being asked for the first time: it may have been read before", async () => {
  const client = newQueryClient();
  const answers: ((said: string) => void)[] = [];
  const asked = vi.fn(() => new Promise<string>((answer) => answers.push(answer)));
  const stop = new QueryObserver(client, { queryKey: ["links"], queryFn: asked }).subscribe(() => undefined);
  const again = client.invalidateQueries({ queryKey: ["links"] });
  await vi.waitFor(() => expect(asked).toHaveBeenCalledTimes(2));
  answers[1]!("the new link");
  answers[0]!("none");
  await again;
  expect(client.getQueryData(["links"])).toBe("the new link");
  const untold = client.fetchQuery({ queryKey: ["lessons"], queryFn: asked });
  await client.invalidateQueries({ queryKey: ["lessons"], refetchType: "none" });
  answers[2]!("a lesson");
  expect(await untold).toBe("a lesson");
  stop();
});

it.each([
  [404, 1],
  [409, 1],
  [503, 3],
])("asks again after %i up to %i times in all", async (status, times) => {
  vi.useFakeTimers();
  const client = newQueryClient();
  const asked = vi.fn(() => Promise.reject(new Problem("code", "words", status)));
  const stop = new QueryObserver(client, { queryKey: ["lesson"], queryFn: asked }).subscribe(() => undefined);
  await vi.advanceTimersByTimeAsync(20_000);
  expect(asked).toHaveBeenCalledTimes(times);
  stop();
  vi.useRealTimers();
});
