import { useRouterState } from "@tanstack/react-router";

import { Choice, useSettings } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { change } from "@/lib/settings";

interface View {
  name: string;
  at: RegExp;
  keys: [string, string][];
}

const VIEWS: View[] = [
  {
    name: "Swing",
    at: /\/swings\//,
    keys: [
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
      ["o, Space", "video; let time run, hold it"],
      ["n", "numbers"],
      ["w", "why"],
      ["b", "pin as before"],
      ["t", "train this"],
      ["f", "follow new swings"],
      ["[ ]", "move the chosen checkpoint by one sample"],
      ["z, Shift z", "undo, do again"],
      ["e", "compare with the last lesson, another swing, a reference"],
      ["l", "the lesson as a table"],
      ["v", "Show: what the player may see"],
      ["y, u", "asked about a changed address: the grip, the sensor"],
    ],
  },
  {
    name: "Diary",
    at: /\/diary$/,
    keys: [
      ["← →", "earlier, later"],
      ["t, b", "today; book a lesson"],
      ["Space, arrows, Space", "take a lesson, move it by a quarter of an hour or a column, put it down"],
    ],
  },
  {
    name: "Plan",
    at: /\/plan$/,
    keys: [
      ["o, s", "a priority of your own; swap the two"],
      ["k, l, j", "swings and balls; limits and pain; judge otherwise"],
      ["z, n", "undo; a link for the player"],
      ["e", "end the lesson"],
    ],
  },
  {
    name: "Putting",
    at: /\/putting$/,
    keys: [
      ["Page Down, Enter, Space", "the next step"],
      ["Page Up, 1 – 7", "the step before; a step by its number"],
      ["f", "the next distance (how far)"],
      ["r", "angles or rates"],
      ["← →", "a moment back, on"],
      ["↑ ↓", "putt before / after"],
      ["h", "before changing: what hangs together"],
      ["v", "the putter and its pendulum's pivot"],
      ["n", "notes"],
      ["z, Shift z", "undo, do again"],
      ["Escape", "back to Capture"],
    ],
  },
  {
    name: "Compare",
    at: /\/compare$/,
    keys: [
      ["← →", "checkpoint before / after"],
      ["p, l", "with the previous swing, with the last lesson"],
      ["c", "with something else"],
      ["m", "next measure, what differs most first"],
      ["n", "all values"],
      ["x", "both figures"],
      ["Escape", "back"],
    ],
  },
  {
    name: "Table",
    at: /\/table$/,
    keys: [
      ["↑ ↓, Enter", "swing before / after; open it"],
      ["Space, Shift ↑ ↓, a", "choose it; choose on; all or none"],
      ["k", "mark the chosen ones"],
      ["e", "compare the two chosen"],
      ["← →, m", "columns before / further on; which ones"],
      ["c", "copy"],
      ["z, Shift z", "undo, do again"],
    ],
  },
  {
    name: "Capture",
    at: /\/capture$/,
    keys: [
      ["l, t", "live, train"],
      ["1 – 5", "putts: holed, left, right, short, long"],
      ["← →, p", "putts: the putt before, after; the plan of distances"],
      ["z, Shift z", "undo, do again: an import too"],
    ],
  },
  {
    name: "Live",
    at: /\/live$/,
    keys: [
      ["← →", "the question before, the next"],
      ["x", "the whole figure, or the arc"],
      ["Escape", "back to Capture"],
    ],
  },
  {
    name: "Train",
    at: /\/train$/,
    keys: [
      ["s", "sound"],
      ["1 – 5", "what was felt, where that is asked first"],
      ["t, e", "test it; end"],
      ["Escape", "back to Capture"],
    ],
  },
  { name: "Search", at: /\/search$/, keys: [["/, t", "the question; by lesson or as a table"]] },
  { name: "Show", at: /\/show\//, keys: [["v, Enter, Escape", "back to the swing"]] },
];
const EVERYWHERE: [string, string][] = [
  ["/", "search across players and lessons"],
  ["d", "light or dark"],
  ["?", "this help"],
];

/** The keys of the view that is open first, then those that hold everywhere, then the other views'. */
export function keysFor(path: string): [string, [string, string][]][] {
  const here = VIEWS.filter((v) => v.at.test(path));
  const others = VIEWS.filter((v) => !here.includes(v));
  return [
    ...here.map((v): [string, View["keys"]] => [`Here, in ${v.name}`, v.keys]),
    ["Everywhere", EVERYWHERE],
    ...others.map((v): [string, View["keys"]] => [`In ${v.name}`, v.keys]),
  ];
}

/** Keys and the few settings of this screen. */
export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  const now = useSettings();
  const path = useRouterState({ select: (s) => s.location.pathname });
  return (
    <Sheet open={open} onClose={onClose} title="Keys and settings">
      {keysFor(path).map(([where, keys]) => (
        <section key={where} className="mb-4">
          <h3 className="text-xl font-bold">{where}</h3>
          <dl className="grid grid-cols-[190px_1fr] gap-y-1.5 text-lg max-[700px]:grid-cols-[120px_1fr]">
            {keys.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="font-bold">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
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
