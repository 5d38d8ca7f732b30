/** What a drill needs beside the person, as lines in space, mm. */
import { jointOf, middle, moved, type Place, type Pose } from "@/lib/pictures";

export interface Thing {
  /** Lines from place to place. */
  lines: Place[][];
  /** Balls by place and radius. */
  balls: { at: Place; r: number }[];
  /** Drawn over the person. */
  over?: boolean;
  thin?: boolean;
}

const line = (...places: Place[]): Thing => ({ lines: [places], balls: [] });

/** The rearmost that the seat reaches, and a little. */
const seat = (pose: Pose) => Math.min(pose.lead_hip![0], pose.trail_hip![0], pose.pelvis![0]) - 112;

function wall(pose: Pose): Thing {
  const x = seat(pose);
  const strokes = Array.from({ length: 9 }, (_, k): Place[] => [
    [x, 0, 120 + 190 * k],
    [x - 90, 0, 40 + 190 * k],
  ]);
  return {
    lines: [
      [
        [x, 0, 0],
        [x, 0, 1750],
      ],
      ...strokes,
    ],
    balls: [],
  };
}

function chair(pose: Pose): Thing {
  const x = seat(pose) - 10;
  return {
    lines: [
      [
        [x, 0, 900],
        [x - 40, 0, 450],
        [x - 430, 0, 450],
      ],
      [
        [x - 40, 0, 450],
        [x - 30, 0, 0],
      ],
      [
        [x - 420, 0, 450],
        [x - 430, 0, 0],
      ],
    ],
    balls: [],
  };
}

const along = (x: number, far = 620): Thing => line([x, -far, 0], [x, far, 0]);

function plumb(pose: Pose): Thing {
  const hips = middle(pose.lead_hip!, pose.trail_hip!);
  return { ...line(hips, [hips[0], hips[1], 0]), balls: [{ at: hips, r: 26 }], over: true };
}

function through(a: Place, b: Place, beyond: number): Thing {
  const d: Place = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  return { ...line(moved(a, d, -beyond), moved(b, d, beyond)), over: true };
}

/** Along the back of the spine: a hand's width behind it. */
function onBack(pose: Pose): Thing {
  const [low, high] = [moved(pose.pelvis!, [-1, 0, 0], 112), moved(pose.head!, [-1, 0, 0], 86)];
  return through(low, high, 0.16);
}

function reversed(pose: Pose): Thing {
  const hands = jointOf(pose, "hands");
  const head = pose.club_head!;
  return { lines: [[hands, head]], balls: [{ at: moved(hands, [0, -30, 60]), r: 46 }], over: true };
}

const none: Thing = { lines: [], balls: [] };

export const THINGS: Record<string, (pose: Pose, address: Pose) => Thing> = {
  wall,
  chair,
  stick_outside_lead_foot: (_, address) => line([0, address.lead_toe![1] + 110, 0], [0, address.lead_toe![1] + 110, 1150]),
  rods: (_, address) => ({ lines: [...along(address.lead_toe![0] + 60).lines, ...along(address.club_head![0] + 70).lines], balls: [] }),
  heel_rod: (_, address) => along(address.lead_heel![0] - 60),
  rod_on_line: (_, address) => along(address.club_head![0], 1100),
  club_along_back: onBack,
  club_across_shoulders: (pose) => through(pose.trail_shoulder!, pose.lead_shoulder!, 0.75),
  ball_between_knees: (pose) => ({ lines: [], balls: [{ at: middle(pose.lead_knee!, pose.trail_knee!), r: 105 }], over: true }),
  ball_between_forearms: (pose) => ({
    lines: [],
    balls: [{ at: middle(middle(pose.lead_elbow!, pose.lead_wrist!, 0.4), middle(pose.trail_elbow!, pose.trail_wrist!, 0.4)), r: 70 }],
    over: true,
  }),
  head_cover: (_, address) => ({ lines: [], balls: [{ at: moved(address.club_head!, [170, 130, 0]), r: 75 }] }),
  plumb_line: plumb,
  no_club: () => none,
  club_reversed: reversed,
};

/** With these in hand there is no club on the ball. */
export const WITHOUT_CLUB = new Set(["no_club", "club_reversed", "club_along_back", "club_across_shoulders", "plumb_line"]);
