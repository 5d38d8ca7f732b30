import { useEffect, useRef, useState } from "react";

import type { Cursor } from "@/lib/cursor";
import { EYES, namedTogether, OVERLAYS, type Eye, type FigureInfo, type Overlay } from "@/lib/figure";
import type { Traces } from "@/lib/traces";

import type { FigureScene } from "./scene";
import { tr } from "@/lib/language";

interface Props {
  block: Traces;
  traces: Traces;
  info: FigureInfo;
  mirror: boolean;
  addressS: number;
  startS: number;
  endS: number;
  cursor: Cursor;
  theme: string;
  /** What the overlays show at this instant, in words. */
  says: Partial<Record<Overlay, string>>;
  /** Beside videos there is little room: one button goes round the eyes, what is drawn over the figure stays as it is. */
  narrow?: boolean;
  /** Another figure beneath, at its own time. */
  under?: { block: Traces; at: (t: number) => number } | null;
  /** Where several figures are seen from one eye: which one, and what is to be heard of another. */
  eye?: Eye | "free";
  onEye?: (eye: Eye | "free") => void;
}

const remembered = (): { eye: Eye; on: Overlay[] } => {
  try {
    return { eye: "front", on: ["address"], ...(JSON.parse(sessionStorage.getItem("figure-view") ?? "{}") as object) };
  } catch {
    return { eye: "front", on: ["address"] };
  }
};

const after = (eye: Eye | "free"): Eye => {
  const eyes = Object.keys(EYES) as Eye[];
  return eyes[(eyes.indexOf(eye as Eye) + 1) % eyes.length]!;
};

/** The figure in space, scrubbed by the arc. Four fixed eyes, free orbit by dragging, overlays on demand. */
export default function Figure3D(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const scene = useRef<FigureScene | null>(null);
  const [own, setOwn] = useState<Eye | "free">(() => remembered().eye);
  const eye = props.eye ?? own;
  const onEye = useRef(props.onEye);
  useEffect(() => {
    onEye.current = props.onEye;
  });
  const setEye = (to: Eye | "free") => {
    setOwn(to);
    onEye.current?.(to);
  };
  const [on, setOn] = useState<Overlay[]>(() => remembered().on);
  const [trouble, setTrouble] = useState("");
  const { block, traces, info, mirror, addressS, startS, endS, cursor, theme, under } = props;

  const wanted = useRef({ eye, on });
  useEffect(() => {
    wanted.current = { eye, on };
  });
  useEffect(() => {
    let gone = false;
    let leave: () => void = () => undefined;
    void import("./scene")
      .then(({ FigureScene: Drawn }) => {
        if (gone || !canvas.current || !box.current) return;
        const drawn = new Drawn(canvas.current, { block, traces, info, mirror, addressS, startS, endS, under });
        scene.current = drawn;

        drawn.onFree = () => {
          setOwn("free");
          onEye.current?.("free");
        };
        for (const o of OVERLAYS) drawn.show(o.id, wanted.current.on.includes(o.id) && !o.missing(info));
        if (wanted.current.eye !== "free") drawn.look(wanted.current.eye);
        drawn.at(cursor.get());
        const watch = new ResizeObserver(([entry]) => entry && drawn.resize(entry.contentRect.width, entry.contentRect.height));
        watch.observe(box.current);
        const unfollow = cursor.subscribe(() => drawn.at(cursor.get()));
        leave = () => {
          watch.disconnect();
          unfollow();
          drawn.dispose();
          scene.current = null;
        };
      })
      .catch(() => setTrouble(tr("This screen cannot draw in three dimensions (WebGL is off). The arc, values and traces work without it.")));
    return () => {
      gone = true;
      leave();
    };
  }, [block, traces, info, mirror, addressS, startS, endS, cursor, under]);
  useEffect(() => {
    if (eye !== "free") scene.current?.look(eye);
  }, [eye]);
  useEffect(() => scene.current?.recolour(), [theme]);
  useEffect(() => sessionStorage.setItem("figure-view", JSON.stringify({ eye: eye === "free" ? "front" : eye, on })), [eye, on]);

  const look = (to: Eye) => {
    setEye(to);
    scene.current?.look(to); // also where it was chosen already and the view had been turned
  };
  const toggle = (id: Overlay) => {
    const shown = !on.includes(id);
    setOn((now) => (shown ? [...now, id] : now.filter((o) => o !== id)));
    scene.current?.show(id, shown);
  };
  const faint = namedTogether(info.faint);
  const pill = "min-h-14 px-3 text-lg";
  const latest = OVERLAYS.find((o) => o.id === on.filter((id) => props.says[id]).at(-1) && !o.missing(info));
  const says = latest ? props.says[latest.id] : "";
  return (
    <section className="relative flex h-full min-h-0 flex-col" aria-label={tr("The player as a figure")}>
      {props.narrow ? (
        <button
          type="button"
          className={`${pill} absolute top-0 left-0 z-10 font-bold whitespace-nowrap underline decoration-2 underline-offset-8`}
          onClick={() => look(after(eye))}
        >
          {eye === "free" ? tr("Free view") : EYES[eye].name}
        </button>
      ) : (
        <div className="absolute top-0 left-0 z-10 flex items-center" role="radiogroup" aria-label={tr("Seen from")}>
          {(Object.keys(EYES) as Eye[]).map((id) => (
            <button
              key={id}
              type="button"
              role="radio"
              aria-checked={eye === id}
              onClick={() => look(id)}
              className={`${pill} ${eye === id ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
            >
              {EYES[id].name}
            </button>
          ))}
          {eye === "free" ? <span className="px-2 text-base text-muted">{tr("free view")}</span> : null}
        </div>
      )}
      <div ref={box} className="relative min-h-0 flex-1">
        <canvas
          ref={canvas}
          className="absolute inset-0 h-full w-full cursor-grab touch-none"
          role="img"
          aria-label={tr("Figure of the player{what}", { what: faint ? tr(", without measurement: {faint}", { faint }) : "" })}
          data-faint={faint}
          data-eye={eye}
        />
        {trouble ? (
          <p role="alert" className="absolute inset-x-6 top-10 border-l-4 border-rust pl-4 text-xl">
            {trouble}
          </p>
        ) : null}
        {says ? <p className="pointer-events-none absolute top-16 left-3 text-xl font-bold">{says}</p> : null}
      </div>
      {faint && !props.narrow ? (
        <p className="flex-none text-base leading-tight text-muted">{tr("Faint: not measured ({faint}). {note}", { faint, note: info.note })}</p>
      ) : null}
      <div className={props.narrow ? "hidden" : "flex flex-none flex-wrap items-center"} role="group" aria-label={tr("Drawn over the figure")}>
        {OVERLAYS.map((o) => {
          const missing = o.missing(info);
          const pressed = on.includes(o.id) && !missing;
          return (
            <button
              key={o.id}
              type="button"
              aria-pressed={pressed}
              disabled={Boolean(missing)}
              title={missing ? `${o.name} ${missing}` : undefined}
              onClick={() => toggle(o.id)}
              className={`${pill} disabled:opacity-45 ${pressed ? "font-bold underline decoration-2 underline-offset-8" : "text-muted"}`}
            >
              {o.name}
            </button>
          );
        })}
      </div>
    </section>
  );
}
