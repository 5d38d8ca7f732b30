import { useMutation } from "@tanstack/react-query";

import { api, data, type Schemas } from "@/api/client";
import { tr } from "@/lib/language";
import { ErrorLine } from "@/shared/ui/controls";

type Staff = Schemas["StaffOut"];
type Chosen = Staff["choices"];

/** What the academy asks of its people. */
export function Choices({ staff, onTold }: { staff: Staff; onTold: (staff: Staff) => void }) {
  const change = useMutation({
    mutationFn: (body: Chosen) => data(api.PUT("/api/people/choices", { body })),
    onSuccess: onTold,
  });
  const now = staff.choices;
  const box = (name: keyof Chosen, label: string, note: string) => (
    <div className="py-1 text-lg">
      <label className="flex min-h-14 items-center gap-4 font-bold">
        <input
          type="checkbox"
          className="size-7 accent-[var(--ink)]"
          checked={now[name]}
          disabled={change.isPending}
          aria-describedby={`${name}-note`}
          onChange={(e) => change.mutate({ ...now, [name]: e.target.checked })}
        />
        {label}
      </label>
      <p id={`${name}-note`} className="-mt-2 pl-11 text-base text-muted">
        {note}
      </p>
    </div>
  );
  return (
    <section className="pt-6">
      <h2 className="text-2xl font-bold">{tr("The academy asks")}</h2>
      <ErrorLine error={change.error} />
      {box("owners_second_factor", tr("Owners sign in with a second factor"), tr("An owner without one sets it up before anything else opens."))}
      {box(
        "own_players",
        tr("Instructors open their own players only"),
        tr("Their own: whom they teach, and whom a colleague shares with them. Owners open everybody; assistants fit sensors on everybody."),
      )}
    </section>
  );
}
