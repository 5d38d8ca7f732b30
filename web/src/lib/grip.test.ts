import { describe, expect, it } from "vitest";

import { askedOf, betweenSwings } from "./grip";

const swing = (number: number, grip = "", answer = "", recording_id = "a") => ({
  id: String(number),
  number,
  recording_id,
  sensor_moved: false,
  grip: grip ? { question: grip, plain_question: grip, answer } : null,
});

describe("a grip that changed", () => {
  const open = [swing(1), swing(2), swing(3, "12° more cupped"), swing(4)];

  it("is asked about at its swing and after it, and not before", () => {
    expect(askedOf(open)?.number).toBe(3);
    expect(askedOf(open, 4)?.number).toBe(3);
    expect(askedOf(open, 2)).toBeUndefined();
  });

  it("is asked once: an answer or a new calibration ends it", () => {
    expect(askedOf([swing(1), swing(2, "12°", "grip"), swing(3)])).toBeUndefined();
    expect(askedOf([swing(1), swing(2, "12°"), swing(3, "", "", "b")])).toBeUndefined();
  });

  it("is said between swings on either side of it only", () => {
    expect(betweenSwings(open, open[1]!, open[3]!)).toBe("other grip");
    expect(betweenSwings(open, open[1]!, open[2]!)).toBe("other grip");
    expect(betweenSwings(open, open[0]!, open[1]!)).toBe("");
    expect(betweenSwings(open, open[2]!, open[3]!)).toBe("");
  });

  it("is nothing between swings where it was the sensor", () => {
    const swings = [swing(1), swing(2, "12°", "sensor"), swing(3)];
    expect(betweenSwings(swings, swings[0]!, swings[2]!)).toBe("");
  });

  it("matters less than another calibration", () => {
    const swings = [swing(1), swing(2, "12°", "grip", "b")];
    expect(betweenSwings(swings, swings[0]!, swings[1]!)).toBe("other calibration");
  });
});
