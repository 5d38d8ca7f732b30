import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from "react";

import { useJoin } from "@/api/hooks";
import { settings } from "@/lib/settings";
import { sounds } from "@/lib/sound";
import { tr } from "@/lib/language";

/** "Captured" stays readable for this long. */
const SHOWN_MS = 2500;

/** What the devices say, newest first. */
export interface LiveMessage {
  type: "idle" | "pose" | "calibrated" | "refused" | "settling" | "setup" | "ready" | "swinging" | "captured" | "trouble";
  recording_id?: string;
  pose?: string;
  hold?: boolean;
  left_s?: number;
  left?: number;
  reason?: string;
  sentence?: string;
  quality?: number;
  swings?: string[];
  warning?: string;
  /** What kind of trouble, where something can be done about it. */
  code?: string;
}

interface Live {
  message: LiveMessage;
  captured: string | null;
  connected: boolean;
}

const Context = createContext<Live>({ message: { type: "idle" }, captured: null, connected: false });

export function useLive(): Live {
  return useContext(Context);
}

/** Follows a lesson's live channel; flashes the edge and sounds when a swing is captured. */
export function LiveProvider({ lessonId, children }: { lessonId: string; children: ReactNode }) {
  const [live, setLive] = useState<Live>({ message: { type: "idle" }, captured: null, connected: false });
  const [flash, setFlash] = useState(0);
  const join = useJoin(lessonId);
  const joinRef = useRef(join);
  useEffect(() => {
    joinRef.current = join;
  });

  useEffect(() => {
    const source = new EventSource(`/api/lessons/${lessonId}/live`);
    let first = true;
    let capturedAt = 0;
    let later = 0;
    source.onopen = () => setLive((old) => ({ ...old, connected: true }));
    source.onerror = () => setLive((old) => ({ ...old, connected: false }));
    source.onmessage = (event: MessageEvent<string>) => {
      const message = JSON.parse(event.data) as LiveMessage;
      const replay = first;
      first = false;
      const show = () =>
        setLive((old) => ({
          message,
          connected: true,
          captured: message.type === "captured" ? (message.swings?.at(-1) ?? old.captured) : old.captured,
        }));
      clearTimeout(later);
      if (message.type === "captured") capturedAt = Date.now();
      const rest = capturedAt + SHOWN_MS - Date.now();
      if (message.type === "ready" && rest > 0) later = window.setTimeout(show, rest);
      else show();
      if (replay && message.type !== "pose") return;
      if (message.type === "captured") {
        if (message.swings?.length) {
          setFlash((n) => n + 1);
          if (settings().sound) sounds.captured();
        }
        void joinRef.current();
      }
      if (message.type === "refused") {
        if (settings().sound) sounds.refused();
        void joinRef.current();
      }
      if (message.type === "calibrated" || message.type === "setup") {
        if (message.type === "calibrated" && settings().sound) sounds.done();
        void joinRef.current();
      }
    };
    return () => {
      clearTimeout(later);
      source.close();
    };
  }, [lessonId]);

  return (
    <Context.Provider value={live}>
      {children}
      {flash > 0 ? <div key={flash} className="edge-flash" aria-hidden /> : null}
      <div aria-live="polite" className="sr-only">
        {live.message.type === "captured" ? tr("Captured") : ""}
      </div>
    </Context.Provider>
  );
}
