import { Link } from "@tanstack/react-router";
import { tr } from "@/lib/language";

/** No putt yet: what is missing, and what to do. */
export function Nothing({ lessonId }: { lessonId: string }) {
  return (
    <main className="grid h-full place-content-center p-8 text-center">
      <p className="text-[40px] font-bold">{tr("No putts in this lesson yet.")}</p>
      <p className="mt-2 text-xl text-muted">{tr("Choose the putter in Capture; putts are read here as they come.")}</p>
      <p className="mt-5">
        <Link
          to="/lessons/$lessonId/capture"
          params={{ lessonId }}
          className="inline-flex min-h-14 items-center rounded-full border-2 border-ink bg-ink px-6 text-xl font-semibold text-paper"
        >
          {tr("Capture")}
        </Link>
      </p>
    </main>
  );
}
