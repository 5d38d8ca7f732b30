import { QueryClient, type InvalidateOptions, type InvalidateQueryFilters, type QueryFilters, type QueryKey } from "@tanstack/react-query";

import { Problem } from "./client";

/** The store of what was asked. Requests wait for the connection by themselves and say so (`connection.ts`): kept back before they are
 * sent, as the library does by default once the browser says it is offline, nobody would be told. */
export function newQueryClient(): QueryClient {
  const networkMode = "always";
  return new Asked({
    defaultOptions: {
      mutations: { networkMode },
      queries: {
        networkMode,
        refetchOnReconnect: true,
        refetchOnWindowFocus: true,
        staleTime: 2_000,
        gcTime: 30 * 60_000,
        retry: (count, error) => !(error instanceof Problem && error.status < 500) && count < 2,
      },
    },
  });
}

/** The library asks again what is changed, but not what is still being asked for the first time: that answer may have been read before
 * the change, and would stand. Here it is dropped and asked again. */
class Asked extends QueryClient {
  override async invalidateQueries<K extends QueryKey = QueryKey>(filters?: InvalidateQueryFilters<K> | undefined, options?: InvalidateOptions): Promise<void> {
    if (filters?.refetchType !== "none") {
      const first = this.getQueryCache().findAll({ ...(filters as QueryFilters<K>), fetchStatus: "fetching" });
      await Promise.all(first.map((q) => (q.state.data === undefined ? q.cancel({ revert: true }) : null)));
    }
    return super.invalidateQueries<K>(filters, options);
  }
}
