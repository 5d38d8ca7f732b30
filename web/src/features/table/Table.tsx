import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";
import { term } from "@/lib/terms";

import type { Schemas } from "@/api/client";
import { useCatalogue, useLesson } from "@/api/hooks";
import { ballShort } from "@/lib/sides";
import { inWords, KINDS, label, moment, type MetricWords, type Vocabulary } from "@/lib/words";
import { Button, ErrorLine, Loading, useSettings } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { useSize } from "@/shared/ui/useSize";

import { ColumnsSheet } from "./ColumnsSheet";
import { MarkSheet } from "./MarkSheet";
import { asText, FIRST, sorted, type Column, type Row } from "./rows";
import { useTable } from "./useTable";
import { tr, trn } from "@/lib/language";

const stored = (lessonId: string): string[] => {
  try {
    return JSON.parse(sessionStorage.getItem(`table-${lessonId}`) ?? "[]") as string[];
  } catch {
    return [];
  }
};

/** All swings of a lesson, one row each: sort, choose, mark several, copy; a row opens its swing. */
export function Table() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/table" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const [columns, setColumns] = useState<string[]>(() => stored(lessonId));
  useEffect(() => sessionStorage.setItem(`table-${lessonId}`, JSON.stringify(columns)), [lessonId, columns]);
  const table = useTable(lessonId, columns);
  const { found } = table;
  if (lesson.isPending || catalogue.isPending || found.isPending) return <Loading what={tr("Laying out the lesson")} />;
  const wrong = lesson.error ?? catalogue.error ?? found.error;
  if (wrong) return <ErrorLine error={wrong} />;
  if (found.data!.rows.length === 0)
    return (
      <p className="p-8 text-2xl">
        {tr("No swing yet.")}{" "}
        <Link to="/lessons/$lessonId/capture" params={{ lessonId }} className="underline">
          {tr("Capture one")}
        </Link>
        {tr(", and it stands here.")}
      </p>
    );
  return <Laid lesson={lesson.data!} catalogue={catalogue.data!} data={found.data!} table={table} onColumns={setColumns} />;
}

interface LaidProps {
  lesson: Schemas["LessonOut"];
  catalogue: Schemas["Catalogue"];
  data: Schemas["TableOut"];
  table: ReturnType<typeof useTable>;
  onColumns: (keys: string[]) => void;
}

