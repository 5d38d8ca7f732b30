import { Choice, useSettings } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { change } from "@/lib/settings";

const KEYS: [string, string][] = [
  ["← →", "checkpoint before / after"],
  ["Shift ← →", "one sample back / on"],
  ["Page Down, Page Up", "next, previous swing"],
  ["Escape", "the previous swing at the same checkpoint, and back"],
  ["Enter, k", "mark the kind of this swing"],
  ["1 – 9", "ball flight: start left to right, curve top to bottom"],
  ["s", "strike"],
  ["c", "club"],
  ["m", "next measure"],
  ["g", "next group of measures"],
  ["x", "the whole figure"],
  ["n", "numbers"],
  ["w", "why"],
  ["b", "pin as before"],
  ["t", "train this"],
  ["f", "follow new swings"],
  ["[ ]", "move the chosen checkpoint by one sample"],
  ["z, Shift z", "undo, do again"],
  ["v", "Show: what the player may see"],
  ["d", "light or dark"],
  ["?", "this help"],
  ["In the plan: o, s", "a priority of your own; swap the two"],
  ["k, l, j", "swings and balls; limits and pain; judge otherwise"],
  ["e", "end the lesson"],
];

/** Keys and the few settings of this screen. */
export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  const now = useSettings();
  return (
    <Sheet open={open} onClose={onClose} title="Keys and settings">
      <dl className="grid grid-cols-[190px_1fr] gap-y-1.5 max-[700px]:grid-cols-[120px_1fr] text-lg">
        {KEYS.map(([key, what]) => (
          <div key={key} className="contents">
            <dt className="font-bold">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <hr className="my-5 border-hairline" />
      <p className="text-muted">Light or dark</p>
      <Choice
        label="Light or dark"
        value={now.theme}
        options={[
          { id: "light", label: "Light" },
          { id: "dark", label: "Dark" },
          { id: "system", label: "As the device" },
        ]}
        onChange={(theme) => change({ theme })}
      />
      <p className="mt-3 text-muted">Words</p>
      <Choice
        label="Words"
        value={now.words}
        options={[
          { id: "plain", label: "Cupped, bowed" },
          { id: "standard", label: "Extended, flexed" },
        ]}
        onChange={(words) => change({ words })}
      />
      <p className="mt-3 text-muted">Bottom bar for</p>
      <Choice
        label="Bottom bar for"
        value={now.bar}
        options={[
          { id: "right", label: "the right hand" },
          { id: "left", label: "the left hand" },
        ]}
        onChange={(bar) => change({ bar })}
      />
      <p className="mt-3 text-muted">Sounds</p>
      <Choice
        label="Sounds"
        value={now.sound ? "on" : "off"}
        options={[
          { id: "on", label: "On" },
          { id: "off", label: "Off" },
        ]}
        onChange={(sound) => change({ sound: sound === "on" })}
      />
    </Sheet>
  );
}
