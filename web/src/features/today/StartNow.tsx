import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";

import { api, data } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

/** A walk-in: hand and club only. */
export function StartNow({ open, onClose, bays }: { open: boolean; onClose: () => void; bays: string[] }) {
  const [hand, setHand] = useState<"right" | "left">("right");
  const [club, setClub] = useState("7-iron");
  const [bay, setBay] = useState(bays[0] ?? "Bay 1");
  const catalogue = useCatalogue();
  const navigate = useNavigate();
  const start = useMutation({
    mutationFn: () => data(api.POST("/api/lessons/start-now", { body: { handedness: hand, club, bay } })),
    onSuccess: (lesson) => navigate({ to: "/lessons/$lessonId", params: { lessonId: lesson.id } }),
  });
  return (
    <Sheet open={open} onClose={onClose} title={tr("Start now")}>
      <div className="space-y-5">
        <p className="text-xl">{tr("Hand and club are enough. Add a name later; without it, everything is erased when the lesson ends.")}</p>
        <Choice
          label={tr("Plays")}
          value={hand}
          onChange={setHand}
          options={[
            { id: "right", label: tr("Right-handed") },
            { id: "left", label: tr("Left-handed") },
          ]}
        />
        <Field label={tr("Club")}>
          <select className={inputLook} value={club} onChange={(e) => setClub(e.target.value)}>
            {catalogue.data?.clubs.map((c) => (
              <option key={c.id} value={c.id}>
                {c.label}
              </option>
            ))}
          </select>
        </Field>
        <Choice label={tr("Bay")} value={bay} onChange={setBay} options={bays.map((b) => ({ id: b, label: b }))} />
        <ErrorLine error={start.error} />
        <Button tone="solid" onClick={() => start.mutate()} disabled={start.isPending}>
          {tr("Start")}
        </Button>
      </div>
    </Sheet>
  );
}
