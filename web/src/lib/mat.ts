/** Pictures of a pressure mat and the way of the pressure: the binary block "FAM1". */
import { decodeTraces, indexAt, type Traces } from "./traces";
import { tr } from "@/lib/language";

export interface MatPictures {
  count: number;
  /** A picture belongs to every so manieth sample of the way. */
  every: number;
  nx: number;
  ny: number;
  /** Centre of the first cell and distance of two, m: x to the ball, y to the target. */
  x0: number;
  y0: number;
  dx: number;
  dy: number;
  mostKpa: number;
  /** One after another, x by y, 255 being `mostKpa`. */
  bytes: Uint8Array;
}

export interface MatBlock {
  way: Traces;
  pictures: MatPictures | null;
}

interface Header {
  way: number;
  pictures: number;
  every?: number;
  nx?: number;
  ny?: number;
  x0?: number;
  y0?: number;
  dx?: number;
  dy?: number;
  most_kpa?: number;
}

export function decodeMat(buffer: ArrayBuffer): MatBlock {
  const magic = String.fromCharCode(...new Uint8Array(buffer, 0, 4));
  if (magic !== "FAM1") throw new Error(tr("not a block of mat pictures"));
  const size = new DataView(buffer).getUint32(4, true);
  const h = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 8, size))) as Header;
  const way = decodeTraces(buffer.slice(8 + size, 8 + size + h.way));
  if (!h.pictures) return { way, pictures: null };
  const cells = h.nx! * h.ny! * h.pictures;
  return {
    way,
    pictures: {
      count: h.pictures,
      every: h.every!,
      nx: h.nx!,
      ny: h.ny!,
      x0: h.x0!,
      y0: h.y0!,
      dx: h.dx!,
      dy: h.dy!,
      mostKpa: h.most_kpa!,
      bytes: new Uint8Array(buffer, 8 + size + h.way, cells),
    },
  };
}

/** Which picture shows an instant. */
export function pictureAt(block: MatBlock, t: number): number {
  const p = block.pictures!;
  return Math.min(p.count - 1, Math.max(0, Math.round(indexAt(block.way.time, t) / p.every)));
}

export const FINE = 4;

interface Stencil {
  index: Int32Array;
  weight: Float32Array;
}

/** Cubic B-spline weights that bring `n` samples to `n * FINE`. */
function stencil(n: number): Stencil {
  const index = new Int32Array(n * FINE * 4);
  const weight = new Float32Array(n * FINE * 4);
  for (let k = 0; k < n * FINE; k++) {
    const at = (k + 0.5) / FINE - 0.5;
    const base = Math.floor(at);
    const u = at - base;
    const w = [(1 - u) ** 3 / 6, (3 * u ** 3 - 6 * u ** 2 + 4) / 6, (-3 * u ** 3 + 3 * u ** 2 + 3 * u + 1) / 6, u ** 3 / 6];
    for (let j = 0; j < 4; j++) {
      index[4 * k + j] = Math.min(n - 1, Math.max(0, base - 1 + j));
      weight[4 * k + j] = w[j]!;
    }
  }
  return { index, weight };
}

/** Smooths pictures onto a finer grid; its buffers are used again for every picture. */
export class Smoother {
  readonly width: number;
  readonly height: number;
  readonly values: Float32Array;
  private readonly rows: Float32Array;
  private readonly along: Stencil;
  private readonly across: Stencil;

  /** `width` runs along y, `height` along x. */
  constructor(private readonly p: MatPictures) {
    this.width = p.ny * FINE;
    this.height = p.nx * FINE;
    this.rows = new Float32Array(p.nx * this.width);
    this.values = new Float32Array(this.width * this.height);
    this.along = stencil(p.ny);
    this.across = stencil(p.nx);
  }

  /** The picture's values, 0 to 1, row by row of x, finer. */
  smooth(picture: number): Float32Array {
    const { nx, ny, bytes } = this.p;
    const from = picture * nx * ny;
    const { width, rows, values, along, across } = this;
    for (let i = 0; i < nx; i++)
      for (let k = 0; k < width; k++) {
        let sum = 0;
        for (let j = 0; j < 4; j++) sum += along.weight[4 * k + j]! * bytes[from + i * ny + along.index[4 * k + j]!]!;
        rows[i * width + k] = sum;
      }
    for (let i = 0; i < this.height; i++)
      for (let k = 0; k < width; k++) {
        let sum = 0;
        for (let j = 0; j < 4; j++) sum += across.weight[4 * i + j]! * rows[across.index[4 * i + j]! * width + k]!;
        values[i * width + k] = sum / 255;
      }
    return values;
  }
}

/** Outline of a sole as an SVG path in mm on the screen: toes up, the player's own left on the left. */
export function solePath(heel: number[], toe: number[], width: number, screen: (x: number, y: number) => [number, number], outward: 1 | -1): string {
  const length = Math.hypot(toe[0]! - heel[0]!, toe[1]! - heel[1]!);
  const ahead = [(toe[0]! - heel[0]!) / length, (toe[1]! - heel[1]!) / length] as const;
  const out = [-ahead[1] * outward, ahead[0] * outward] as const;
  const at = (along: number, aside: number) => {
    const [sx, sy] = screen(
      heel[0]! + along * length * ahead[0] + aside * 0.5 * width * out[0],
      heel[1]! + along * length * ahead[1] + aside * 0.5 * width * out[1],
    );
    return `${sx.toFixed(1)},${sy.toFixed(1)}`;
  };
  return `M${at(0, 0)} C${at(0, 0.5)} ${at(0.03, 0.68)} ${at(0.14, 0.72)} C${at(0.4, 0.68)} ${at(0.5, 0.98)} ${at(0.72, 0.98)} C${at(0.9, 0.96)} ${at(0.98, 0.55)} ${at(1, 0.05)} C${at(1.01, -0.5)} ${at(0.93, -0.96)} ${at(0.72, -0.95)} C${at(0.55, -0.9)} ${at(0.4, -0.45)} ${at(0.3, -0.55)} C${at(0.2, -0.68)} ${at(0.03, -0.7)} ${at(0, 0)} Z`;
}

/** A sole as it is drawn where no mat has seen one: toes up, 224 high. */
export const SOLE =
  "M-2,112 C-22,112 -30,96 -29,78 C-27,44 -38,20 -38,-34 C-38,-84 -24,-112 0,-112 C26,-112 36,-78 36,-38 C36,4 22,24 24,70 C25,96 18,112 -2,112 Z";

export type Side = "lead" | "trail";

/** The foot's name for the player: a right-hander's lead foot is the left one. */
export const footName = (side: Side, mirror: boolean): string => ((side === "lead") !== mirror ? tr("left foot") : tr("right foot"));
/** Both sides from the player's left to the right. */
export const leftToRight = (mirror: boolean): Side[] => (mirror ? ["trail", "lead"] : ["lead", "trail"]);

/** Where along a foot the pressure is, in a word. */
export const alongWord = (percent: number): string => (percent > 60 ? tr("toes") : percent < 42 ? tr("heel") : tr("middle"));
