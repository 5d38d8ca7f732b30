import type { Schemas } from "@/api/client";
import { closed, drawingOf, inside } from "@/lib/drawnRanges";
import { MeasureGauge } from "@/shared/figure/BodyGauge";
import { RangeBar } from "@/shared/figure/RangeBar";
import { tr, trn } from "@/lib/language";
import { term } from "@/lib/terms";

interface Props {
  range: Schemas["RangeOut"];
  beside: Schemas["RangeBeside"] | undefined;
  edited: string;
  onOpen: () => void;
}

/** How far an open side of a band is drawn beyond its limit, in the drawing's own unit. */
const OPEN: Record<string, number> = { feet: 20, distance: 3, bar: 0 };
const OPEN_ANGLE = 12;
/** What each drawing needs of the plane; the others the whole of it. */
const BOXES: Record<string, string> = {
  cup: "-160 -95 345 170",
  hinge: "-160 -95 345 170",
  shaft: "-150 -110 330 170",
  bar: "-160 -60 320 120",
  distance: "-160 -70 320 140",
};
const WHOLE_BOX = "-180 -165 360 290";

/** One range as what it is: the band, the skilled hollow, one's own players filled. */
export function DrawnRange({ range, beside, edited, onOpen }: Props) {
  const skilled = beside?.skilled ?? [];
  const own = beside?.own ?? [];
  const drawing = drawingOf(range);
  const least = drawing === "bar" ? Math.max(0.15 * Math.abs(range.low ?? range.high ?? 1), 0.01) : (OPEN[drawing] ?? OPEN_ANGLE);
  const band = closed(range, [...skilled, ...own], least);
  const marks = [...skilled.map((value) => ({ value, own: false })), ...own.map((value) => ({ value, own: true }))];
  const school = [range.club_class && term(range.club_class), range.school, range.population === "adult" ? "" : term(range.population)]
    .filter(Boolean)
    .join(" · ");
  return (
    <li className="border-b border-hairline">
      <button type="button" onClick={onOpen} className="flex h-full w-full flex-col px-2 py-3 text-left">
        <svg viewBox={BOXES[drawing] ?? WHOLE_BOX} className="h-[150px] w-full" aria-hidden="true">
          {band === null ? null : drawing === "bar" ? (
            <RangeBar {...band} marks={marks} open={{ low: range.low === null, high: range.high === null }} />
          ) : (
            <MeasureGauge
              metric={range.metric}
              drawing={drawing}
              value={range.low === null ? range.high : range.high === null ? range.low : (range.low + range.high) / 2}
              {...band}
              out={false}
              mirror={false}
              marks={marks}
            />
          )}
        </svg>
        <span className="text-lg leading-tight">
          <b>{range.label}</b>
          {range.change ? ` ${range.moment}` : ""}
        </span>
        <span className="text-lg leading-tight">
          {edited ? (
            <>
              <s>{range.words}</s> <b>{edited}</b>
            </>
          ) : (
            range.words
          )}
        </span>
        {range.leans && range.leans !== range.words ? <span className="text-base leading-tight text-muted">{range.leans}</span> : null}
        <span className="text-base leading-tight text-muted">
          {[
            school,
            own.length
              ? tr("{inside} of our {n} inside", { inside: inside(range, own), n: trn("{count} player", "{count} players", own.length) })
              : tr("not measured here"),
          ]
            .filter(Boolean)
            .join(" · ")}
        </span>
      </button>
    </li>
  );
}
