import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type Manner } from "@/lib/manner";
import { hear } from "@/lib/speech";

import { api, data, seen, type Schemas } from "@/api/client";
import { importAcademyRules, importRanges } from "@/api/hooks";
import { keys } from "@/api/keys";

export function useRanges(label: string) {
  return useQuery({ queryKey: keys.ranges(label), queryFn: ({ signal }) => data(api.GET("/api/benchmarks/ranges", { params: { query: { label } }, signal })) });
}

/** The ranges that speak of a club beside what skilled and own players do with it. */
export function useBeside(label: string, club: string) {
  return useQuery({
    queryKey: keys.beside(label, club),
    enabled: label !== "",
    queryFn: ({ signal }) => data(api.GET("/api/benchmarks/beside", { params: { query: { label, club } }, signal })),
  });
}

export function useDifferences(before: string, after: string) {
  return useQuery({
    queryKey: keys.differences(before, after),
    enabled: before !== "" && after !== "" && before !== after,
    queryFn: ({ signal }) => data(api.GET("/api/benchmarks/differences", { params: { query: { before, after } }, signal })),
  });
}

/** The academy and the clock it lives by. */
export function useAcademy() {
  return useQuery({ queryKey: keys.academy, queryFn: ({ signal }) => data(api.GET("/api/academy", { signal })) });
}

export function useSetClock() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ time_zone, revision }: { time_zone: string; revision: string }) =>
      data(api.PUT("/api/academy/clock", { params: { header: seen(revision) }, body: { time_zone } })),
    onSuccess: (found) => {
      client.setQueryData(keys.academy, found);
      return Promise.all([client.invalidateQueries({ queryKey: keys.diary() }), client.invalidateQueries({ queryKey: keys.player() })]);
    },
  });
}

/** Let the academy's screens speak otherwise; this one is loaded anew in the new manner. */
export function useSetManner() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ manner, revision }: { manner: Manner; revision: string }) =>
      data(api.PUT("/api/academy/manner", { params: { header: seen(revision) }, body: manner })),
    onSuccess: ({ language, lengths, distances, clock }) => {
      hear({ language, lengths, distances, clock });
      void client.invalidateQueries({ queryKey: keys.academy });
    },
  });
}

export function useAcademyRules() {
  return useQuery({ queryKey: keys.academyRules, queryFn: ({ signal }) => data(api.GET("/api/academy-rules", { signal })) });
}

/** Everything that is judged may read otherwise afterwards. */
function useSaved() {
  const client = useQueryClient();
  return () => client.invalidateQueries();
}

export function useBenchmarkChanges() {
  const done = useSaved();
  return {
    save: useMutation({ mutationFn: (body: Schemas["SaveVersionIn"]) => data(api.POST("/api/benchmarks", { body })), onSuccess: done }),
    use: useMutation({ mutationFn: (label: string) => data(api.POST("/api/benchmarks/use", { body: { label } })), onSuccess: done }),
    retire: useMutation({ mutationFn: (body: Schemas["RetireIn"]) => data(api.POST("/api/benchmarks/retire", { body })), onSuccess: done }),
    bring: useMutation({ mutationFn: importRanges, onSuccess: done }),
  };
}

export function useAcademyRulesChanges() {
  const done = useSaved();
  return {
    bring: useMutation({ mutationFn: importAcademyRules, onSuccess: done }),
    schools: useMutation({
      mutationFn: ({ schools, revision }: { schools: Record<string, string>; revision: string }) =>
        data(api.PUT("/api/academy-rules/schools", { params: { header: seen(revision) }, body: { schools } })),
      onSuccess: done,
    }),
    drill: useMutation({
      mutationFn: ({ id, body }: { id: string; body: Schemas["DrillWordsIn"] }) =>
        data(api.PUT("/api/academy-rules/drills/{drill_id}", { params: { path: { drill_id: id } }, body })),
      onSuccess: done,
    }),
    saveFinding: useMutation({
      mutationFn: (body: Schemas["OwnFindingIn"]) => data(api.PUT("/api/academy-rules/findings", { body })),
      onSuccess: done,
    }),
    saveDrill: useMutation({ mutationFn: (body: Schemas["OwnDrillIn"]) => data(api.PUT("/api/academy-rules/drills", { body })), onSuccess: done }),
    removeDrill: useMutation({
      mutationFn: (id: string) => data(api.DELETE("/api/academy-rules/drills/{drill_id}", { params: { path: { drill_id: id } } })),
      onSuccess: done,
    }),
    remove: useMutation({
      mutationFn: (id: string) => data(api.DELETE("/api/academy-rules/findings/{finding_id}", { params: { path: { finding_id: id } } })),
      onSuccess: done,
    }),
  };
}

export function useCohort(body: Schemas["CohortIn"]) {
  return useQuery({
    queryKey: keys.cohort(body),
    queryFn: ({ signal }) => data(api.POST("/api/cohorts/look", { body, signal })),
    placeholderData: (old) => old,
  });
}

export function useCohortChanges() {
  const done = useSaved();
  return {
    ranges: useMutation({ mutationFn: (body: Schemas["CohortSaveIn"]) => data(api.POST("/api/cohorts/ranges", { body })), onSuccess: done }),
    reference: useMutation({ mutationFn: (body: Schemas["CohortReferenceIn"]) => data(api.POST("/api/cohorts/reference", { body })), onSuccess: done }),
    remove: useMutation({
      mutationFn: (id: string) => data(api.DELETE("/api/references/{reference_id}", { params: { path: { reference_id: id } } })),
      onSuccess: done,
    }),
  };
}
