import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, Choice, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";

interface Props {
  open: boolean;
  onClose: () => void;
  diary: Schemas["Diary"];
  day: string;
}

/** Put a lesson into the diary; the server refuses a double booking. */
export function Book({ open, onClose, diary, day }: Props) {
  const client = useQueryClient();
  const players = useQuery({ queryKey: keys.players(""), queryFn: ({ signal }) => data(api.GET("/api/players", { signal })), enabled: open });
  const [player, setPlayer] = useState("");
  const [instructor, setInstructor] = useState(diary.instructors[0]?.id ?? "");
  const [bay, setBay] = useState(diary.bays[0] ?? "Bay 1");
  const [time, setTime] = useState("16:00");
  const [minutes, setMinutes] = useState(45);
  const book = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/lessons", {
          body: { player_id: player, instructor_id: instructor, bay, starts_at: `${day}T${time}:00`, minutes, club: "7-iron" },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.diary() });
      onClose();
    },
  });
  return (
    <Sheet open={open} onClose={onClose} title="Book a lesson">
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          book.mutate();
        }}
      >
        <Field label="Player">
          <select className={inputLook} required value={player} onChange={(e) => setPlayer(e.target.value)}>
            <option value="">Choose</option>
            {players.data?.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Instructor">
          <select className={inputLook} value={instructor} onChange={(e) => setInstructor(e.target.value)}>
            {diary.instructors.map((i) => (
              <option key={i.id} value={i.id}>
                {i.name}
              </option>
            ))}
          </select>
        </Field>
        <div className="grid grid-cols-2 gap-4">
          <Field label="Time">
            <input className={inputLook} type="time" required value={time} onChange={(e) => setTime(e.target.value)} />
          </Field>
          <Field label="Minutes">
            <input className={inputLook} type="number" min={10} max={240} step={5} value={minutes} onChange={(e) => setMinutes(Number(e.target.value))} />
          </Field>
        </div>
        <Choice label="Bay" value={bay} onChange={setBay} options={diary.bays.map((b) => ({ id: b, label: b }))} />
        <ErrorLine error={book.error} />
        <Button tone="solid" type="submit" disabled={!player || book.isPending}>
          Book
        </Button>
      </form>
    </Sheet>
  );
}
