import { QueryClient } from "@tanstack/react-query";

import { Problem } from "./client";

/** The store of what was asked. Requests wait for the connection by themselves and say so (`connection.ts`): kept back before they are
 * sent, as the library does by default once the browser says it is offline, nobody would be told. */
export function newQueryClient(): QueryClient {
  const networkMode = "always";
  return new QueryClient({
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
