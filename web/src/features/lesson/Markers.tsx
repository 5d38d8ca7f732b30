import { useMutation } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useEffect, useRef, useState, type DragEvent } from "react";

import type { Schemas } from "@/api/client";
import { importMarkers, inspectMarkers, type MarkerMapping, useCatalogue, useLesson, useRefresh } from "@/api/hooks";
import { useImport } from "@/api/jobs";
import { takeWaitingFile } from "@/lib/waitingFile";
import { Button, ErrorLine, Field, inputLook } from "@/shared/ui/controls";
import { Working } from "@/shared/ui/Working";

import { Presets } from "./Presets";
import { number, tr } from "@/lib/language";

type Axes = Schemas["AxesIO"];
const AXES = ["+x", "-x", "+y", "-y", "+z", "-z"] as const;
const DIRECTIONS = [
  ["ball", tr("To the ball")],
  ["target", tr("To the target")],
  ["up", tr("Up")],
] as const;
const WITHOUT: Record<string, string> = {
  Pelvis: tr("no pelvis turn, sway or posture"),
  "Upper body": tr("no upper-body turn, lean or separation"),
  Head: tr("no head movement"),
  "Arms and hands": tr("no wrist, elbow or hand values"),
  "Legs and feet": tr("no knees, stance or overhang"),
  Club: tr("no shaft, face, path or impact from the club"),
};

