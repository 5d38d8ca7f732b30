import { readFileSync } from "node:fs";

import { describe, expect, it } from "vitest";

/** Contrast by WCAG 2.1 (relative luminance), for every pair of tokens in use, also as a person without red or
 * green cones sees them (matrices of Machado, Oliveira and Fernandes 2009, severity 1, figures from memory). */

const css = readFileSync("src/app/styles.css", "utf8");

function tokens(block: string): Record<string, string> {
  const body = css.slice(css.indexOf(block));
  return Object.fromEntries([...body.slice(0, body.indexOf("}")).matchAll(/--(\w+): (#[0-9a-f]{6})/g)].map((m) => [m[1]!, m[2]!]));
}

type Rgb = [number, number, number];
const linear = (hex: string): Rgb =>
  [1, 3, 5].map((k) => {
    const v = parseInt(hex.slice(k, k + 2), 16) / 255;
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  }) as Rgb;
const luminance = ([r, g, b]: Rgb) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
const SEEN: Record<string, number[][]> = {
  full: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  protanopia: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
  deuteranopia: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
};
const seenAs = (rgb: Rgb, kind: string): Rgb =>
  SEEN[kind]!.map((row) => Math.min(1, Math.max(0, row[0]! * rgb[0] + row[1]! * rgb[1] + row[2]! * rgb[2]))) as Rgb;

function contrast(a: string, b: string, kind: string): number {
  const [x, y] = [a, b].map((c) => luminance(seenAs(linear(c), kind))).sort((p, q) => q - p) as [number, number];
  return (x + 0.05) / (y + 0.05);
}

describe.each([
  ["light", ":root {"],
  ["dark", '[data-theme="dark"] {'],
])("%s tokens", (_, block) => {
  const t = tokens(block);
  it.each(Object.keys(SEEN))("keep AA contrast for text (%s)", (kind) => {
    for (const ink of ["ink", "muted", "rust", "sea"]) expect(contrast(t[ink]!, t.paper!, kind), ink).toBeGreaterThanOrEqual(4.5);
    expect(contrast(t.ink!, t.band!, kind)).toBeGreaterThanOrEqual(4.5);
  });
  it("keep 3 to 1 for outlines", () => {
    expect(contrast(t.sea!, t.band!, "full")).toBeGreaterThanOrEqual(3);
    expect(contrast(t.control!, t.paper!, "full")).toBeGreaterThanOrEqual(3);
    expect(contrast(t.rust!, t.band!, "full")).toBeGreaterThanOrEqual(3);
  });
});
