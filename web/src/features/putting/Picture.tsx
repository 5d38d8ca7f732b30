import { useEffect } from "react";

import type { Putt, Putting, PuttRow } from "@/api/putting";
import type { Cursor } from "@/lib/cursor";
import { loopScale, rateScale, type StepId } from "@/lib/putts";
import type { Traces } from "@/lib/traces";
import type { Vocabulary } from "@/lib/words";

import { Address } from "./Address";
import { Growth } from "./Growth";
import { Loops } from "./Loops";
import { Multiples } from "./Multiples";
import { POINT_NAMES, type PointNames } from "./eyes";
import { Pendulum } from "./Pendulum";
import { tr } from "@/lib/language";

interface Props {
  lessonId: string;
  step: StepId;
  read: Putting;
  row: PuttRow;
  putts: readonly Putt[];
  courses: ReadonlyMap<string, Traces> | undefined;
  chosen: Putt | undefined;
  cursor: Cursor;
  /** Rates in place of angles. */
  rate: boolean;
  words: Vocabulary;
  mirror: boolean;
  onChoose: (id: string) => void;
}

const ANGLES = {
  extension: { column: "extension", standard: [tr("extended"), tr("flexed")], plain: [tr("cupped"), tr("bowed")] },
  deviation: { column: "deviation", standard: [tr("radial"), tr("ulnar")], plain: [tr("hinged"), tr("unhinged")] },
  rotation: { column: "roll", standard: [tr("closing"), tr("opening")], plain: [tr("rolled closed"), tr("rolled open")] },
} as const;

/** What a step shows. */
export function Picture(props: Props) {
  const { step, read, row, putts, courses, chosen, words, mirror } = props;
  if (step === "distances") return <Growth putting={read} words={words} />;
  if (step === "address") return <Address row={row} putts={putts} mirror={mirror} bias={read.noted?.face_grip_bias_deg ?? null} words={words} />;
  if (!courses) return <p className="p-6 text-lg text-muted">{tr("Drawing …")}</p>;
  const seen = putts.flatMap((p) => courses.get(p.id) ?? []);
  if (step === "putter") return <Putter {...props} courses={courses} chosen={chosen} />;
  if (!seen.some((c) => c.columns["extension"]))
    return <Unseen what={tr("The wrist is not seen in these putts.")} add={tr("Forearm and hand sensors on the lead arm would show it.")} />;
  if (step === "together") {
    const w =
      words === "plain"
        ? { right: tr("cup"), left: tr("bow"), up: tr("hinge"), down: tr("unhinge") }
        : { right: tr("extended"), left: tr("flexed"), up: tr("radial"), down: tr("ulnar") };
    const reach = loopScale(putts);
    return <Loops putts={putts} courses={courses} reach={reach} chosen={chosen?.id ?? null} onChoose={props.onChoose} words={w} />;
  }
  const { column, [words]: ways } = ANGLES[step];
  const rateColumn = `${column}_rate`;
  const [up, down] = props.rate ? [tr("toward {ways}", { ways: ways[0] }), tr("toward {ways}", { ways: ways[1] })] : ways;
  return (
    <Multiples
      lessonId={props.lessonId}
      putts={putts}
      courses={courses}
      column={props.rate ? rateColumn : column}
      reach={props.rate ? rateScale([...courses.values()], rateColumn) : (read.scales_deg[column] ?? 10)}
      unit={props.rate ? "°/s" : "°"}
      up={up!}
      down={down!}
    />
  );
}

/** The chosen putt against its pendulum, with the others to choose from. */
function Putter({ putts, courses, chosen, cursor, mirror, words, onChoose }: Props & { courses: ReadonlyMap<string, Traces> }) {
  const course = chosen && courses.get(chosen.id);
  const names = POINT_NAMES[words];
  const ball = chosen?.at_s["impact"];
  useEffect(() => {
    if (ball !== undefined) cursor.set(ball);
  }, [cursor, ball]);
  if (!chosen || !course?.columns["free_head_along"])
    return (
      <Unseen what={tr("Nothing here sees the putter itself.")} add={tr("Markers on its grip end, heel and toe would draw it against its free pendulum.")} />
    );
  return (
    <>
      <div role="radiogroup" aria-label={tr("Putt")} className="flex flex-none flex-wrap items-center">
        {putts.map((p) => (
          <button
            key={p.id}
            type="button"
            role="radio"
            aria-checked={p.id === chosen.id}
            onClick={() => onChoose(p.id)}
            className={`min-h-14 min-w-14 text-lg ${p.id === chosen.id ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
          >
            {p.number}
          </button>
        ))}
        <Key names={names} />
      </div>
      <Pendulum putt={chosen} course={course} cursor={cursor} mirror={mirror} names={names} />
    </>
  );
}

function Key({ names }: { names: PointNames }) {
  return (
    <span className="ml-4 inline-flex flex-wrap items-center gap-x-5 text-lg text-muted max-[900px]:hidden">
      {(
        [
          [names.head, "var(--ink)", undefined, 2.6],
          [names.grip, "var(--ink)", "8 5", 2.6],
          [tr("free pendulum"), "var(--sea)", undefined, 5],
        ] as const
      ).map(([name, stroke, dash, width]) => (
        <span key={name} className="inline-flex items-center gap-2">
          <svg width={38} height={10} aria-hidden>
            <line x1={0} x2={38} y1={5} y2={5} stroke={stroke} strokeWidth={width} strokeDasharray={dash} strokeOpacity={width > 4 ? 0.4 : 1} />
          </svg>
          {name}
        </span>
      ))}
    </span>
  );
}

function Unseen({ what, add }: { what: string; add: string }) {
  return (
    <div className="grid flex-1 place-content-center text-center">
      <p className="text-[28px] text-muted">{what}</p>
      <p className="text-xl text-muted">{add}</p>
    </div>
  );
}
