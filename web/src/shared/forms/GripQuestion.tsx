import type { Schemas } from "@/api/client";
import { useChangeSwing } from "@/api/hooks";
import { askedOf } from "@/lib/grip";
import { Button, ErrorLine, useSettings } from "@/shared/ui/controls";
import { useKeys } from "@/shared/ui/keys";
import { tr } from "@/lib/language";

interface Props {
  lesson: Schemas["LessonOut"];
  /** The number of the swing that is looked at: nothing is asked about later ones, so that the screen does not move. */
  upTo?: number;
  /** Seen from four metres. */
  large?: boolean;
  className?: string;
}

/** The wrist stands otherwise at address than before: asked once, answered with one tap or key, undone like anything else. */
export function GripQuestion({ lesson, upTo, large = false, className = "" }: Props) {
  const { words } = useSettings();
  const change = useChangeSwing(lesson.id);
  const asked = askedOf(lesson.swings, upTo);
  const answer = (grip: Schemas["GripOut"]["answer"]) => asked && change.mutate({ id: asked.id, patch: { reason: "", grip } });
  useKeys(asked ? { y: () => answer("grip"), u: () => answer("sensor") } : {});
  if (!asked) return null;
  return (
    <section aria-label={tr("Grip or sensor")} className={`flex flex-wrap items-center gap-x-5 gap-y-2 ${className}`}>
      <p className={`min-w-0 flex-1 leading-tight max-[700px]:basis-full max-[700px]:text-xl ${large ? "text-[40px] max-[1100px]:text-[32px]" : "text-2xl"}`}>
        <span className="text-muted">{tr("Swing {number}:", { number: asked.number })} </span>
        {words === "plain" ? asked.grip!.plain_question : asked.grip!.question}
      </p>
      <Button tone="solid" disabled={change.isPending} onClick={() => answer("grip")} title={tr("Swings stay judged (y)")}>
        {tr("The grip")}
      </Button>
      <Button disabled={change.isPending} onClick={() => answer("sensor")} title={tr("Not judged until you calibrate again (u)")}>
        {tr("The sensor")}
      </Button>
      <ErrorLine error={change.error} />
    </section>
  );
}
