import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";

import { api, data, seen, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";

type Player = Schemas["PlayerOut"];
const at = (playerId: string) => ({ params: { path: { player_id: playerId } } });

export function usePlayer(playerId: string) {
  return useQuery({
    queryKey: keys.player(playerId),
    queryFn: ({ signal }) => data(api.GET("/api/players/{player_id}", { ...at(playerId), signal })),
  });
}

/** What rests on a player elsewhere is asked for when it is next opened: lists, lessons, what is judged. */
function useStale() {
  const client = useQueryClient();
  return () => {
    for (const queryKey of [keys.players(), keys.diary(), keys.lessons, keys.swing()]) void client.invalidateQueries({ queryKey, refetchType: "none" });
  };
}

/** Changes of a player: the answer is the player, and is put in place; `done` closes what it was asked in. */
export function usePlayerChanges(playerId: string, done: () => void) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const stale = useStale();
  const onSuccess = (player: Player) => {
    client.setQueryData(keys.player(playerId), player);
    stale();
    done();
  };
  return {
    change: useMutation({
      mutationFn: ({ body, revision }: { body: Schemas["PlayerIn"]; revision: string }) =>
        data(api.PUT("/api/players/{player_id}", { params: { ...at(playerId).params, header: seen(revision) }, body })),
      onSuccess,
    }),
    addLimit: useMutation({
      mutationFn: (body: Schemas["LimitIn"]) => data(api.POST("/api/players/{player_id}/limits", { ...at(playerId), body })),
      onSuccess,
    }),
    removeLimit: useMutation({
      mutationFn: (limit_id: string) => data(api.DELETE("/api/players/{player_id}/limits/{limit_id}", { params: { path: { player_id: playerId, limit_id } } })),
      onSuccess,
    }),
    erase: useMutation({
      mutationFn: () => data(api.DELETE("/api/players/{player_id}", at(playerId))),
      onSuccess: async () => {
        stale();
        await navigate({ to: "/players" });
        client.removeQueries({ queryKey: keys.player(playerId) });
      },
    }),
    lessonNow: useMutation({
      mutationFn: (handedness: Player["handedness"]) => data(api.POST("/api/lessons/start-now", { body: { player_id: playerId, handedness, club: "7-iron" } })),
      onSuccess: (lesson) => navigate({ to: "/lessons/$lessonId", params: { lessonId: lesson.id } }),
    }),
  };
}
