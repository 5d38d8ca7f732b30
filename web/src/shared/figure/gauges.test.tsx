import { renderToStaticMarkup } from "react-dom/server";
import { expect, it } from "vitest";

import type { Drawing } from "@/lib/measures";

import { MeasureGauge } from "./BodyGauge";

const PAGE = "../../../../src/finearc/reports/gauges";
const SHAPES: [string, string, Drawing][] = [
  ["cup", "lead_wrist_extension", "cup"],
  ["hinge", "lead_wrist_radial_deviation", "hinge"],
  ["roll", "hand_roll", "roll"],
  ["shaft", "shaft_elevation", "shaft"],
  ["pelvis", "pelvis_turn", "turn"],
  ["shoulders", "thorax_turn", "turn"],
  ["spine", "pelvis_side_bend", "tilt"],
  ["joint", "lead_knee_flexion", "joint"],
  ["between_feet", "lead_share", "feet"],
  ["along_lead", "lead_heel_toe", "feet"],
  ["along_trail", "trail_heel_toe", "feet"],
];

it.each(SHAPES)("%s is on the page as it is on the screen, at nothing and without a band", async (name, metric, drawing) => {
  const svg = renderToStaticMarkup(
    <svg viewBox="-170 -150 340 310">
      <MeasureGauge metric={metric} drawing={drawing} value={0} low={null} high={null} out={false} mirror={false} />
    </svg>,
  );
  expect(svg).not.toMatch(/NaN|undefined|Infinity/);
  expect(svg.match(/data-moves/g)).toHaveLength(1);
  await expect(`${svg}\n`).toMatchFileSnapshot(`${PAGE}/${name}.svg`);
});
