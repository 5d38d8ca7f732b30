import { tr } from "@/lib/language";

/** The three sides from which a putter is looked at; across and up are what runs over and up the picture. */
export interface Eye {
  id: "front" | "line" | "above";
  name: string;
  short: string;
  across: "along" | "out";
  up: "up" | "out";
  /** What right and left, up and down of the picture are, for a right-hander. */
  words: { right: string; left: string; up: string; down: string };
}

export const EYES: readonly Eye[] = [
  {
    id: "front",
    name: tr("From in front"),
    short: tr("In front"),
    across: "along",
    up: "up",
    words: { right: tr("ahead"), left: tr("behind"), up: tr("high"), down: tr("low") },
  },
  {
    id: "line",
    name: tr("Along the line"),
    short: tr("Along line"),
    across: "out",
    up: "up",
    words: { right: tr("out"), left: tr("in"), up: tr("high"), down: tr("low") },
  },
  {
    id: "above",
    name: tr("From above"),
    short: tr("Above"),
    across: "along",
    up: "out",
    words: { right: tr("ahead"), left: tr("behind"), up: tr("out"), down: tr("in") },
  },
];

/** What the two points are called, in standard and in plain words. */
export const POINT_NAMES = {
  standard: { head: tr("sweet spot"), grip: tr("grip end") },
  plain: { head: tr("putter head"), grip: tr("handle") },
} as const;
export type PointNames = (typeof POINT_NAMES)["standard" | "plain"];

/** How far the enlarged pictures reach to either side, cm, so that what is off the pendulum fits. */
export const REACHES_CM = [2, 4, 8, 16] as const;
/** Within so much of the pendulum at the ball is where skilled putters are (house value). */
export const BAND_CM = 1;
