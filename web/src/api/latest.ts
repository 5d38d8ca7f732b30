import type { QueryClient, QueryKey } from "@tanstack/react-query";

/** Puts what a change answered in place. What was asked before the change and has not come yet would show the old state over
 * it: that is given up, and asked for again. */
export function putLatest(client: QueryClient, queryKeys: QueryKey[], put: () => void): void | Promise<void> {
  const asked = queryKeys.filter((queryKey) => client.isFetching({ queryKey, exact: true }) > 0);
  if (asked.length === 0) return put();
  return Promise.all(asked.map((queryKey) => client.cancelQueries({ queryKey, exact: true }))).then(() => {
    put();
    for (const queryKey of asked) void client.invalidateQueries({ queryKey, exact: true });
  });
}
