import { useEffect, useRef } from "react";

import { useCamera, type CameraView } from "@/shared/ui/camera";
import { Button, Choice } from "@/shared/ui/controls";
import { Sheet } from "@/shared/ui/Sheet";
import { tr } from "@/lib/language";

const VIEWS: { id: CameraView; label: string }[] = [
  { id: "front", label: tr("From in front") },
  { id: "line", label: tr("Along the target line") },
];

/** The camera of this screen: switch it on, see what it sees. */
export function CameraSheet({ open, onClose, consent }: { open: boolean; onClose: () => void; consent: boolean }) {
  const camera = useCamera();
  const seen = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    if (seen.current) seen.current.srcObject = camera.stream;
  }, [camera.stream, open]);
  return (
    <Sheet open={open} onClose={onClose} title={tr("Camera")}>
      <p className="text-xl">{tr("While it is on, every swing that is captured gets the seconds around it as a video.")}</p>
      <p className="mt-1 text-lg text-muted">
        {tr("Whatever is older is thrown away at once. {what}", {
          what: consent ? "" : tr("This player has not agreed to anything being kept yet: without that the videos go with the lesson."),
        })}
      </p>
      <p className="mt-4 text-lg text-muted">{tr("It looks")}</p>
      <Choice label={tr("The camera looks")} value={camera.view} options={VIEWS} onChange={(view) => void camera.start(view)} />
      {camera.stream ? <video ref={seen} className="mt-3 w-full bg-ink" muted autoPlay playsInline aria-label={tr("What the camera sees")} /> : null}
      {camera.trouble ? (
        <p role="alert" className="mt-3 border-l-4 border-rust pl-3 text-lg">
          {camera.trouble}
        </p>
      ) : null}
      {camera.said ? (
        <p role="status" className="mt-3 text-lg">
          {camera.said}
        </p>
      ) : null}
      <div className="mt-4">
        {camera.stream ? (
          <Button tone="solid" onClick={camera.stop}>
            {tr("Switch it off")}
          </Button>
        ) : (
          <Button tone="solid" onClick={() => void camera.start(camera.view)}>
            {tr("Switch it on")}
          </Button>
        )}
      </div>
      <p className="mt-4 text-base text-muted">{tr("A second screen of yours with this lesson open can film the other view.")}</p>
    </Sheet>
  );
}
