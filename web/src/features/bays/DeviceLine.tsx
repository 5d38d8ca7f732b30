import { concerns, LOW_BATTERY, type Device } from "./words";
import { number, tr } from "@/lib/language";

const [R, SWEEP] = [15, 1.5 * Math.PI];

const at = (share: number): string => {
  const angle = 0.75 * Math.PI + SWEEP * share;
  return `${20 + R * Math.cos(angle)} ${20 + R * Math.sin(angle)}`;
};
const arc = (share: number): string => `M ${at(0)} A ${R} ${R} 0 ${SWEEP * share > Math.PI ? 1 : 0} 1 ${at(share)}`;

/** A battery's level as a part of an arc. */
function Battery({ level }: { level: number }) {
  const low = level < LOW_BATTERY;
  return (
    <svg viewBox="0 0 40 40" className="h-12 w-12 flex-none" role="img" aria-label={tr("Battery {level} percent", { level: Math.round(100 * level) })}>
      <path d={arc(1)} fill="none" stroke="var(--hairline)" strokeWidth="3" />
      <path d={arc(Math.max(0.02, level))} fill="none" stroke={low ? "var(--rust)" : "var(--ink)"} strokeWidth={low ? 5 : 4} />
      <text x="20" y="24.5" textAnchor="middle" fontSize="12.5" fontWeight="700" fill="currentColor">
        {Math.round(100 * level)}
      </text>
    </svg>
  );
}

/** One device: what it measures, how it is, what asks for attention. */
export function DeviceLine({ device }: { device: Device }) {
  const wrong = concerns(device);
  const measures = device.streams.map((s) => s.measures).join(", ");
  const rate = device.streams.map((s) => tr("{rate_hz} Hz", { rate_hz: Math.round(s.rate_hz || s.declared_hz) })).join(", ");
  const lost = device.streams.reduce((sum, s) => sum + s.lost, 0);
  return (
    <li className={`flex min-h-16 items-center gap-4 border-t border-hairline py-1 ${device.connected ? "" : "text-muted"}`}>
      {device.battery === null ? <span className="w-12 flex-none text-center text-lg text-muted">–</span> : <Battery level={device.battery} />}
      <p className="min-w-0 flex-1 text-xl leading-tight">
        <b>{device.name}</b>
        {measures.toLowerCase() === device.name.toLowerCase() ? null : <span className="text-muted"> {measures}</span>}
        {wrong.length ? (
          <span className="mt-0.5 block border-l-4 border-rust pl-2 text-lg text-ink">{wrong[0]}</span>
        ) : (
          <span className="block text-lg text-muted">
            {rate}
            {device.clock_ms === null ? "" : tr(" · clock ± {clock_ms} ms", { clock_ms: number(Math.max(0.1, device.clock_ms), 1) })}
            {lost ? tr(" · {lost} samples lost", { lost }) : ""}
          </span>
        )}
      </p>
    </li>
  );
}