function Laid({ lesson, catalogue, data, table, onColumns }: LaidProps) {
  const { mark, undo, redo, error } = table;
  const lessonId = lesson.id;
  const navigate = useNavigate();
  const { words } = useSettings();
  const [sort, setSort] = useState(FIRST);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [at, setAt] = useState(0);
  const [sheet, setSheet] = useState<"" | "columns" | "mark">("");
  const [copied, setCopied] = useState("");
  const body = useRef<HTMLTableSectionElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [width] = useSize(frame, [1280, 600]);
  const [from, setFrom] = useState(0);
  useEffect(() => {
    body.current?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest" });
  }, [at]);

  const shown = sorted(data.rows, data.columns, sort);
  const total = data.columns.length;
  const fit = Math.max(1, Math.floor((width - (width < NARROW ? HEAD_NARROW : HEAD)) / COLUMN));
  const first = Math.min(from, Math.max(0, total - fit));
  const seen = data.columns.map((column, k) => ({ column, k })).slice(first, first + fit);
  const page = (way: 1 | -1) => setFrom(Math.min(Math.max(0, total - fit), Math.max(0, first + way * fit)));
  const metric = (id: string) => catalogue.metrics.find((m) => m.id === id) as MetricWords | undefined;
  const head = (c: Column) => tr("{what} at {moment}", { what: metric(c.metric)?.label ?? c.metric, moment: moment(c.moment) });
  const open = (row: Row | undefined) => row && void navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId: row.swing_id } });
  const toggle = (row: Row | undefined) => {
    if (!row) return;
    const next = new Set(chosen);
    if (!next.delete(row.swing_id)) next.add(row.swing_id);
    setChosen(next);
  };
  const step = (way: 1 | -1, extend = false) => {
    const to = Math.min(shown.length - 1, Math.max(0, at + way));
    const both = [shown[at], shown[to]].flatMap((r) => (r ? [r.swing_id] : []));
    if (extend) setChosen(new Set([...chosen, ...both]));
    setAt(to);
  };
  const compare = () => {
    const [first, second] = shown.filter((r) => chosen.has(r.swing_id)).sort((x, y) => x.number - y.number);
    if (first && second && chosen.size === 2)
      void navigate({ to: "/lessons/$lessonId/compare", params: { lessonId }, search: { a: `swing:${second.swing_id}`, b: `swing:${first.swing_id}` } });
  };
  const copy = async () => {
    const rows = chosen.size ? shown.filter((r) => chosen.has(r.swing_id)) : shown;
    try {
      await navigator.clipboard.writeText(asText(rows, data.columns, head));
      setCopied(trn("{count} row copied", "{count} rows copied", rows.length));
    } catch {
      setCopied(tr("This browser does not allow copying here: take the CSV."));
    }
  };
  useKeys({
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    "Shift+ArrowDown": () => step(1, true),
    "Shift+ArrowUp": () => step(-1, true),
    ArrowRight: () => page(1),
    ArrowLeft: () => page(-1),
    " ": () => toggle(shown[at]),
    Enter: () => open(shown[at]),
    a: () => setChosen(chosen.size === shown.length ? new Set() : new Set(shown.map((r) => r.swing_id))),
    k: () => chosen.size > 0 && setSheet("mark"),
    e: compare,
    c: () => void copy(),
    m: () => setSheet("columns"),
    z: undo,
    Z: redo,
    Escape: () => (chosen.size ? setChosen(new Set()) : open(shown.at(-1))),
  });

  const by = (key: string) => setSort((now) => ({ by: key, down: now.by === key && !now.down }));
  const hand = lesson.player.handedness;
  const query = data.columns.map((c) => `column=${encodeURIComponent(c.key)}`).join("&");
  return (
    <div className="flex h-full flex-col">
      <ErrorLine error={error} />
      <div ref={frame} className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto" tabIndex={0} role="region" aria-label={tr("Swings of this lesson")}>
        <table className="tabular w-full border-separate border-spacing-0 text-lg">
          <thead>
            <tr className="text-left align-bottom">
              <Head name="swing" sort={sort} by="number" onSort={by} className="sticky left-0 z-20 bg-paper pl-7 max-[700px]:pl-4" />
              <Head name={tr("kind")} sort={sort} by="kind" onSort={by} />
              <th className="sticky top-0 z-10 border-b-2 border-hairline bg-paper px-3 align-middle font-normal text-muted max-[700px]:hidden">
                {tr("start, curve · strike")}
              </th>
              {seen.map(({ column: c }) => (
                <Head key={c.key} name={nameOf(c, metric(c.metric), words)} sort={sort} by={c.key} onSort={by} />
              ))}
            </tr>
          </thead>
          <tbody ref={body}>
            {shown.map((row, k) => (
              <Line
                key={row.swing_id}
                row={row}
                current={k === at}
                chosen={chosen.has(row.swing_id)}
                onToggle={() => {
                  setAt(k);
                  toggle(row);
                }}
                onOpen={() => open(row)}
                ball={ballShort(row.ball_start, row.ball_curve, hand)}
                cells={seen.map(({ column, k: i }) => cellOf(row, i, metric(column.metric), words))}
              />
            ))}
          </tbody>
        </table>
      </div>
      <footer className="flex flex-none flex-wrap items-center gap-2 border-t border-hairline px-7 py-2 max-[700px]:px-3">
        <Button
          tone={chosen.size ? "solid" : "line"}
          disabled={chosen.size === 0}
          onClick={() => setSheet("mark")}
          aria-haspopup="dialog"
          className="max-[700px]:px-3"
        >
          {tr("Mark")}
        </Button>
        <Button disabled={chosen.size !== 2} onClick={compare} title={tr("Choose two swings")} className="max-[700px]:px-3">
          {tr("Compare")}
        </Button>
        {data.can_undo ? (
          <Button onClick={undo} title={data.can_undo}>
            {tr("Undo")}
          </Button>
        ) : null}
        <p role="status" className="min-w-0 flex-1 px-2 text-lg text-muted max-[700px]:order-last max-[700px]:basis-full">
          {copied || (chosen.size ? tr("{size} chosen", { size: chosen.size }) : tr("{length} swings", { length: data.rows.length }))}
        </p>
        {total > fit ? (
          <Button onClick={() => (first + fit >= total ? setFrom(0) : page(1))} className="max-[700px]:px-3" title={tr("Further columns")}>
            {tr("{what}–{what2} of {total}", { what: first + 1, what2: Math.min(total, first + fit), total })}
          </Button>
        ) : null}
        <Button onClick={() => setSheet("columns")} aria-haspopup="dialog" className="max-[700px]:px-3">
          {tr("Columns")}
        </Button>
        <Button onClick={() => void copy()} className="max-[700px]:hidden">
          {tr("Copy")}
        </Button>
        <a
          className="inline-flex min-h-14 items-center rounded-full border-2 border-ink px-5 text-lg font-semibold max-[700px]:px-3"
          href={`/api/lessons/${lessonId}/table.csv?${query}`}
          download
        >
          {tr("CSV")}
        </a>
      </footer>
      <MarkSheet
        open={sheet === "mark"}
        onClose={() => setSheet("")}
        count={chosen.size}
        onMark={(kind, reason) => {
          mark.mutate({ swing_ids: [...chosen], kind, reason });
          setSheet("");
        }}
      />
      <ColumnsSheet
        open={sheet === "columns"}
        onClose={() => setSheet("")}
        offered={data.offered}
        chosen={data.columns.map((c) => c.key)}
        catalogue={catalogue}
        onChange={onColumns}
      />
    </div>
  );
}

