import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";

import { putLatest } from "./latest";

const key = ["lesson", "l1"];

test("what was asked before a change does not come over what the change answered", async () => {
  const client = new QueryClient();
  client.setQueryData(key, { pain: "" });
  const answers: ((said: { pain: string }) => void)[] = [];
  let stored = { pain: "" };
  const seen = new QueryObserver(client, {
    queryKey: key,
    staleTime: Infinity,
    queryFn: () => new Promise<{ pain: string }>((done) => answers.push(done)),
  });
  const stop = seen.subscribe(() => undefined);
  void client.refetchQueries({ queryKey: key }); // asked while pain was not noted
  const old = stored;
  stored = { pain: "yes" };
  await putLatest(client, [key], () => void client.setQueryData(key, stored));
  answers[0]!(old);
  await Promise.resolve();
  expect(client.getQueryData(key)).toEqual({ pain: "yes" });
  expect(answers).toHaveLength(2); // asked again, for what else may have come
  answers[1]!(stored);
  stop();
});

test("with nothing on its way the answer is in place at once", () => {
  const client = new QueryClient();
  client.setQueryData(key, { pain: "" });
  expect(putLatest(client, [key], () => void client.setQueryData(key, { pain: "no" }))).toBeUndefined();
  expect(client.getQueryData(key)).toEqual({ pain: "no" });
});