/** A marker file: which label is which marker, where ball and target lie; remembered for the next file. */
export function Markers() {
  const { lessonId } = useParams({ from: "/signed-in/lessons/$lessonId/markers" });
  const lesson = useLesson(lessonId);
  const catalogue = useCatalogue();
  const refresh = useRefresh(lessonId);
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(takeWaitingFile);
  const waiting = useRef(file);
  const [names, setNames] = useState<Record<string, string>>({});
  const [axes, setAxes] = useState<Axes>({ ball: "+x", target: "+y", up: "+z" });
  const [club, setClub] = useState("");
  const [preset, setPreset] = useState("");

  const inspect = useMutation({
    mutationFn: (f: File) => inspectMarkers(lessonId, f),
    onSuccess: (found) => {
      setNames(Object.fromEntries(found.rows.map((r) => [r.ours, r.label ?? ""])));
      setAxes(found.axes);
      setPreset(found.preset ?? "");
    },
  });
  const bring = useImport(
    (mapping: MarkerMapping) => importMarkers(lessonId, file!, mapping),
    async (kept) => {
      await refresh();
      const first = kept.swings?.[0];
      if (first) await navigate({ to: "/lessons/$lessonId/swings/$swingId", params: { lessonId, swingId: first } });
      else await navigate({ to: "/lessons/$lessonId/setup", params: { lessonId } });
    },
  );
  const choose = (f: File | undefined | null) => {
    if (!f) return;
    setFile(f);
    bring.reset();
    inspect.mutate(f);
  };
  const { mutate: look } = inspect;
  useEffect(() => {
    if (waiting.current) look(waiting.current);
    waiting.current = null;
  }, [look]);
  const onDrop = (e: DragEvent) => {
    e.preventDefault();
    choose(e.dataTransfer.files[0]);
  };
  if (!lesson.data) return null;
  const found = inspect.data;
  const groups = found ? [...new Set(found.rows.map((r) => r.group))] : [];
  const used = Object.values(names).filter(Boolean);
  const twice = used.find((l, k) => used.indexOf(l) !== k);
  const mapped = found ? found.rows.filter((r) => names[r.ours]).length : 0;

  return (
    <main className="panes h-full grid-cols-[1fr_420px]" onDragOver={(e) => e.preventDefault()} onDrop={onDrop}>
      <section className="overflow-y-auto px-7 py-5">
        <h2 className="text-[40px] leading-tight font-bold">
          {found ? tr("{mapped} of {length} markers are known.", { mapped, length: found.rows.length }) : tr("Bring a marker file.")}
        </h2>
        {found ? (
          <p className="mt-1 text-xl text-muted">
            {tr("{file} · {seconds} s at {rate_hz} Hz · {length} labels{what}", {
              file: found.file,
              seconds: number(found.seconds, 1),
              rate_hz: number(found.rate_hz, 0),
              length: found.labels.length,
              what: found.preset ? tr(" · names as remembered in “{preset}”", { preset: found.preset }) : tr(" · names suggested; check them"),
            })}
          </p>
        ) : (
          <p className="mt-1 text-xl">{tr("A C3D or TRC file from any laboratory. Names are suggested, you correct them once, and they are remembered.")}</p>
        )}
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <Button tone={found ? "line" : "solid"} onClick={() => input.current?.click()} disabled={inspect.isPending}>
            {inspect.isPending ? tr("Reading the file …") : found ? tr("Another file") : tr("Choose a file")}
          </Button>
          <input
            ref={input}
            type="file"
            accept=".c3d,.trc"
            className="hidden"
            aria-label={tr("Marker file")}
            onChange={(e) => {
              choose(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </div>
        <div className="mt-3">
          <ErrorLine error={inspect.error} />
        </div>
        {found ? null : <Presets />}
        {found
          ? groups.map((group) => {
              const rows = found.rows.filter((r) => r.group === group);
              const known = rows.filter((r) => names[r.ours]).length;
              return (
                <fieldset key={group} className="mt-4 border-t border-hairline pt-2">
                  <legend className="sr-only">{group}</legend>
                  <p className="text-xl">
                    <b>{group}</b>{" "}
                    <span className="text-muted">
                      {tr("{known} of {length}{what}", { known, length: rows.length, what: known === 0 ? `: ${WITHOUT[group] ?? ""}` : "" })}
                    </span>
                  </p>
                  <div className="mt-1 grid grid-cols-2 gap-x-8">
                    {rows.map((r) => (
                      <label key={r.ours} className="grid grid-cols-[1fr_170px] items-center gap-3 py-0.5 text-lg">
                        <span>
                          <b>{r.ours}</b> <span className="text-muted">{r.meaning}</span>
                        </span>
                        <select
                          aria-label={`${r.ours}, ${r.meaning}`}
                          className={`min-h-14 rounded-lg border-2 bg-paper px-2 ${names[r.ours] && twice === names[r.ours] ? "border-rust" : "border-[var(--control)]"} ${names[r.ours] ? "" : "text-muted"}`}
                          value={names[r.ours] ?? ""}
                          onChange={(e) => setNames({ ...names, [r.ours]: e.target.value })}
                        >
                          <option value="">{tr("not there")}</option>
                          {found.labels.map((l) => (
                            <option key={l} value={l}>
                              {l}
                            </option>
                          ))}
                        </select>
                      </label>
                    ))}
                  </div>
                </fieldset>
              );
            })
          : null}
      </section>
      <aside className="flex flex-col gap-4 overflow-y-auto border-l border-hairline px-7 py-5">
        {found ? (
          <>
            <div>
              <p className="text-xl font-bold">{tr("Directions in this laboratory")}</p>
              <p className="text-base text-muted">
                {found.axes_from === "player"
                  ? tr("Read off the player's pelvis and back at the start of the file.")
                  : found.axes_from === "remembered"
                    ? tr("As remembered for these labels.")
                    : tr("Not readable from the file: check them.")}
              </p>
              {DIRECTIONS.map(([key, name]) => (
                <label key={key} className="mt-2 grid grid-cols-[1fr_110px] items-center text-lg">
                  {name}
                  <select className={inputLook} value={axes[key]} onChange={(e) => setAxes({ ...axes, [key]: e.target.value as Axes["ball"] })}>
                    {AXES.map((a) => (
                      <option key={a} value={a}>
                        {a.replace("-", "−")}
                      </option>
                    ))}
                  </select>
                </label>
              ))}
            </div>
            <Field label={tr("Club")}>
              <select className={inputLook} value={club || lesson.data.club} onChange={(e) => setClub(e.target.value)}>
                {catalogue.data?.clubs.map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.label}
                  </option>
                ))}
              </select>
            </Field>
            <Field label={tr("Remember these names as")} note={tr("Empty: not remembered.")}>
              <input className={inputLook} value={preset} maxLength={80} placeholder={tr("our camera bay")} onChange={(e) => setPreset(e.target.value)} />
            </Field>
            {twice ? (
              <p role="alert" className="border-l-4 border-rust pl-3 text-lg">
                {tr("“{twice}” is chosen for two markers. Choose each label once.", { twice })}
              </p>
            ) : null}
            <Button
              tone="solid"
              onClick={() =>
                bring.mutate({
                  names: Object.fromEntries(Object.entries(names).filter(([, l]) => l)),
                  axes,
                  club: club || lesson.data!.club,
                  remember_as: preset,
                })
              }
              disabled={bring.isPending || mapped === 0 || Boolean(twice)}
            >
              {bring.isPending ? tr("Measuring …") : tr("Import and measure")}
            </Button>
            {bring.job ? <Working job={bring.job} label={tr("Measuring the markers")} onStop={bring.stop} /> : null}
            <ErrorLine error={bring.error} />
          </>
        ) : (
          <p className="text-lg text-muted">
            {tr(
              "The file stays as it is; every point is kept. Gaps are filled only where three other markers of the same segment are seen, or for up to 0.1 s, and that is said.",
            )}
          </p>
        )}
        <Link to="/lessons/$lessonId/capture" params={{ lessonId }} className="inline-flex min-h-14 items-center text-lg underline">
          {tr("Back to capture")}
        </Link>
      </aside>
    </main>
  );
}
