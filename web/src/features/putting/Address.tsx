import type { Putt, PuttRow } from "@/api/putting";
import type { Vocabulary } from "@/lib/words";
import { MeasureGauge } from "@/shared/figure/BodyGauge";
import { number, tr } from "@/lib/language";

/** Half the hole, in m. */
const HOLE_M = 0.054;
/** A degree is drawn as so many: what decides a putt is too small to be seen otherwise. */
const LARGER = 6;
const HANDS = [
  { metric: "lead_wrist_extension", drawing: "cup", standard: [tr("extended"), tr("flexed")], plain: [tr("cupped"), tr("bowed")] },
  { metric: "lead_wrist_radial_deviation", drawing: "hinge", standard: [tr("radial"), tr("ulnar")], plain: [tr("hinged"), tr("unhinged")] },
] as const;

interface Props {
  row: PuttRow;
  putts: readonly Putt[];
  mirror: boolean;
  /** How far the face is noted to sit open against the hands, deg. */
  bias: number | null;
  words: Vocabulary;
}

const middleOf = (values: readonly number[]): number | null => (values.length ? [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]! : null);

/** The putter's head from above and how the hands stand, at address. */
export function Address({ row, putts, mirror, bias, words }: Props) {
  const at = (metric: string) => putts.flatMap((p) => (p.counts ? (p.values[metric]?.["address"] ?? []) : []));
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-x-6 portrait:grid-cols-1 portrait:grid-rows-[minmax(0,3fr)_minmax(0,2fr)]">
      <FaceAim faces={at("putter_face")} far={row.distance_m} mirror={mirror} bias={bias} />
      <div className="grid min-h-0 grid-cols-1 grid-rows-2 portrait:grid-cols-2 portrait:grid-rows-1">
        {HANDS.map(({ metric, drawing, [words]: [more, less] }) => {
          const value = middleOf(at(metric));
          return (
            <figure key={metric} className="flex min-h-0 items-center gap-4 portrait:flex-col">
              <svg
                viewBox="-150 -120 310 240"
                className="h-full max-h-[210px] min-h-0 w-1/2 portrait:w-full max-[700px]:hidden"
                role="img"
                aria-label={tr("The hand, {more} or {less}", { more, less })}
              >
                <MeasureGauge metric={metric} drawing={drawing} value={value} low={null} high={null} out={false} mirror={mirror} />
              </svg>
              <figcaption>
                {value === null ? (
                  <span className="text-xl text-muted">{tr("not seen")}</span>
                ) : (
                  <>
                    <b className="figure block text-[64px] leading-none">{number(Math.abs(value), 0)}°</b>
                    <span className="text-[28px] leading-tight">{value < 0 ? less : more}</span>
                    <span className="block text-lg text-muted">{tr("absolute")}</span>
                  </>
                )}
              </figcaption>
            </figure>
          );
        })}
      </div>
    </div>
  );
}

/** Where each putt's face looks, and how much the hole forgives to either side; six times enlarged. */
function FaceAim({ faces, far, mirror, bias }: { faces: readonly number[]; far: number | null; mirror: boolean; bias: number | null }) {
  const side = mirror ? -1 : 1;
  const room = far === null ? null : (Math.atan(HOLE_M / far) * 180) / Math.PI;
  const to = (deg: number, r: number): [number, number] => {
    const a = (side * Math.max(-70, Math.min(70, LARGER * deg)) * Math.PI) / 180;
    return [r * Math.sin(a), -r * Math.cos(a)];
  };
  const middle = middleOf(faces);
  const sector = room === null ? "" : `M0,0 L${to(-room, 226).join(",")} A226,226 0 0 ${mirror ? 0 : 1} ${to(room, 226).join(",")} Z`;
  return (
    <figure className="flex min-h-0 flex-col">
      <svg viewBox="-200 -262 400 360" className="min-h-0 w-full flex-1" role="img" aria-label={tr("The putter's head from above")}>
        {sector && faces.length ? <path d={sector} fill="var(--band)" stroke="var(--sea)" strokeWidth={1.6} /> : null}
        <line y2={-236} stroke="var(--muted)" strokeWidth={1.6} strokeDasharray="10 8" />
        <path d="M0,-262 l8,16 h-16 z" fill="var(--muted)" />
        {faces.map((deg, k) => (
          <line key={k} x2={to(deg, 210)[0]} y2={to(deg, 210)[1]} stroke="var(--ink)" strokeWidth={1.4} />
        ))}
        {middle === null ? null : <line x2={to(middle, 226)[0]} y2={to(middle, 226)[1]} stroke="var(--ink)" strokeWidth={4} />}
        <g transform={`rotate(${side * LARGER * (middle ?? 0)})`} strokeDasharray={middle === null ? "6 6" : undefined}>
          <rect x={-74} y={0} width={148} height={26} rx={6} fill="var(--paper)" stroke="var(--ink)" strokeWidth={middle === null ? 2 : 4} />
          <line x1={-74} x2={74} stroke="var(--ink)" strokeWidth={middle === null ? 2 : 7} />
          <line y1={2} y2={24} stroke="var(--ink)" strokeWidth={2} />
        </g>
        {bias === null ? null : (
          <g transform={`rotate(${side * LARGER * ((middle ?? 0) - bias)})`}>
            <line y1={34} y2={92} stroke="var(--ink)" strokeWidth={6} strokeDasharray="8 6" />
          </g>
        )}
      </svg>
      <figcaption className="text-center text-lg text-muted max-[700px]:text-base max-[700px]:leading-tight">
        {[
          faces.length ? tr("thin: each putt; thick: the middle") : tr("the face is not seen"),
          room !== null && faces.length ? tr("tint: what the hole forgives, {room}° either side", { room: number(room, 1) }) : "",
          bias === null ? "" : "dashed: how the hands hold it",
          tr("angles drawn {LARGER} times larger", { LARGER }),
        ]
          .filter(Boolean)
          .join(" · ")}
      </figcaption>
    </figure>
  );
}
