import { expect, it } from "vitest";

import { firstOf, ledBy } from "./lead";

const finding = (id: string) => ({
  finding: id,
  says: `Says ${id}.`,
  plain_says: `Plain ${id}.`,
  player_says: `You ${id}.`,
  tends: "Tends.",
  fits: ["push"],
  metric: `m-${id}`,
  moment: "address..top",
});
const swing = {
  club: "7-iron",
  sensor_moved: false,
  headline: { text: "Says a.", plain_text: "", tends: "", player_text: "", finding: "a", metric: "m-a", moment: "top" },
  findings: [finding("a"), finding("b")],
};
const proposal = (id: string) => ({ finding: id, label: id, why: "", plain_why: "", drills: [] });
const kept = (id: string) => ({ finding: id, label: id, drill: "", why: "", override_reason: "" });
const lesson = (more: object = {}) => ({
  planned: false,
  status: "running",
  priorities: [] as ReturnType<typeof kept>[],
  summaries: [{ club: "7-iron", proposals: [proposal("b")] }],
  ...more,
});

it("a swing opens on what the plan proposes first, else on what was chosen", () => {
  const led = ledBy(swing, lesson());
  expect(led.headline).toEqual({
    text: "Says b.",
    plain_text: "Plain b.",
    tends: "Tends. It fits with the ball flight: push.",
    player_text: "You b.",
    finding: "b",
    metric: "m-b",
    moment: "top",
  });
  expect(ledBy(swing, lesson({ planned: true, priorities: [kept("a")] }))).toBe(swing);
  expect(firstOf(lesson({ status: "closed", priorities: [kept("c")] }), "7-iron")).toBe("c");
});

it("a swing that does not show it, or whose sensor moved, keeps its own sentence", () => {
  expect(ledBy({ ...swing, findings: [finding("a")] }, lesson()).headline.finding).toBe("a");
  const moved = { ...swing, sensor_moved: true };
  expect(ledBy(moved, lesson())).toBe(moved);
  expect(firstOf(lesson({ summaries: [] }), "7-iron")).toBe("");
});
