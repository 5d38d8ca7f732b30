import type { Schemas } from "@/api/client";
import { tr, trn } from "@/lib/language";

export type Bay = Schemas["BayOut"];
export type Device = Schemas["DeviceOut"];

/** Less of a battery may not last the lesson (house value). */
export const LOW_BATTERY = 0.15;
/** A signal weaker than this may lose samples, dBm (house value). */
export const WEAK_DBM = -75;
/** Of the declared rate; with less something is lost on the way (house value). */
const LEAST_RATE = 0.9;

const since = (s: number): string =>
  s < 2
    ? tr("now")
    : s < 90
      ? tr("{s} s ago", { s: Math.round(s) })
      : s < 5400
        ? tr("{s} min ago", { s: Math.round(s / 60) })
        : tr("{s} h ago", { s: Math.round(s / 3600) });

/** What asks for attention about a device, worst first; nothing where all is well. */
export function concerns(d: Device): string[] {
  if (!d.connected) return [tr("gone, last heard {since}", { since: since(d.seen_s) })];
  const stream = d.streams[0];
  const out: string[] = [];
  if (d.battery !== null && d.battery < LOW_BATTERY) out.push(tr("battery at {battery} %: charge it", { battery: Math.round(100 * d.battery) }));
  if (stream && stream.rate_hz > 0 && stream.rate_hz < LEAST_RATE * stream.declared_hz)
    out.push(tr("sends {rate_hz} of {declared_hz} samples a second", { rate_hz: Math.round(stream.rate_hz), declared_hz: Math.round(stream.declared_hz) }));
  if (d.signal_dbm !== null && d.signal_dbm < WEAK_DBM) out.push("weak signal: bring it nearer");
  return [...out, ...d.errors];
}

/** One sentence about a bay. */
export function saysBay(bay: Bay): string {
  if (bay.trouble) return bay.trouble;
  const here = bay.devices.filter((d) => d.connected).length;
  const gone = bay.devices.length - here;
  if (!bay.devices.length) return bay.tokens.length ? tr("Nothing has sent yet.") : tr("No token yet: make one, and put it into the device.");
  if (!here) return tr("Nothing sends now.");
  return `${trn("One device sends", "{count} devices send", here)}${gone ? trn(", {count} is gone", ", {count} are gone", gone) : ""}.`;
}

/** What a bay is doing, in words. */
export const STATES: Record<string, string> = { idle: "", calibrating: tr("holding poses"), armed: tr("ready for a swing"), swing: tr("a swing was captured") };
