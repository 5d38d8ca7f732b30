import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";

export type Page = Schemas["TrainingPage"];
export type Offer = Schemas["OfferOut"];

/** What can be trained in a lesson, and what is. */
export function useTraining(lessonId: string) {
  const client = useQueryClient();
  const path = { params: { path: { lesson_id: lessonId } } };
  const onSuccess = (page: Page) => {
    client.setQueryData(keys.training(lessonId), page);
    void client.invalidateQueries({ queryKey: keys.lesson(lessonId), refetchType: "none" });
  };
  return {
    page: useQuery({ queryKey: keys.training(lessonId), queryFn: ({ signal }) => data(api.GET("/api/lessons/{lesson_id}/training", { ...path, signal })) }),
    start: useMutation({ mutationFn: (body: Schemas["TrainingIn"]) => data(api.POST("/api/lessons/{lesson_id}/training", { ...path, body })), onSuccess }),
    change: useMutation({ mutationFn: (body: Schemas["TrainingPatch"]) => data(api.PATCH("/api/lessons/{lesson_id}/training", { ...path, body })), onSuccess }),
    end: useMutation({ mutationFn: () => data(api.DELETE("/api/lessons/{lesson_id}/training", path)), onSuccess }),
    felt: useMutation({ mutationFn: (body: Schemas["FeltIn"]) => data(api.POST("/api/lessons/{lesson_id}/training/felt", { ...path, body })), onSuccess }),
  };
}
