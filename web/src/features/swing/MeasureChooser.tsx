import type { Group, Measure } from "@/lib/measures";

import { chosenLook, Opening } from "./Opening";
import { tr } from "@/lib/language";

interface Props {
  group: Group;
  groups: readonly Group[];
  measure: string;
  seen: (measure: Measure) => boolean;
  groupSeen: (group: Group) => boolean;
  onGroup: (group: Group) => void;
  onMeasure: (id: string) => void;
}

/** Which group of measures, and which of them; where there is no room for a row of names they open from one. */
export function MeasureChooser({ group, groups, measure, seen, groupSeen, onGroup, onMeasure }: Props) {
  const measures = group.measures.filter(seen);
  const shown = measures.find((m) => m.id === measure);
  return (
    <div className="mt-2 flex flex-none flex-wrap items-center gap-x-1 gap-y-1">
      <Opening
        label={tr("Group: {name}", { name: group.name })}
        title={tr("Groups of measures")}
        chosen={group.id}
        entries={groups.map((g) => ({ id: g.id, name: g.name, note: groupSeen(g) ? "" : tr("not seen") }))}
        onChoose={(id) => onGroup(groups.find((g) => g.id === id)!)}
      >
        {group.name}
      </Opening>
      {measures.length > 1 ? (
        <span className="hidden [@container(width<600px)]:inline">
          <Opening
            label={tr("Measure: {what}", { what: shown?.name ?? tr("none") })}
            title={tr("Measures: {name}", { name: group.name })}
            chosen={measure}
            entries={measures.map((m) => ({ id: m.id, name: m.name, note: "" }))}
            onChoose={onMeasure}
          >
            {shown?.name ?? tr("Measure")}
          </Opening>
        </span>
      ) : null}
      {measures.map((m) => (
        <button
          key={m.id}
          type="button"
          aria-pressed={m.id === measure}
          onClick={() => onMeasure(m.id)}
          className={`min-h-14 min-w-14 px-2.5 text-lg [@container(width<600px)]:hidden ${m.id === measure ? chosenLook : "text-muted"}`}
        >
          {m.name}
        </button>
      ))}
    </div>
  );
}
