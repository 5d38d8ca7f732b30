/** The pose seen from the side: forearm and hand one straight line. */
export function PoseDrawing({ pose, mirror }: { pose: "flat" | "raised"; mirror: boolean }) {
  const turn = pose === "raised" ? -60 : 0;
  return (
    <figure>
      <svg viewBox="0 0 320 240" className="w-full" role="img" aria-label={pose === "flat" ? "Arm level, palm down" : "Same straight arm, raised about the elbow"}>
        <g transform={mirror ? "translate(320,0) scale(-1,1)" : undefined}>
          <line x1="20" x2="300" y1="218" y2="218" stroke="var(--hairline)" strokeWidth="3" />
          <g transform={`translate(84,${pose === "raised" ? 196 : 168}) rotate(${turn})`} fill="var(--paper)" stroke="var(--ink)" strokeWidth="4" strokeLinejoin="round">
            <path d="M-6,-20 L122,-15 L122,15 L-6,20 Z" />
            <path d="M118,-16 C134,-22 168,-22 186,-14 C196,-9 196,3 186,7 C168,15 136,17 118,14 Z" />
            <path d="M136,15 C146,26 162,28 172,20" fill="none" />
            <rect x="64" y="-31" width="30" height="13" rx="3" fill="var(--ink)" />
            <rect x="138" y="-33" width="26" height="12" rx="3" fill="var(--ink)" />
            <circle r="17" />
          </g>
          {pose === "raised" ? <path d="M170,196 A86,86 0 0 0 127,121" fill="none" stroke="var(--sea)" strokeWidth="3" strokeDasharray="5 6" /> : null}
        </g>
      </svg>
      <figcaption className="text-xl"><b>{pose === "flat" ? "Flat." : "Raised."}</b> {pose === "flat" ? "Palm down, level, wrist straight." : "Turned up about the elbow by about 60°."}</figcaption>
    </figure>
  );
}
