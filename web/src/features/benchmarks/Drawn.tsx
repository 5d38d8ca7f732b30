import { useMemo, useState } from "react";

import type { Schemas } from "@/api/client";
import { useCatalogue } from "@/api/hooks";
import { OF_PUTTS, ORDER } from "@/lib/arc";
import { makeCursor } from "@/lib/cursor";
import { byPlace, NOMINAL, WHOLE } from "@/lib/drawnRanges";
import type { RangeEdit } from "@/lib/ranges";
import { moment } from "@/lib/words";
import { ArcNavigator } from "@/shared/arc/ArcNavigator";
import { Button, ErrorLine, inputLook, Loading } from "@/shared/ui/controls";

import { useBeside } from "./api";
import { DrawnRange } from "./DrawnRange";
import { tr } from "@/lib/language";

interface Props {
  label: string;
  ranges: readonly Schemas["RangeOut"][];
  changes: readonly RangeEdit[];
  onOpen: (id: string) => void;
}

const NONE: Record<string, string> = {};
const placeName = (place: string) => (place === WHOLE ? tr("the whole swing") : place === "top" ? tr("the top") : moment(place));

/** The ranges of one place on the arc, drawn as what they are beside skilled and own values. */
export function Drawn({ label, ranges, changes, onOpen }: Props) {
  const catalogue = useCatalogue();
  const [club, setClub] = useState("7-iron");
  const [place, setPlace] = useState("top");
  const beside = useBeside(label, club);
  const cursor = useMemo(() => makeCursor(0), []);
  const rows = useMemo(() => new Map((beside.data?.rows ?? []).map((r) => [r.id, r])), [beside.data]);
  const places = useMemo(() => byPlace(ranges.filter((r) => rows.has(r.id))), [ranges, rows]);
  const checkpoints = useMemo(() => NOMINAL.filter((c) => places.has(c.name) || c.name === "top" || c.name === "impact"), [places]);
  if (beside.isPending) return <Loading what={tr("Laying the ranges along the swing")} />;
  const shown = places.get(place) ?? [];
  const editOf = (id: string) => changes.find((c) => c.id === id);
  return (
    <div className="panes min-h-0 flex-1 grid-cols-[minmax(360px,42%)_1fr]">
      <div className="flex min-h-0 flex-col border-r border-hairline px-5 pb-3">
        <div className="flex flex-none items-center gap-3 pt-2">
          <select aria-label={tr("Club")} className={`${inputLook} max-w-[200px]`} value={club} onChange={(e) => setClub(e.target.value)}>
            {catalogue.data?.clubs.map((c) => (
              <option key={c.id} value={c.id}>
                {c.label}
              </option>
            ))}
          </select>
          {places.has(OF_PUTTS) ? (
            <Button aria-pressed={place === OF_PUTTS} tone={place === OF_PUTTS ? "solid" : "line"} onClick={() => setPlace(OF_PUTTS)}>
              {tr("Transition of putts")}
            </Button>
          ) : null}
          {places.has(WHOLE) ? (
            <Button aria-pressed={place === WHOLE} tone={place === WHOLE ? "solid" : "line"} onClick={() => setPlace(WHOLE)}>
              {tr("Whole swing")}
            </Button>
          ) : null}
        </div>
        <div className="min-h-0 flex-1 portrait:h-[420px] portrait:flex-none max-[900px]:h-[340px] max-[900px]:flex-none">
          <ArcNavigator
            checkpoints={checkpoints}
            start={0}
            end={NOMINAL.at(-1)!.time}
            cursor={cursor}
            out={[]}
            mirror={false}
            selected={place}
            verdicts={NONE}
            onSelect={setPlace}
            named={ORDER}
          >
            {(unit) => (
              <g pointerEvents="none" textAnchor="middle" fill="var(--ink)">
                <text x={260} y={262} fontSize={120} fontWeight={700} className="figure">
                  {shown.length}
                </text>
                <text x={260} y={262 + 34 * unit} fontSize={20 * unit}>
                  {shown.length === 1 ? tr("range") : tr("ranges")} {place === WHOLE ? tr("of") : tr("at")} {placeName(place)}
                </text>
              </g>
            )}
          </ArcNavigator>
        </div>
        <ul className="flex flex-none flex-wrap gap-x-5 text-base text-muted">
          <li>
            <Sample>
              <rect x="1" y="3" width="22" height="14" fill="var(--band)" stroke="var(--sea)" strokeWidth="2" />
            </Sample>
            {tr("the band")}
          </li>
          <li>
            <Sample>
              <circle cx="12" cy="10" r="5" fill="none" stroke="var(--sea)" strokeWidth="2" />
            </Sample>
            {tr("a skilled player{what}", { what: beside.data?.synthetic ? tr(" (synthetic)") : "" })}
          </li>
          <li>
            <Sample>
              <circle cx="12" cy="10" r="6" fill="var(--ink)" fillOpacity="0.75" />
            </Sample>
            {tr("one of our players, the middle of the swings")}
          </li>
        </ul>
        <ErrorLine error={beside.error} />
      </div>
      <div
        className="min-h-0 overflow-y-auto px-5"
        tabIndex={0}
        role="region"
        aria-label={tr("Ranges {what} {placeName}", { what: place === WHOLE ? tr("of") : tr("at"), placeName: placeName(place) })}
      >
        <ul className="grid auto-rows-min grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-x-3">
          {shown.map((r) => (
            <DrawnRange key={r.id} range={r} beside={rows.get(r.id)} edited={said(editOf(r.id))} onOpen={() => onOpen(r.id)} />
          ))}
          {shown.length ? null : <li className="col-span-full py-6 text-xl">{tr("No range speaks of this place with this club.")}</li>}
        </ul>
      </div>
    </div>
  );
}

const said = (edit: RangeEdit | undefined) => (edit ? (edit.retire ? tr("taken out") : "changed") : "");

function Sample({ children }: { children: React.ReactNode }) {
  return (
    <svg viewBox="0 0 24 20" className="mr-1 inline h-5 w-6 align-[-4px]" aria-hidden="true">
      {children}
    </svg>
  );
}
