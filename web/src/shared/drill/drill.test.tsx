import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";

import { around, jointOf, person, seen, type Pose } from "@/lib/pictures";
import POSES from "@/shared/figure/poses.json";

import { DrillPicture, pictures } from "./DrillPicture";
import { THINGS } from "./things";

const poses = POSES as unknown as Record<string, Pose>;
const address = poses.address!;
const PAGE = "../../../../src/finearc/reports/pictures";

describe("pictures of drills", () => {
  it.each(Object.keys(pictures))("%s is on the page as it is on the screen", async (name) => {
    const svg = renderToStaticMarkup(<DrillPicture name={name} mirror={false} />);
    expect(svg).not.toMatch(/NaN|undefined|Infinity/);
    await expect(`${svg}\n`).toMatchFileSnapshot(`${PAGE}/${name}.svg`);
  });
  it("is nothing for a name without one", () => {
    expect(renderToStaticMarkup(<DrillPicture name="" mirror={false} />)).toBe("");
  });
  it("is the mirror image for a left-hander", () => {
    const drawn = (mirror: boolean) => renderToStaticMarkup(<DrillPicture name="heel_up" mirror={mirror} />);
    expect(drawn(true)).toContain("scale(-1,1)");
    expect(drawn(true).replace(/ transform="translate[^"]*"/, "")).toBe(drawn(false));
  });
});

describe("the person in them", () => {
  it("hangs the hands in front of the thighs at address, the ball beyond the toes", () => {
    const hands = jointOf(address, "hands");
    expect(hands[0]).toBeGreaterThan(Math.max(address.lead_knee![0], address.trail_knee![0]) + 40);
    expect(address.club_head![0]).toBeGreaterThan(address.lead_toe![0] + 200);
  });
  it("turns back to the top and forward to impact as a swing does", () => {
    const open = (pose: Pose) => pose.lead_hip![0] - pose.trail_hip![0];
    expect(open(poses.top!)).toBeGreaterThan(60); // the lead hip to the front: closed
    expect(open(poses.impact!)).toBeLessThan(-60);
    expect(poses.top!.lead_fingers![2]).toBeGreaterThan(address.neck![2]);
  });
  it("is drawn from the farthest piece to the nearest", () => {
    const order = person(address, "front").map((o) => o.name);
    expect(order.indexOf("shirt")).toBeGreaterThan(order.indexOf("trousers"));
    const side = person(address, "line").map((o) => o.name);
    expect(side.indexOf("arm")).toBeLessThan(side.indexOf("shirt")); // the lead arm behind the body
    expect(side.lastIndexOf("arm")).toBeGreaterThan(side.indexOf("shirt"));
  });
  it("is outlined by what an eye sees of two balls and the way between them", () => {
    const balls = [
      { at: [0, 0, 0] as [number, number, number], r: 10 },
      { at: [0, 100, 0] as [number, number, number], r: 10 },
    ];
    const xs = around(balls, "front").map(([x]) => x);
    expect(Math.min(...xs)).toBeCloseTo(-10);
    expect(Math.max(...xs)).toBeCloseTo(110);
    expect(Math.max(...around(balls, "line").map(([x]) => x))).toBeCloseTo(10); // one behind the other
  });
});

describe("what a drill needs", () => {
  it("puts the wall behind the seat, and the rods along toes and ball", () => {
    const wall = THINGS.wall!(poses.impact!, address);
    expect(wall.lines[0]![0]![0]).toBeLessThan(Math.min(poses.impact!.lead_hip![0], poses.impact!.trail_hip![0]) - 90);
    const [toes, ball] = THINGS.rods!(address, address).lines.map((l) => l[0]![0]);
    expect(toes!).toBeGreaterThan(address.lead_toe![0]);
    expect(ball!).toBeGreaterThan(address.club_head![0]);
  });
  it("puts the ball between the knees", () => {
    const [ball] = THINGS.ball_between_knees!(poses.top!, address).balls;
    const ys = [poses.top!.lead_knee!, poses.top!.trail_knee!].map((k) => seen.front(k)[0]);
    expect(ball!.at[1]).toBeGreaterThan(Math.min(...ys));
    expect(ball!.at[1]).toBeLessThan(Math.max(...ys));
  });
});
