import { describe, expect, it } from "vitest";

import { changedSince, chosenOf, departs, flightWords, forest, inLines, putFirst, swapped, without, type Choice } from "./plan";

const proposal = (finding: string, drills = ["d"]) => ({ finding, label: finding.toUpperCase(), why: "Because.", plain_why: "Plainly.", drills });
const choice = (finding: string): Choice => ({ finding, label: finding, drill: "", why: "", override_reason: "" });
const name = (id: string) => id.toUpperCase();

describe("what stands in the plan", () => {
  it("is the proposal until the instructor makes it their own, then what they kept, also when that is nothing", () => {
    const proposals = [proposal("a"), proposal("b", []), proposal("c")];
    expect(chosenOf(false, [], proposals).map((c) => [c.finding, c.drill])).toEqual([
      ["a", "d"],
      ["b", ""],
    ]);
    expect(chosenOf(false, [], proposals, true)[0]!.why).toBe("Plainly.");
    expect(chosenOf(true, [choice("x")], proposals).map((c) => c.finding)).toEqual(["x"]);
    expect(chosenOf(true, [], proposals)).toEqual([]);
  });
  it("asks for a reason only where it departs from the proposal", () => {
    const proposals = [proposal("a"), proposal("b")];
    expect(departs(choice("a"), 0, proposals)).toBe(false);
    expect(departs(choice("b"), 0, proposals)).toBe(true);
    expect(departs(choice("b"), 0, [])).toBe(false);
  });
  it("never holds more than two", () => {
    expect(putFirst([choice("a"), choice("b")], choice("c")).map((c) => c.finding)).toEqual(["c", "a"]);
    expect(putFirst([choice("a"), choice("b")], choice("b")).map((c) => c.finding)).toEqual(["b", "a"]);
    expect(putFirst([choice(""), choice("b")], choice("")).map((c) => c.finding)).toEqual(["", ""]);
    expect(swapped([choice("a"), choice("b")]).map((c) => c.finding)).toEqual(["b", "a"]);
    expect(without([choice("a"), choice("b")], 0).map((c) => c.finding)).toEqual(["b"]);
  });
});

describe("what changed since the plan was last seen", () => {
  it("says what is first now and what was", () => {
    expect(changedSince(null, [proposal("a")], name)).toBe("");
    expect(changedSince(["a"], [proposal("a")], name)).toBe("");
    expect(changedSince(["b", "a"], [proposal("a"), proposal("b")], name)).toBe("Now first: A, before: b.");
    expect(changedSince(["a"], [], name)).toBe("Nothing is proposed any more; before it was a.");
    expect(changedSince(["a", "b"], [proposal("a")], name)).toBe("One priority less than before.");
    expect(changedSince(["a"], [proposal("a"), proposal("c")], name)).toBe("Second now: c.");
    expect(changedSince([], [proposal("a")], name)).toBe("Now first: A.");
  });
});

describe("the drawing of causes", () => {
  const node = (finding: string, explained_by: string | null) => ({ finding, explained_by, root: "", layer: 0 });
  it("puts each finding under what explains it, one step to the right", () => {
    const { placed } = forest([node("a", null), node("d", null), node("b", "a"), node("c", "b")]);
    expect(placed.map((p) => p.node.finding)).toEqual(["a", "b", "c", "d"]);
    expect(placed.map((p) => p.x)).toEqual([20, 54, 88, 20]);
    expect(placed[1]!.from).toEqual({ x: 20, y: 20 });
    expect(placed[3]!.from).toBeNull();
  });
  it("leaves nobody out and is empty for nobody", () => {
    expect(forest([]).placed).toEqual([]);
    expect(forest([]).height).toBeGreaterThan(0);
  });
});

describe("the usual flight", () => {
  const flight = { seen: 5, start: "straight", curve: "trail", start_count: 5, curve_count: 4, told: false, words: ["slice"] };
  it("is said in the player's own left and right", () => {
    expect(flightWords(flight, (s) => (s === "trail" ? "right" : s))).toBe("5 of 5 start straight, 4 of 5 curve right");
    expect(flightWords({ ...flight, curve: "straight" }, (s) => s)).toContain("fly straight");
  });
  it("says when it is only the player's word, or nothing", () => {
    expect(flightWords({ ...flight, told: true }, String)).toBe("noted as the usual miss: slice");
    expect(flightWords({ ...flight, told: true, words: [] }, String)).toBe("no ball noted yet");
  });
});

describe("names in the cause graph", () => {
  it("stand in one line, in two where they must, and end in an ellipsis beyond", () => {
    expect(inLines("Short turn", 20)).toEqual(["Short turn"]);
    expect(inLines("The wrist cups far beyond the band", 20)).toEqual(["The wrist cups far", "beyond the band"]);
    const long = inLines("The wrist cups far beyond the band at the top of the swing", 20);
    expect(long).toHaveLength(2);
    expect(long[1]!.endsWith("…")).toBe(true);
    expect(inLines("Unbreakable".repeat(4), 20)[0]).toHaveLength(20);
  });
});
