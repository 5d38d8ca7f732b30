/** A phone's motion events (W3C Device Orientation and Motion) as samples of a sensor. */
import type { Sample } from "./link";

const RAD = Math.PI / 180;

/** What is read of a motion event; angular velocities of the phone about its own x, y and z in degrees a second. */
export interface Motion {
  timeStamp: number;
  accelerationIncludingGravity: { x: number | null; y: number | null; z: number | null } | null;
  rotationRate: { alpha: number | null; beta: number | null; gamma: number | null } | null;
}

/** What is read of an orientation event, degrees. */
export interface Orientation {
  beta: number | null;
  gamma: number | null;
}

/** A sample, null where the phone told less than both; ``sign``: see ``upSign``. */
export function sampleOf(event: Motion, sign: number): Sample | null {
  const a = event.accelerationIncludingGravity;
  const w = event.rotationRate;
  const values = [a?.x, a?.y, a?.z, w?.alpha, w?.beta, w?.gamma];
  if (!values.every((v): v is number => typeof v === "number" && Number.isFinite(v))) return null;
  return { t_us: Math.round(event.timeStamp * 1000), values: values.map((v, k) => (k < 3 ? v * sign : v * RAD)) };
}

/** Where up is in the phone's axes: its orientation is intrinsic Z, X, Y (alpha, beta, gamma), of which alpha does not matter here. */
export function upOf(o: Orientation): [number, number, number] | null {
  if (o.beta === null || o.gamma === null) return null;
  const [b, g] = [o.beta * RAD, o.gamma * RAD];
  return [-Math.cos(b) * Math.sin(g), Math.sin(b), Math.cos(b) * Math.cos(g)];
}

/** 1 where the phone tells specific force, upward at rest, as the standard says; -1 where it tells the opposite; null where it cannot be told. */
export function upSign(event: Motion, o: Orientation | null): 1 | -1 | null {
  const up = o && upOf(o);
  const a = event.accelerationIncludingGravity;
  if (!up || !a) return null;
  const along = (a.x ?? 0) * up[0] + (a.y ?? 0) * up[1] + (a.z ?? 0) * up[2];
  return Math.abs(along) < 4 ? null : along > 0 ? 1 : -1;
}

/** How many events a second come, from their times in ms: by the middle of the pauses. */
export function rateOf(times: readonly number[]): number {
  const pauses = times.slice(1).map((t, k) => t - times[k]!);
  pauses.sort((a, b) => a - b);
  const middle = pauses[Math.floor(pauses.length / 2)] ?? 0;
  return middle > 0 ? Math.round(1000 / middle) : 0;
}
