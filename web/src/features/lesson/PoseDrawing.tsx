import { tr } from "@/lib/language";

const BODY: Record<string, { name: string; how: string; says: string }> = {
  square_upright: { name: tr("Square."), how: tr("Upright, square to the target line."), says: tr("Standing upright, seen from the side") },
  bow: { name: tr("Bow."), how: tr("Straight forward from the hips."), says: tr("Bowed forward from the hips, seen from the side") },
};

/** A body pose seen from the side, the sensors on pelvis and upper back. */
function BodyPose({ pose, mirror }: { pose: string; mirror: boolean }) {
  const bow = pose === "bow" ? 38 : 0;
  const words = BODY[pose]!;
  return (
    <figure>
      <svg viewBox="0 0 320 240" className="w-full" role="img" aria-label={words.says}>
        <g transform={mirror ? "translate(320,0) scale(-1,1)" : undefined} fill="var(--paper)" stroke="var(--ink)" strokeWidth="4" strokeLinejoin="round">
          <line x1="60" x2="260" y1="226" y2="226" stroke="var(--hairline)" strokeWidth="3" />
          <path d="M140,128 L138,222 L168,222 L166,218 L154,214 L168,128 Z" />
          <g transform={`rotate(${bow},154,128)`}>
            <path d="M136,132 C132,96 136,64 146,52 C158,44 170,52 172,66 C176,92 174,112 172,132 Z" />
            <circle cx="163" cy="26" r="19" />
            <rect x="127" y="112" width="11" height="22" rx="3" fill="var(--ink)" />
            <rect x="131" y="62" width="11" height="22" rx="3" fill="var(--ink)" />
            <g transform={`rotate(${-bow},160,62)`}>
              <path d="M154,60 L152,132 L166,132 L168,60 Z" />
            </g>
          </g>
          {bow ? <path d="M163,8 A120,120 0 0 1 232,40" fill="none" stroke="var(--sea)" strokeWidth="3" strokeDasharray="5 6" /> : null}
        </g>
      </svg>
      <figcaption className="text-xl">
        <b>{words.name}</b> {words.how}
      </figcaption>
    </figure>
  );
}

/** The pose seen from the side: forearm and hand one straight line, or the body. */
export function PoseDrawing({ pose, mirror }: { pose: string; mirror: boolean }) {
  if (BODY[pose]) return <BodyPose pose={pose} mirror={mirror} />;
  if (pose === "lifted") return <LiftedPose mirror={mirror} />;
  return <ArmPose pose={pose === "raised" ? "raised" : "flat"} mirror={mirror} />;
}

function ArmPose({ pose, mirror }: { pose: "flat" | "raised"; mirror: boolean }) {
  const turn = pose === "raised" ? -60 : 0;
  return (
    <figure>
      <svg
        viewBox="0 0 320 240"
        className="w-full"
        role="img"
        aria-label={pose === "flat" ? tr("Arm level, palm down") : tr("Same straight arm, raised about the elbow")}
      >
        <g transform={mirror ? "translate(320,0) scale(-1,1)" : undefined}>
          <line x1="20" x2="300" y1="218" y2="218" stroke="var(--hairline)" strokeWidth="3" />
          <g
            transform={`translate(84,${pose === "raised" ? 196 : 168}) rotate(${turn})`}
            fill="var(--paper)"
            stroke="var(--ink)"
            strokeWidth="4"
            strokeLinejoin="round"
          >
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
      <figcaption className="text-xl">
        <b>{pose === "flat" ? tr("Flat.") : tr("Raised.")}</b>{" "}
        {pose === "flat" ? tr("Palm down, level, wrist straight.") : tr("Turned up about the elbow by about 60°.")}
      </figcaption>
    </figure>
  );
}

/** The upper arm level, straight ahead, the forearm pointing up: seen from the side, the third sensor above the elbow. */
function LiftedPose({ mirror }: { mirror: boolean }) {
  return (
    <figure>
      <svg viewBox="0 0 320 240" className="w-full" role="img" aria-label={tr("Elbow lifted straight ahead, forearm pointing up")}>
        <g transform={mirror ? "translate(320,0) scale(-1,1)" : undefined} fill="var(--paper)" stroke="var(--ink)" strokeWidth="4" strokeLinejoin="round">
          <line x1="20" x2="300" y1="234" y2="234" stroke="var(--hairline)" strokeWidth="3" />
          <path d="M52,232 C48,190 52,160 64,148 C78,138 92,148 94,164 C98,190 96,212 94,232 Z" />
          <circle cx="80" cy="112" r="21" />
          <path d="M74,150 L196,146 L200,176 L76,184 Z" />
          <rect x="138" y="134" width="28" height="12" rx="3" fill="var(--ink)" />
          <g transform="translate(196,162) rotate(-90)">
            <path d="M-6,-17 L88,-13 L88,13 L-6,17 Z" />
            <path d="M84,-14 C98,-19 124,-19 138,-12 C146,-8 146,3 138,6 C124,13 100,15 84,12 Z" />
            <rect x="44" y="-27" width="26" height="12" rx="3" fill="var(--ink)" />
            <rect x="98" y="-29" width="22" height="11" rx="3" fill="var(--ink)" />
            <circle r="16" />
          </g>
        </g>
      </svg>
      <figcaption className="text-xl">
        <b>{tr("Lifted.")}</b> {tr("Elbow ahead at shoulder height, forearm up.")}
      </figcaption>
    </figure>
  );
}
