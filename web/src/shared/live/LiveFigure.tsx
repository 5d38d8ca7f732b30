import { useEffect, useMemo, useRef, useState } from "react";

import type { FigureNow } from "@/lib/feed";
import { EYES, namedTogether, type Eye, type FigureInfo } from "@/lib/figure";
import { PARTS, standing } from "@/lib/standing";
import { isDark } from "@/lib/settings";

import type { FigureScene } from "../figure/scene";
import { tr } from "@/lib/language";

/** The whole player as they move; parts that no sensor sees are faint and named. */
export default function LiveFigure({ now, mirror }: { now: FigureNow; mirror: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const scene = useRef<FigureScene | null>(null);
  const newest = useRef(now);
  const [eye, setEye] = useState<Eye>("front");
  const [trouble, setTrouble] = useState("");
  const dark = isDark();
  const parts = now.measured.join(" ");
  const info = useMemo<FigureInfo>(() => {
    const measured = parts.split(" ").filter(Boolean);
    return { measured, faint: PARTS.filter((p) => !measured.includes(p)), placed: now.placed, note: "" };
  }, [parts, now.placed]);
  const block = useMemo(() => standing(), []);

  useEffect(() => {
    let gone = false;
    let leave: () => void = () => undefined;
    void import("../figure/scene")
      .then(({ FigureScene: Drawn }) => {
        if (gone || !canvas.current || !box.current) return;
        block.put(newest.current.points);
        const drawn = new Drawn(canvas.current, { block: block.traces, traces: block.traces, info, mirror, addressS: 0, startS: 0, endS: 0 });
        drawn.show("address", false);
        for (const overlay of ["turn", "spine", "pelvis", "hip", "club"] as const) drawn.show(overlay, false);
        scene.current = drawn;
        drawn.at(0);
        const watch = new ResizeObserver(([entry]) => entry && drawn.resize(entry.contentRect.width, entry.contentRect.height));
        watch.observe(box.current);
        leave = () => {
          watch.disconnect();
          drawn.dispose();
          scene.current = null;
        };
      })
      .catch(() => setTrouble(tr("This screen cannot draw in three dimensions (WebGL is off). Values and the arc work without it.")));
    return () => {
      gone = true;
      leave();
    };
  }, [block, info, mirror]);
  useEffect(() => {
    newest.current = now;
    block.put(now.points);
    scene.current?.at(0);
  }, [now, block]);
  useEffect(() => scene.current?.recolour(), [dark]);

  const look = () => {
    const eyes = Object.keys(EYES) as Eye[];
    const next = eyes[(eyes.indexOf(eye) + 1) % eyes.length]!;
    setEye(next);
    scene.current?.look(next);
  };
  const faint = namedTogether(info.faint);
  return (
    <section className="relative flex h-full min-h-0 flex-col" aria-label={tr("The player as a figure")}>
      <button type="button" className="absolute top-0 left-0 z-10 min-h-14 px-3 text-lg font-bold underline decoration-2 underline-offset-8" onClick={look}>
        {EYES[eye].name}
      </button>
      <div ref={box} className="relative min-h-0 flex-1">
        <canvas
          ref={canvas}
          className="absolute inset-0 h-full w-full touch-none"
          role="img"
          aria-label={tr("Figure of the player{what}", { what: faint ? tr(", without measurement: {faint}", { faint }) : "" })}
        />
        {trouble ? (
          <p role="alert" className="absolute inset-x-6 top-16 border-l-4 border-rust pl-4 text-xl">
            {trouble}
          </p>
        ) : null}
      </div>
      {faint ? <p className="flex-none text-center text-base leading-tight text-muted">{tr("Faint: not measured ({faint})", { faint })}</p> : null}
    </section>
  );
}
