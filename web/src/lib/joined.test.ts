import { expect, test } from "vitest";

import { joinedWith } from "./joined";

const swing = (number: number) => ({ id: `s${number}`, number });
const lesson = {
  note: "mine",
  swings: [swing(1), swing(2)],
  summaries: [
    { club: "driver", n: 1 },
    { club: "wedge", n: 1 },
  ],
  recordings: ["old"],
  blocks: ["one"],
};

test("a new swing joins once, in its place, with what it changed", () => {
  const came = { swings: [swing(4), swing(2), swing(3)], summaries: [{ club: "wedge", n: 2 }], recordings: ["old", "new"], blocks: [] };
  const joined = joinedWith(lesson, came);
  expect(joined.swings.map((s) => s.id)).toEqual(["s1", "s2", "s3", "s4"]);
  expect(joined.summaries).toEqual([
    { club: "wedge", n: 2 },
    { club: "driver", n: 1 },
  ]);
  expect([joined.recordings, joined.blocks, joined.note]).toEqual([["old", "new"], [], "mine"]);
});

test("nothing new leaves the swings as they are", () => {
  const same = joinedWith(lesson, { swings: [], summaries: [], recordings: ["old"], blocks: ["one"] });
  expect(same).toEqual(lesson);
});
