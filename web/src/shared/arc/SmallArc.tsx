import { arcMap, arcPath, type Checkpoint } from "@/lib/arc";

interface Props {
  checkpoints: Checkpoint[];
  out: [number, number][];
  mirror: boolean;
  chosen: boolean;
  dashed?: boolean;
  hollow?: boolean;
}

/** A swing in the lesson's strip: its arc, and where the shown measure leaves the band. */
export function SmallArc({ checkpoints, out, mirror, chosen, dashed, hollow }: Props) {
  const start = checkpoints[0]?.time ?? 0;
  const end = checkpoints[checkpoints.length - 1]?.time ?? 1;
  const map = arcMap(checkpoints, start, end);
  const centre: [number, number] = [32, 32];
  const radii: [number, number] = [26, 21];
  const stop = Math.min(map.end, map.impact);
  return (
    <svg viewBox="0 0 64 64" width={58} height={58} aria-hidden>
      <path
        d={arcPath(map, map.start, stop, centre, radii, mirror)}
        fill="none"
        stroke={chosen ? "var(--ink)" : "var(--muted)"}
        strokeWidth={chosen ? 5 : hollow ? 5 : 2.6}
        strokeDasharray={dashed ? "3 5" : undefined}
        strokeLinecap="round"
      />
      {hollow ? <path d={arcPath(map, map.start, stop, centre, radii, mirror)} fill="none" stroke="var(--paper)" strokeWidth={2} /> : null}
      {out.map(([a, b]) => {
        const from = Math.max(a, map.start);
        const to = Math.min(b, stop);
        if (to <= from) return null;
        const path = arcPath(map, from, to, centre, radii, mirror);
        return (
          <g key={a} fill="none" strokeLinecap="round">
            <path d={path} stroke="var(--rust)" strokeWidth={7} />
            <path d={path} stroke="var(--paper)" strokeWidth={2.4} />
          </g>
        );
      })}
    </svg>
  );
}
