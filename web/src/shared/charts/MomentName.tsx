import { momentLines } from "@/lib/words";

/** A checkpoint's name inside an SVG text, its last word below where it is long. */
export function MomentName({ name, x, rise = 0 }: { name: string; x: number; rise?: number }) {
  const lines = momentLines(name);
  return lines.map((line, k) => (
    <tspan key={line} x={x} dy={k ? "1.05em" : lines.length > 1 ? `${-rise}em` : 0}>
      {line}{" "}
    </tspan>
  ));
}
