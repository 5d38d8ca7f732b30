import { useRouterState } from "@tanstack/react-router";

import { Choice, useSettings } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { change } from "@/lib/settings";
import { tr } from "@/lib/language";

interface View {
  name: string;
  at: RegExp;
  keys: [string, string][];
}

const VIEWS: View[] = [
  {
    name: tr("Swing"),
    at: /\/swings\//,
    keys: [
      ["← →", tr("checkpoint before / after")],
      [tr("Shift ← →"), tr("one sample back / on")],
      [tr("Page Down, Page Up"), tr("next, previous swing")],
      ["Escape", tr("the previous swing at the same checkpoint, and back")],
      [tr("Enter, k"), tr("mark the kind of this swing")],
      ["1 – 9", tr("ball flight: start left to right, curve top to bottom")],
      ["s", tr("strike")],
      ["c", tr("club")],
      ["m", tr("next measure")],
      ["g", tr("next group of measures")],
      ["x", tr("the whole figure")],
      [tr("o, Space"), tr("video; let time run, hold it")],
      ["n", tr("numbers")],
      ["w", tr("why")],
      ["b", tr("pin as before")],
      ["t", tr("train this")],
      ["f", tr("follow new swings")],
      ["[ ]", tr("move the chosen checkpoint by one sample")],
      [tr("z, Shift z"), tr("undo, do again")],
      ["e", tr("compare with the last lesson, another swing, a reference")],
      ["l", tr("the lesson as a table")],
      ["v", tr("Show: what the player may see")],
      ["y, u", tr("asked about a changed address: the grip, the sensor")],
    ],
  },
  {
    name: tr("Diary"),
    at: /\/diary$/,
    keys: [
      ["← →", tr("earlier, later")],
      ["t, b", tr("today; book a lesson")],
      [tr("Space, arrows, Space"), tr("take a lesson, move it by a quarter of an hour or a column, put it down")],
    ],
  },
  {
    name: tr("Plan"),
    at: /\/plan$/,
    keys: [
      ["o, s", tr("a priority of your own; swap the two")],
      ["k, l, j", tr("swings and balls; limits and pain; judge otherwise")],
      ["z, n", tr("undo; a link for the player")],
      ["e", tr("end the lesson")],
    ],
  },
  {
    name: tr("Putting"),
    at: /\/putting$/,
    keys: [
      [tr("Page Down, Enter, Space"), tr("the next step")],
      [tr("Page Up, 1 – 7"), tr("the step before; a step by its number")],
      ["f", tr("the next distance (how far)")],
      ["r", tr("angles or rates")],
      ["← →", tr("a moment back, on")],
      ["↑ ↓", tr("putt before / after")],
      ["h", "before changing: what hangs together"],
      ["v", tr("the putter and its pendulum's pivot")],
      ["n", tr("notes")],
      [tr("z, Shift z"), tr("undo, do again")],
      ["Escape", tr("back to Capture")],
    ],
  },
  {
    name: tr("Compare"),
    at: /\/compare$/,
    keys: [
      ["← →", tr("checkpoint before / after")],
      ["p, l", tr("with the previous swing, with the last lesson")],
      ["c", tr("with something else")],
      ["m", tr("next measure, what differs most first")],
      ["n", tr("all values")],
      ["x", tr("both figures")],
      ["Escape", tr("go back")],
    ],
  },
  {
    name: tr("Table"),
    at: /\/table$/,
    keys: [
      [tr("↑ ↓, Enter"), tr("swing before / after; open it")],
      [tr("Space, Shift ↑ ↓, a"), tr("choose it; choose on; all or none")],
      ["k", tr("mark the chosen ones")],
      ["e", tr("compare the two chosen")],
      ["← →, m", tr("columns before / further on; which ones")],
      ["c", tr("copy")],
      [tr("z, Shift z"), tr("undo, do again")],
    ],
  },
  {
    name: tr("Capture"),
    at: /\/capture$/,
    keys: [
      ["l, t", tr("live, train")],
      ["1 – 5", tr("putts: holed, left, right, short, long")],
      ["← →, p", tr("putts: the putt before, after; the plan of distances")],
      [tr("z, Shift z"), tr("undo, do again: an import too")],
    ],
  },
  {
    name: tr("Live"),
    at: /\/live$/,
    keys: [
      ["← →", tr("the question before, the next")],
      ["x", tr("the whole figure, or the arc")],
      ["Escape", tr("back to Capture")],
    ],
  },
  {
    name: tr("Train"),
    at: /\/train$/,
    keys: [
      ["s", tr("sound")],
      ["1 – 5", tr("what was felt, where that is asked first")],
      ["t, e", tr("test it; end")],
      ["Escape", tr("back to Capture")],
    ],
  },
  { name: tr("Search"), at: /\/search$/, keys: [["/, t", tr("the question; by lesson or as a table")]] },
  { name: tr("Show"), at: /\/show\//, keys: [[tr("v, Enter, Escape"), tr("back to the swing")]] },
];
const EVERYWHERE: [string, string][] = [
  ["/", tr("search across players and lessons")],
  ["d", tr("light or dark")],
  ["?", tr("this help")],
];

/** The keys of the view that is open first, then those that hold everywhere, then the other views'. */
export function keysFor(path: string): [string, [string, string][]][] {
  const here = VIEWS.filter((v) => v.at.test(path));
  const others = VIEWS.filter((v) => !here.includes(v));
  return [
    ...here.map((v): [string, View["keys"]] => [tr("Here, in {name}", { name: v.name }), v.keys]),
    [tr("Everywhere"), EVERYWHERE],
    ...others.map((v): [string, View["keys"]] => [tr("In {name}", { name: v.name }), v.keys]),
  ];
}

/** Keys and the few settings of this screen. */
export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  const now = useSettings();
  const path = useRouterState({ select: (s) => s.location.pathname });
  return (
    <Sheet open={open} onClose={onClose} title={tr("Keys and settings")}>
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
      <p className="text-muted">{tr("Light or dark")}</p>
      <Choice
        label={tr("Light or dark")}
        value={now.theme}
        options={[
          { id: "light", label: tr("Light") },
          { id: "dark", label: tr("Dark") },
          { id: "system", label: tr("As the device") },
        ]}
        onChange={(theme) => change({ theme })}
      />
      <p className="mt-3 text-muted">{tr("Words")}</p>
      <Choice
        label={tr("Words")}
        value={now.words}
        options={[
          { id: "plain", label: tr("Cupped, bowed") },
          { id: "standard", label: tr("Extended, flexed") },
        ]}
        onChange={(words) => change({ words })}
      />
      <p className="mt-3 text-muted">{tr("Bottom bar for")}</p>
      <Choice
        label={tr("Bottom bar for")}
        value={now.bar}
        options={[
          { id: "right", label: tr("the right hand") },
          { id: "left", label: tr("the left hand") },
        ]}
        onChange={(bar) => change({ bar })}
      />
      <p className="mt-3 text-muted">{tr("Sounds")}</p>
      <Choice
        label={tr("Sounds")}
        value={now.sound ? "on" : "off"}
        options={[
          { id: "on", label: tr("On") },
          { id: "off", label: tr("Off") },
        ]}
        onChange={(sound) => change({ sound: sound === "on" })}
      />
    </Sheet>
  );
}
