import type { Schemas } from "@/api/client";

export type Bay = Schemas["BayOut"];
export type Device = Schemas["DeviceOut"];

/** Less of a battery may not last the lesson (house value). */
export const LOW_BATTERY = 0.15;
/** A signal weaker than this may lose samples, dBm (house value). */
export const WEAK_DBM = -75;
/** Of the declared rate; with less something is lost on the way (house value). */
const LEAST_RATE = 0.9;

const since = (s: number): string =>
  s < 2 ? "now" : s < 90 ? `${Math.round(s)} s ago` : s < 5400 ? `${Math.round(s / 60)} min ago` : `${Math.round(s / 3600)} h ago`;

/** What asks for attention about a device, worst first; nothing where all is well. */
export function concerns(d: Device): string[] {
  if (!d.connected) return [`gone, last heard ${since(d.seen_s)}`];
  const stream = d.streams[0];
  const out: string[] = [];
  if (d.battery !== null && d.battery < LOW_BATTERY) out.push(`battery at ${Math.round(100 * d.battery)} %: charge it`);
  if (stream && stream.rate_hz > 0 && stream.rate_hz < LEAST_RATE * stream.declared_hz)
    out.push(`sends ${Math.round(stream.rate_hz)} of ${Math.round(stream.declared_hz)} samples a second`);
  if (d.signal_dbm !== null && d.signal_dbm < WEAK_DBM) out.push("weak signal: bring it nearer");
  return [...out, ...d.errors];
}

/** One sentence about a bay. */
export function saysBay(bay: Bay): string {
  if (bay.trouble) return bay.trouble;
  const here = bay.devices.filter((d) => d.connected).length;
  const gone = bay.devices.length - here;
  if (!bay.devices.length) return bay.tokens.length ? "Nothing has sent yet." : "No token yet: make one, and put it into the device.";
  if (!here) return "Nothing sends now.";
  return `${here === 1 ? "One device sends" : `${here} devices send`}${gone ? `, ${gone} ${gone === 1 ? "is" : "are"} gone` : ""}.`;
}

/** What a bay is doing, in words. */
export const STATES: Record<string, string> = { idle: "", calibrating: "holding poses", armed: "ready for a swing", swing: "a swing was captured" };