/** Pixels: a screen below which the ball is left out, what stands before the columns, and a column. */
const [NARROW, HEAD_NARROW, HEAD, COLUMN] = [700, 230, 440, 158];

const nameOf = (c: Column, metric: MetricWords | undefined, words: Vocabulary): string =>
  `${metric ? label(metric, words) : c.metric}${c.moment === "swing" ? "" : `, ${moment(c.moment)}`}`;

interface Cell {
  says: string;
  out: boolean;
}

function cellOf(row: Row, k: number, metric: MetricWords | undefined, words: Vocabulary): Cell {
  const value = row.values[k];
  if (value == null || !metric) return { says: "", out: false };
  return { says: inWords(metric, value, words), out: row.verdicts[k] === "low" || row.verdicts[k] === "high" };
}

interface HeadProps {
  name: string;
  sort: { by: string; down: boolean };
  by: string;
  onSort: (by: string) => void;
  className?: string;
}

function Head({ name, sort, by, onSort, className = "" }: HeadProps) {
  const here = sort.by === by;
  return (
    <th
      className={`sticky top-0 z-10 border-b-2 border-hairline bg-paper px-3 ${className}`}
      aria-sort={here ? (sort.down ? "descending" : "ascending") : "none"}
    >
      <button type="button" className={`min-h-14 min-w-14 text-left leading-tight ${here ? "font-bold" : "font-normal text-muted"}`} onClick={() => onSort(by)}>
        {name}
        {here ? <span aria-hidden> {sort.down ? "↓" : "↑"}</span> : null}
      </button>
    </th>
  );
}

interface LineProps {
  row: Row;
  current: boolean;
  chosen: boolean;
  onToggle: () => void;
  onOpen: () => void;
  ball: string;
  cells: Cell[];
}

function Line({ row, current, chosen, onToggle, onOpen, ball, cells }: LineProps) {
  const kind = KINDS[row.kind as Schemas["SwingBrief"]["kind"]] ?? row.kind;
  const quiet = row.kind !== "normal" && row.kind !== "test" ? "text-muted" : "";
  const edge = `border-b border-hairline ${current ? "border-t border-t-ink border-b-ink" : ""}`;
  return (
    <tr aria-current={current} aria-selected={chosen} className={`${chosen ? "bg-band" : ""} ${quiet}`}>
      <td className={`sticky left-0 pl-7 max-[700px]:pl-4 ${chosen ? "bg-band" : "bg-paper"} ${edge}`}>
        <span className="flex items-center gap-1">
          <label className="grid h-14 w-14 flex-none cursor-pointer place-items-center">
            <input
              type="checkbox"
              aria-label={tr("Choose swing {number}", { number: row.number })}
              checked={chosen}
              onChange={onToggle}
              className="h-6 w-6 accent-[var(--ink)]"
            />
          </label>
          <button type="button" className="min-h-14 min-w-14 text-left text-xl font-bold underline decoration-dotted underline-offset-4" onClick={onOpen}>
            {row.number}
          </button>
        </span>
      </td>
      <td className={`px-3 whitespace-nowrap ${edge}`}>
        {kind}
        {row.sensor_moved ? <span className="block text-base">{tr("sensor moved")}</span> : null}
      </td>
      <td className={`px-3 whitespace-nowrap max-[700px]:hidden ${edge}`}>{[ball, row.strike && term(row.strike)].filter(Boolean).join(" · ")}</td>
      {cells.map((c, k) => (
        <td key={k} className={`px-3 whitespace-nowrap ${edge}`}>
          {c.out ? (
            <span aria-label={tr("outside the band")} role="img" className="mr-1 text-rust">
              ▲
            </span>
          ) : null}
          {c.says}
        </td>
      ))}
    </tr>
  );
}
