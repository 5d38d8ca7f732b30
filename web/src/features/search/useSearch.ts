import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";

/** Swings that answer a question; while another is on its way, what was there stays. */
export function useFound(q: string) {
  return useQuery({
    queryKey: keys.search(q),
    enabled: q !== "",
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => data(api.GET("/api/search", { params: { query: { q } }, signal })),
  });
}

/** Questions that were kept. */
export function useSaved() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.searches });
  const saved = useQuery({ queryKey: keys.searches, queryFn: ({ signal }) => data(api.GET("/api/searches", { signal })) });
  const keep = useMutation({ mutationFn: (body: { name: string; query: string }) => data(api.POST("/api/searches", { body })), onSuccess });
  const forget = useMutation({
    mutationFn: (search_id: string) => data(api.DELETE("/api/searches/{search_id}", { params: { path: { search_id } } })),
    onSuccess,
  });
  return { saved, keep, forget };
}
