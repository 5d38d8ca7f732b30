import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { putLatest } from "@/api/latest";

export function useRound(roundId: string) {
  return useQuery({
    queryKey: keys.round(roundId),
    queryFn: ({ signal }) => data(api.GET("/api/rounds/{round_id}", { params: { path: { round_id: roundId } }, signal })),
  });
}

/** Say what a motion was, or take that back: shown at once, as the server has it soon after. */
export function useCorrect(roundId: string) {
  const client = useQueryClient();
  const key = keys.round(roundId);
  return useMutation({
    mutationFn: ({ number, kind }: { number: number; kind: Schemas["MotionPatch"]["kind"] }) =>
      data(api.PATCH("/api/rounds/{round_id}/motions/{number}", { params: { path: { round_id: roundId, number } }, body: { kind } })),
    onSuccess: (round) =>
      putLatest(client, [key], () => {
        client.setQueryData(key, round);
        void client.invalidateQueries({ queryKey: keys.rounds(round.player_id) });
      }),
  });
}

export function useRemoveRound(roundId: string, playerId: string) {
  const client = useQueryClient();
  const path = { params: { path: { round_id: roundId } } };
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.rounds(playerId) });
  return {
    remove: useMutation({ mutationFn: () => data(api.DELETE("/api/rounds/{round_id}", path)), onSuccess }),
    restore: useMutation({ mutationFn: () => data(api.POST("/api/rounds/{round_id}/restored", path)), onSuccess }),
  };
}
