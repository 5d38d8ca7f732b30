import type { KeyMap } from "@/shared/ui/keys";

import type { SheetName } from "./SwingSheets";

export interface SwingKeys {
  step: (way: 1 | -1) => void;
  sample: (way: 1 | -1) => void;
  nudge: (way: 1 | -1) => unknown;
  next: () => unknown;
  previous: () => unknown;
  peek: () => void;
  sheet: (name: SheetName) => void;
  ball: (key: number) => void;
  measure: () => void;
  group: () => void;
  figure: () => void;
  video: () => void;
  pin: () => void;
  train: () => void;
  follow: () => void;
  undo: () => void;
  redo: () => void;
  show: () => void;
  compare: () => void;
  table: () => void;
}

/** Keys of the Swing view; a presenter remote or a pedal sends Page Down, Page Up, Enter and Escape. */
export function swingKeys(k: SwingKeys): KeyMap {
  const mark = () => k.sheet("kind");
  return {
    ArrowLeft: () => k.step(-1),
    ArrowRight: () => k.step(1),
    "Shift+ArrowLeft": () => k.sample(-1),
    "Shift+ArrowRight": () => k.sample(1),
    "[": () => k.nudge(-1),
    "]": () => k.nudge(1),
    PageDown: k.next,
    PageUp: k.previous,
    Escape: k.peek,
    Enter: mark,
    k: mark,
    s: () => k.sheet("ball"),
    c: () => k.sheet("club"),
    n: () => k.sheet("numbers"),
    w: () => k.sheet("why"),
    m: k.measure,
    g: k.group,
    x: k.figure,
    o: k.video,
    b: k.pin,
    t: k.train,
    f: k.follow,
    z: k.undo,
    Z: k.redo,
    v: k.show,
    e: k.compare,
    l: k.table,
    ...Object.fromEntries([1, 2, 3, 4, 5, 6, 7, 8, 9].map((n) => [String(n), () => k.ball(n)])),
  };
}
