/** Values in the units of the page: what is measured in centimetres and metres may be read in inches and feet. */
import { number, tr } from "@/lib/language";
import { manner } from "@/lib/manner";

/** Exactly: international yard and pound agreement of 1959. */
export const CM_PER_INCH = 2.54;
export const FOOT_M = 0.3048;
const PER_INCH: Record<string, number> = { cm: CM_PER_INCH, "cm/s": CM_PER_INCH, "cm²": CM_PER_INCH ** 2 };
const SYMBOL: Record<string, string> = { deg: "°", cm: " cm", "%": " %", s: " s", "deg/s": "°/s", ratio: "", "cm/s": " cm/s", "cm²": " cm²", m: " m" };

const IN_INCHES: Record<string, string> = { cm: tr(" in"), "cm/s": tr(" in/s"), "cm²": tr(" sq in") };

/** A unit as it is read here: its symbol, how many of the metric's own it holds, and how many decimals more it wants. */
export function unitShown(unit: string): { symbol: string; per: number; finer: number } {
  const inches = manner().lengths === "in" ? PER_INCH[unit] : undefined;
  if (inches !== undefined) return { symbol: IN_INCHES[unit]!, per: inches, finer: 1 };
  if (unit === "m" && manner().distances === "ft") return { symbol: tr(" ft"), per: FOOT_M, finer: 0 };
  return { symbol: SYMBOL[unit] ?? "", per: 1, finer: 0 };
}

/** A size without its unit, where the head of a column names that. */
export function bare(unit: string, value: number, decimals: number): string {
  const { per, finer } = unitShown(unit);
  return number(value / per, Math.min(decimals + finer, Math.max(decimals, 1)));
}

/** A size with its unit: *12°*, *3.1 in*. */
export function sized(unit: string, value: number, decimals: number): string {
  return bare(unit, value, decimals) + unitShown(unit).symbol;
}

/** How tall somebody is: *178 cm*, *5 ft 10 in*. */
export function heightWords(metres: number): string {
  if (manner().lengths === "cm") return `${Math.round(100 * metres)} cm`;
  const inches = Math.round((100 * metres) / CM_PER_INCH);
  return tr("{feet} ft {inches} in", { feet: Math.floor(inches / 12), inches: inches % 12 });
}
