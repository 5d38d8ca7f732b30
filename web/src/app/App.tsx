import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { useEffect } from "react";

import { Problem } from "@/api/client";
import { applyTheme } from "@/lib/settings";

import { router } from "./router";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 2_000,
      gcTime: 30 * 60_000,
      retry: (count, error) => !(error instanceof Problem && error.status < 500) && count < 2,
      refetchOnWindowFocus: true,
    },
  },
});

applyTheme();

export function App() {
  useEffect(() => {
    const query = window.matchMedia("(prefers-color-scheme: dark)");
    query.addEventListener("change", applyTheme);
    return () => query.removeEventListener("change", applyTheme);
  }, []);
  return (
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  );
}
