import { useQueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from "react";

import { attachClip } from "@/api/hooks";
import { keys } from "@/api/keys";
import { Rolling, type Recorder } from "@/lib/rolling";

import { useLive } from "./live";
import { tr } from "@/lib/language";

export type CameraView = "front" | "line";

/** A swing is told a moment after its end: the strike was about so long before, s. */
const STRUCK_BEFORE_S = 2.0;
/** So much of the finish is still filmed, ms. */
const FINISH_MS = 500;
const KINDS = ["video/webm;codecs=vp8,opus", "video/webm", "video/mp4"];
const BITS = 6_000_000;

interface Camera {
  /** What the camera sees; null while it is off. */
  stream: MediaStream | null;
  view: CameraView;
  /** What does not work, in words. */
  trouble: string;
  /** Where the newest video stands. */
  said: string;
  start: (view: CameraView) => Promise<void>;
  stop: () => void;
}

const OFF: Camera = { stream: null, view: "front", trouble: "", said: "", start: () => Promise.resolve(), stop: () => undefined };
const Context = createContext<Camera>(OFF);

export const useCamera = (): Camera => useContext(Context);

/** What to do about a camera that does not open. */
export function cameraTrouble(error: unknown): string {
  const name = error instanceof Error ? error.name : "";
  if (name === "NotAllowedError") return tr("The browser does not allow the camera. Allow it beside the address, then try again.");
  if (name === "NotFoundError" || name === "OverconstrainedError") return tr("No camera is connected.");
  if (name === "NotReadableError") return tr("Another program has the camera. Close that, then try again.");
  if (name === "InsecureError") return tr("Browsers open the camera only on a secure page: https, or the machine itself.");
  return tr("The camera does not open. Unplug it, plug it in, and try again.");
}

/** Camera and, where there is one, its microphone as it hears: what cleans up speech takes the strike away. */
async function open(): Promise<MediaStream> {
  if (!navigator.mediaDevices) throw Object.assign(new Error(), { name: "InsecureError" });
  const video = { width: { ideal: 1280 }, frameRate: { ideal: 60 } };
  const audio = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };
  try {
    return await navigator.mediaDevices.getUserMedia({ video, audio });
  } catch (error) {
    if (error instanceof Error && error.name === "NotAllowedError") throw error;
    return navigator.mediaDevices.getUserMedia({ video });
  }
}

/** Films the lesson where that is wanted: each swing that is captured gets the seconds around it. */
export function CameraProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const { captured } = useLive();
  const [stream, setStream] = useState<MediaStream | null>(null);
  const [view, setView] = useState<CameraView>("front");
  const [trouble, setTrouble] = useState("");
  const [said, setSaid] = useState("");
  const rolling = useRef<Rolling | null>(null);
  const running = useRef<MediaStream | null>(null);

  const stop = useCallback(() => {
    rolling.current?.stop();
    rolling.current = null;
    running.current?.getTracks().forEach((track) => track.stop());
    running.current = null;
    setStream(null);
    setSaid("");
  }, []);
  useEffect(() => stop, [stop]);

  const start = useCallback(
    async (to: CameraView) => {
      stop();
      setTrouble("");
      setView(to);
      try {
        const opened = await open();
        const mimeType = KINDS.find((kind) => MediaRecorder.isTypeSupported(kind));
        rolling.current = new Rolling(() => new MediaRecorder(opened, { mimeType, videoBitsPerSecond: BITS }) as Recorder);
        rolling.current.start();
        running.current = opened;
        opened.getVideoTracks()[0]?.addEventListener("ended", () => {
          stop();
          setTrouble(tr("The camera was unplugged."));
        });
        setStream(opened);
      } catch (error) {
        setTrouble(cameraTrouble(error));
      }
    },
    [stop],
  );

  const before = useRef(captured);
  useEffect(() => {
    if (!captured || captured === before.current) return;
    before.current = captured;
    if (!rolling.current) return;
    const timer = setTimeout(() => {
      void (async () => {
        const kept = await rolling.current?.take();
        if (!kept) return;
        setSaid(tr("Keeping the video …"));
        try {
          const nearS = Math.max(0, kept.seconds - STRUCK_BEFORE_S - FINISH_MS / 1000);
          await attachClip(captured, view, new File([kept.video], "camera.webm", { type: kept.video.type }), nearS);
          await client.invalidateQueries({ queryKey: keys.clips(captured) });
          setSaid(tr("The last swing has its video."));
        } catch (error) {
          setSaid(error instanceof Error ? error.message : tr("The video could not be kept."));
        }
      })();
    }, FINISH_MS);
    return () => clearTimeout(timer);
  }, [captured, client, view]);

  const camera = useMemo(() => ({ stream, view, trouble, said, start, stop }), [stream, view, trouble, said, start, stop]);
  return <Context.Provider value={camera}>{children}</Context.Provider>;
}
