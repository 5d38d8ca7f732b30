import { DndContext, pointerWithin, rectIntersection, useDraggable, useDroppable, type CollisionDetection } from "@dnd-kit/core";
import { dayWords } from "@/lib/dates";

import type { Schemas } from "@/api/client";
import { usePlaces } from "@/shared/drag/sensors";
import { tr } from "@/lib/language";

type Practice = Schemas["PracticeOut"];
type Block = Schemas["PracticeBlockOut"];

export const dayOf = (iso: string) => dayWords(iso, "weekdayLong");

/** "No feedback", "feedback each time" …: how much feedback a block has. */
export function feedbackSaid(share: number): string {
  if (share === 0) return tr("no feedback");
  return share === 1 ? tr("feedback each time") : tr("feedback {share} %", { share: Math.round(100 * share) });
}

function daysOf(plan: Practice): string[] {
  const out = [];
  const last = new Date(`${plan.last}T12:00:00Z`);
  for (const d = new Date(`${plan.first}T12:00:00Z`); d <= last; d.setUTCDate(d.getUTCDate() + 1)) out.push(d.toISOString().slice(0, 10));
  return out;
}

/** By pointer where it points, by keys the place that is covered most. */
const where: CollisionDetection = (args) => {
  const pointed = pointerWithin(args);
  return pointed.length ? pointed : rectIntersection(args);
};

/** The plan's days, one below the other; a block is dragged to another day by pointer or keys, or opened. */
export function PracticeDays(props: {
  plan: Practice;
  busy: boolean;
  open: number | null;
  onOpen: (number: number | null) => void;
  onMove: (number: number, to: string) => void;
}) {
  const { plan } = props;
  const sensors = usePlaces();
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={where}
      onDragEnd={({ active, over }) => {
        const block = plan.blocks.find((b) => b.number === active.id);
        if (block && over && over.id !== block.day) props.onMove(block.number, String(over.id));
      }}
      accessibility={{
        announcements: {
          onDragStart: () => tr("Held. Arrows choose a day, space puts it there, escape puts it back."),
          onDragOver: ({ over }) => (over ? dayOf(String(over.id)) : undefined),
          onDragEnd: ({ over }) => (over ? tr("Moved to {dayOf}.", { dayOf: dayOf(String(over.id)) }) : tr("Put back.")),
          onDragCancel: () => tr("Put back."),
        },
      }}
    >
      <ol aria-label={tr("The plan's days")}>
        {daysOf(plan).map((day) => (
          <Day key={day} day={day} minutes={plan.minutes[String((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7)] ?? 0}>
            {plan.blocks
              .filter((b) => b.day === day)
              .map((b) => (
                <OneBlock key={b.number} block={b} busy={props.busy || plan.stopped !== ""} open={props.open === b.number} onOpen={props.onOpen} />
              ))}
          </Day>
        ))}
      </ol>
    </DndContext>
  );
}

function Day({ day, minutes, children }: { day: string; minutes: number; children: React.ReactNode[] }) {
  const { setNodeRef, isOver } = useDroppable({ id: day });
  return (
    <li
      ref={setNodeRef}
      className={`grid min-h-12 grid-cols-[150px_1fr] items-start gap-3 border-b border-hairline py-1 max-[700px]:grid-cols-[104px_1fr] ${isOver ? "bg-band outline-2 outline-sea" : ""}`}
    >
      <span className={`pt-2 leading-tight ${children.length ? "font-bold" : "text-muted"}`}>
        {dayWords(day, "weekdayShort")}
        {minutes ? null : <span className="sr-only">{tr(", no time")}</span>}
      </span>
      <div className="grid gap-1">{children}</div>
    </li>
  );
}

function OneBlock({ block, busy, open, onOpen }: { block: Block; busy: boolean; open: boolean; onOpen: (number: number | null) => void }) {
  const fixed = busy || block.done;
  const { setNodeRef, listeners, attributes, transform, isDragging } = useDraggable({ id: block.number, disabled: fixed });
  const title = block.drills.map((d) => d.label).join(tr(", then "));
  const felt = block.done ? tr(" · done{what}", { what: block.feel ? tr(", felt {feel} of 5", { feel: block.feel }) : "" }) : "";
  return (
    <div
      ref={setNodeRef}
      className={`flex items-stretch gap-2 bg-paper ${isDragging ? "relative z-10 outline-2 outline-ink" : ""}`}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
    >
      {block.done ? (
        <span className="min-w-12 self-center text-center text-2xl" aria-hidden="true">
          ✓
        </span>
      ) : (
        <button
          type="button"
          className="min-w-12 cursor-grab touch-none text-2xl text-muted disabled:opacity-40"
          disabled={fixed}
          {...listeners}
          {...attributes}
          aria-label={tr("Move {title} of {dayOf}", { title, dayOf: dayOf(block.day) })}
        >
          ⠿
        </button>
      )}
      <button
        type="button"
        className="grid min-h-12 flex-1 grid-cols-[1fr_auto] items-center gap-3 py-1 text-left"
        aria-expanded={open}
        onClick={() => onOpen(open ? null : block.number)}
      >
        <span className="leading-tight">
          <span className="sr-only">{`${dayOf(block.day)}: `}</span>
          {title}
        </span>
        <span className="text-right leading-tight text-muted">
          {tr("{minutes} min", { minutes: block.minutes })}
          <span className="block text-base">{feedbackSaid(block.feedback) + felt}</span>
        </span>
      </button>
    </div>
  );
}
