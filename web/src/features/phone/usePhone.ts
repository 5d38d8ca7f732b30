import { useCallback, useEffect, useRef, useState } from "react";

import { DeviceLink, type LinkState, type Sample } from "@/lib/link";
import { rateOf, sampleOf, upSign, type Orientation } from "@/lib/motion";
import { tr } from "@/lib/language";

export type Segment = "pelvis" | "thorax";
/** insecure: browsers give motion over https alone; silent: no motion came; denied: the person said no. */
export type Trouble = "insecure" | "silent" | "denied";

/** Events until their rate is told. */
const TO_TELL_RATE = 40;
const FLUSH_MS = 50;
/** So long the first event may take, ms. */
const PATIENCE_MS = 3000;

interface AsksLeave {
  requestPermission?: () => Promise<string>;
}

export interface Phone {
  trouble: Trouble | null;
  link: LinkState | null;
  rate: number;
  running: boolean;
  start: (segment: Segment) => Promise<void>;
  stop: () => void;
}

/** The phone as a sensor of the bay that the token is of. */
export function usePhone(token: string): Phone {
  const [trouble, setTrouble] = useState<Trouble | null>(null);
  const [link, setLink] = useState<LinkState | null>(null);
  const [rate, setRate] = useState(0);
  const [running, setRunning] = useState(false);
  const ends = useRef<(() => void)[]>([]);

  const stop = useCallback(() => {
    ends.current.splice(0).forEach((end) => end());
    setRunning(false);
    setLink(null);
  }, []);
  useEffect(() => stop, [stop]);

  const start = useCallback(
    async (segment: Segment) => {
      setTrouble(null);
      if (!window.isSecureContext || typeof DeviceMotionEvent === "undefined") return setTrouble("insecure");
      const asked = await (DeviceMotionEvent as unknown as AsksLeave).requestPermission?.().catch(() => "denied");
      if (asked && asked !== "granted") return setTrouble("denied");
      setRunning(true);
      ends.current.push(
        measure((found) => {
          setRate(found.rate);
          const made = new DeviceLink(address(), { token, ...described(segment, found.rate) }, nowUs, setLink, batteryOf());
          made.start();
          ends.current.push(() => made.stop(tr("stopped on the phone")));
          return made;
        }, setTrouble),
        stayAwake(),
      );
    },
    [token],
  );
  return { trouble, link, rate, running, start, stop };
}

const nowUs = () => Math.round(performance.now() * 1000);
const address = () => `${window.location.origin.replace(/^http/, "ws")}/api/link`;

function described(segment: Segment, rate_hz: number) {
  const id = (sessionStorage.phone ??= `phone-${crypto.getRandomValues(new Uint32Array(1))[0]!.toString(36)}`) as string;
  const device = { id, name: tr("Phone"), model: "phone", boot: Math.round(performance.timeOrigin) };
  return { device, streams: [{ stream: 0, kind: "imu", segment, rate_hz }] };
}

/** Listens to the motion; as soon as its rate is known ``begin`` is called, and hears what comes from then on. Returns how it ends. */
function measure(begin: (found: { rate: number }) => DeviceLink, trouble: (t: Trouble) => void): () => void {
  let link: DeviceLink | null = null;
  let sign: 1 | -1 | null = null;
  let lastUs = -Infinity;
  let orientation: Orientation | null = null;
  const times: number[] = [];
  const waiting: Sample[] = [];
  const turned = (event: DeviceOrientationEvent) => (orientation = event);
  const moved = (event: DeviceMotionEvent) => {
    sign ??= upSign(event, orientation);
    const sample = sampleOf(event, sign ?? 1);
    if (!sample || sample.t_us <= lastUs) return;
    lastUs = sample.t_us;
    if (link) return void waiting.push(sample);
    times.push(event.timeStamp);
    if (times.length > TO_TELL_RATE) link = begin({ rate: rateOf(times) });
  };
  const patience = setTimeout(() => times.length || trouble("silent"), PATIENCE_MS);
  const flush = setInterval(() => link?.send(waiting.splice(0)), FLUSH_MS);
  window.addEventListener("deviceorientation", turned);
  window.addEventListener("devicemotion", moved);
  return () => {
    clearTimeout(patience);
    clearInterval(flush);
    window.removeEventListener("deviceorientation", turned);
    window.removeEventListener("devicemotion", moved);
  };
}

/** Keeps the screen on while it measures, where the browser lets it: a dark phone sends nothing. */
function stayAwake(): () => void {
  let lock: WakeLockSentinel | null = null;
  const hold = () => {
    if (document.visibilityState === "visible")
      void navigator.wakeLock?.request("screen").then(
        (l) => (lock = l),
        () => null,
      );
  };
  hold();
  document.addEventListener("visibilitychange", hold);
  return () => {
    document.removeEventListener("visibilitychange", hold);
    void lock?.release();
  };
}

interface Battery {
  level: number;
  charging: boolean;
}

/** The battery as the bay is told, where the browser tells. */
function batteryOf(): () => Record<string, unknown> {
  let battery: Battery | null = null;
  const asks = navigator as unknown as { getBattery?: () => Promise<Battery> };
  void asks.getBattery?.().then(
    (b) => (battery = b),
    () => null,
  );
  return () => (battery ? { battery: battery.level, charging: battery.charging } : {});
}
