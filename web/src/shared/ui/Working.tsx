import { Button } from "./controls";
import { tr } from "@/lib/language";

interface Work {
  done: number;
  total: number;
  step: string;
  state: string;
  stopping: boolean;
}

/** How far long work is: one line that fills, what it is at in words, and a way to stop it. */
export function Working({ job, label, onStop }: { job: Work; label: string; onStop?: () => void }) {
  const share = job.total > 0 ? job.done / job.total : 0;
  const words = job.stopping ? tr("Stopping") : job.state === "waiting" ? tr("Waiting for its turn") : job.step;
  return (
    <div className="flex max-w-[820px] items-center gap-5">
      <div className="flex-1">
        <p aria-live="polite" className="text-2xl">
          {words} …
        </p>
        <div role="progressbar" aria-label={label} aria-valuemin={0} aria-valuemax={job.total} aria-valuenow={job.done} className="mt-2 h-2 border border-ink">
          <div className="h-full bg-ink" style={{ width: `${100 * share}%` }} />
        </div>
      </div>
      {onStop ? (
        <Button onClick={onStop} disabled={job.stopping}>
          {tr("Stop")}
        </Button>
      ) : null}
    </div>
  );
}
