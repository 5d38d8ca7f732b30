import { useEffect, useState } from "react";

interface Stored {
  measure: string;
  checkpoint: string | null;
  figure: boolean;
  video: boolean;
  over: string;
}

const stored = (lessonId: string): Partial<Stored> => {
  try {
    return JSON.parse(sessionStorage.getItem(`view-${lessonId}`) ?? "{}") as Partial<Stored>;
  } catch {
    return {};
  }
};

/** What is being looked at in a lesson's swings: kept from swing to swing and over a reload. `measure` empty: the headline's. */
export function useView(lessonId: string) {
  const [measure, setMeasure] = useState<string>(() => stored(lessonId).measure ?? "");
  const [checkpoint, setCheckpoint] = useState<string | null>(() => stored(lessonId).checkpoint ?? null);
  const [figure, setFigure] = useState<boolean>(() => stored(lessonId).figure ?? false);
  const [video, setVideo] = useState<boolean>(() => stored(lessonId).video ?? false);
  const [over, setOver] = useState<string>(() => stored(lessonId).over ?? "");
  useEffect(() => {
    sessionStorage.setItem(`view-${lessonId}`, JSON.stringify({ measure, checkpoint, figure, video, over }));
  }, [lessonId, measure, checkpoint, figure, video, over]);
  return { measure, setMeasure, checkpoint, setCheckpoint, figure, setFigure, video, setVideo, over, setOver };
}

export type View = ReturnType<typeof useView>;
