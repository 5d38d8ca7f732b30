import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";

import { api, data, Problem, type Schemas } from "./client";
import { keys } from "./keys";

export type Job = Schemas["JobOut"];
const LOOK_AGAIN_MS = 400;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
export const jobOf = (id: string) => data(api.GET("/api/jobs/{job_id}", { params: { path: { job_id: id } } }));
export const stopJob = (id: string) => data(api.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: id } } }));
export const retryJob = (id: string) => data(api.POST("/api/jobs/{job_id}/retry", { params: { path: { job_id: id } } }));

/** Looks at a job until it has ended; what it says on the way goes to `told`. Throws what it came to nothing for. */
export async function untilEnded(begun: Job, told: (job: Job) => void): Promise<Job> {
  let job = begun;
  for (;;) {
    told(job);
    if (job.state === "failed") throw new Problem(job.code, job.message, 422);
    if (job.state === "done" || job.state === "cancelled") return job;
    await pause(LOOK_AGAIN_MS);
    job = await jobOf(job.id);
  }
}

/** A file on its way into a lesson: how far it is, stopping it, and what came of it. */
export function useImport<T>(send: (what: T) => Promise<Job>, onKept: (job: Job) => Promise<void>) {
  const [job, setJob] = useState<Job | null>(null);
  const running = useRef<Job | null>(null);
  const told = (j: Job | null) => {
    running.current = j;
    setJob(j);
  };
  const work = useMutation({
    mutationFn: async (what: T) => untilEnded(await send(what), told),
    onSuccess: async (ended) => {
      if (ended.state === "done") await onKept(ended);
    },
    onSettled: () => told(null),
  });
  return {
    ...work,
    job,
    stop: () => {
      if (running.current) void stopJob(running.current.id).then(told);
    },
  };
}

/** Measuring everything again; looked at often while it runs. */
export function useMeasuring() {
  return useQuery({
    queryKey: keys.measuring,
    queryFn: ({ signal }) => data(api.GET("/api/measuring", { signal })),
    refetchInterval: (query) => {
      const found = query.state.data;
      return found?.accepting || (found?.job && found.job.state !== "done") ? LOOK_AGAIN_MS : false;
    },
  });
}

export function useMeasuringChanges() {
  const client = useQueryClient();
  const put = (found: Schemas["MeasuringOut"]) => client.setQueryData(keys.measuring, found);
  const look = () => client.invalidateQueries({ queryKey: keys.measuring });
  return {
    start: useMutation({ mutationFn: () => data(api.POST("/api/measuring")), onSuccess: put }),
    decide: useMutation({
      mutationFn: ({ id, decision }: { id: string; decision: "accept" | "dismiss" }) =>
        data(api.POST("/api/measuring/{job_id}/decision", { params: { path: { job_id: id } }, body: { decision } })),
      onSuccess: put,
    }),
    stop: useMutation({ mutationFn: stopJob, onSuccess: look }),
    goOn: useMutation({ mutationFn: retryJob, onSuccess: look }),
  };
}
