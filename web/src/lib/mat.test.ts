import { describe, expect, it } from "vitest";

import { alongWord, decodeMat, FINE, footName, leftToRight, pictureAt, Smoother, solePath, type MatPictures } from "./mat";

function traceBlock(columns: Record<string, number[]>): Uint8Array {
  const names = Object.keys(columns);
  const n = columns[names[0]!]!.length;
  let header = JSON.stringify({ n, columns: names });
  header += " ".repeat((4 - (header.length % 4)) % 4);
  const out = new Uint8Array(8 + header.length + 4 * n * names.length);
  out.set(new TextEncoder().encode("FAT1"));
  new DataView(out.buffer).setUint32(4, header.length, true);
  out.set(new TextEncoder().encode(header), 8);
  const floats = new Float32Array(names.flatMap((k) => columns[k]!));
  out.set(new Uint8Array(floats.buffer), 8 + header.length);
  return out;
}

function block(pictures: number[][], every = 2): ArrayBuffer {
  const n = pictures.length * every;
  const way = traceBlock({ time_s: Array.from({ length: n }, (_, k) => k / 100), x: Array(n).fill(0.1) as number[], y: Array(n).fill(-0.2) as number[] });
  const head = pictures.length
    ? { way: way.length, pictures: pictures.length, every, nx: 2, ny: 3, x0: -0.1, y0: -0.3, dx: 0.0125, dy: 0.02, most_kpa: 80 }
    : { way: way.length, pictures: 0 };
  let header = JSON.stringify(head);
  header += " ".repeat((4 - (header.length % 4)) % 4);
  const out = new Uint8Array(8 + header.length + way.length + 6 * pictures.length);
  out.set(new TextEncoder().encode("FAM1"));
  new DataView(out.buffer).setUint32(4, header.length, true);
  out.set(new TextEncoder().encode(header), 8);
  out.set(way, 8 + header.length);
  out.set(pictures.flat(), 8 + header.length + way.length);
  return out.buffer;
}

const flat = (nx: number, ny: number, bytes: number[]): MatPictures => ({
  count: bytes.length / (nx * ny),
  every: 1,
  nx,
  ny,
  x0: 0,
  y0: 0,
  dx: 0.01,
  dy: 0.01,
  mostKpa: 50,
  bytes: new Uint8Array(bytes),
});

describe("the mat's block", () => {
  it("gives way and pictures back", () => {
    const read = decodeMat(
      block([
        [1, 2, 3, 4, 5, 6],
        [7, 8, 9, 10, 11, 255],
      ]),
    );
    expect(read.way.n).toBe(4);
    expect(read.way.columns["x"]![3]).toBeCloseTo(0.1);
    expect(read.pictures).toMatchObject({ count: 2, every: 2, nx: 2, ny: 3, x0: -0.1, dy: 0.02, mostKpa: 80 });
    expect([...read.pictures!.bytes]).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 255]);
  });
  it("may hold a way alone, as force plates do", () => {
    expect(decodeMat(block([])).pictures).toBeNull();
  });
  it("refuses anything else", () => {
    expect(() => decodeMat(new TextEncoder().encode("FAT1....").buffer)).toThrow("mat");
  });
  it("finds the picture of an instant and stays within the recording", () => {
    const read = decodeMat(
      block([
        [0, 0, 0, 0, 0, 0],
        [0, 0, 0, 0, 0, 0],
        [0, 0, 0, 0, 0, 0],
      ]),
    );
    expect([-1, 0, 0.021, 0.04, 9].map((t) => pictureAt(read, t))).toEqual([0, 0, 1, 2, 2]);
  });
});

describe("smoothing a picture", () => {
  it("leaves an even picture even", () => {
    const smooth = new Smoother(flat(3, 4, Array(12).fill(102) as number[]));
    expect([smooth.width, smooth.height]).toEqual([4 * FINE, 3 * FINE]);
    for (const v of smooth.smooth(0)) expect(v).toBeCloseTo(0.4, 5);
  });
  it("keeps a slope a slope inside", () => {
    const smooth = new Smoother(flat(1, 8, [0, 10, 20, 30, 40, 50, 60, 70]));
    const values = smooth.smooth(0);
    const step = values[4 * FINE]! - values[4 * FINE - 1]!;
    expect(step).toBeCloseTo(10 / 255 / FINE, 5);
  });
  it("spreads one cell evenly to both sides and adds nothing", () => {
    const smooth = new Smoother(flat(1, 9, [0, 0, 0, 0, 255, 0, 0, 0, 0]));
    const values = [...smooth.smooth(0)];
    values.forEach((v, k) => expect(v).toBeCloseTo(values[values.length - 1 - k]!, 6));
    expect(values.reduce((a, b) => a + b, 0)).toBeCloseTo(FINE * FINE, 3);
    expect(Math.max(...values)).toBeLessThan(0.67);
  });
  it("uses the picture that is asked for", () => {
    const smooth = new Smoother(flat(1, 2, [0, 0, 255, 255]));
    expect(Math.max(...smooth.smooth(0))).toBe(0);
    expect(smooth.smooth(1)[0]).toBeCloseTo(1, 5);
  });
});

describe("feet as the player lives them", () => {
  it("names the lead foot by the hand", () => {
    expect([footName("lead", false), footName("trail", false), footName("lead", true)]).toEqual(["left foot", "right foot", "right foot"]);
    expect([leftToRight(false), leftToRight(true)]).toEqual([
      ["lead", "trail"],
      ["trail", "lead"],
    ]);
  });
  it("says where along the foot", () => {
    expect([30, 50, 75].map(alongWord)).toEqual(["heel", "middle", "toes"]);
  });
  it("draws a sole between its ends", () => {
    const path = solePath([0, 0], [0.3, 0], 0.1, (x, y) => [-1000 * y, -1000 * x], 1);
    const numbers = path.match(/-?\d+\.\d/g)!.map(Number);
    const ys = numbers.filter((_, k) => k % 2 === 1);
    expect(Math.min(...ys)).toBeGreaterThanOrEqual(-305);
    expect(Math.max(...ys)).toBeLessThanOrEqual(0.1);
    expect(path.startsWith("M") && path.endsWith("Z")).toBe(true);
  });
});
