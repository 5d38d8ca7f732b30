import { inputLook } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

interface Props {
  label: string;
  chosen: readonly string[];
  options: readonly { id: string; label: string }[];
  onChange: (chosen: string[]) => void;
}

/** Several of many: chosen ones as words to tap away, the others in a list. */
export function Picked({ label, chosen, options, onChange }: Props) {
  const name = (id: string) => options.find((o) => o.id === id)?.label ?? id;
  const left = options.filter((o) => !chosen.includes(o.id));
  return (
    <fieldset>
      <legend className="text-muted">{label}</legend>
      {chosen.length ? (
        <div className="flex flex-wrap gap-2 pb-2">
          {chosen.map((id) => (
            <button
              key={id}
              type="button"
              aria-label={tr("Leave out {name}", { name: name(id) })}
              className="min-h-14 rounded-full border-2 border-ink px-4 text-lg"
              onClick={() => onChange(chosen.filter((c) => c !== id))}
            >
              {name(id)} <span aria-hidden="true">×</span>
            </button>
          ))}
        </div>
      ) : null}
      <select
        aria-label={tr("Add to {label}", { label: label.toLowerCase() })}
        className={inputLook}
        value=""
        onChange={(e) => e.target.value && onChange([...chosen, e.target.value])}
      >
        <option value="">{tr("Add …")}</option>
        {left.map((o) => (
          <option key={o.id} value={o.id}>
            {o.label}
          </option>
        ))}
      </select>
    </fieldset>
  );
}
