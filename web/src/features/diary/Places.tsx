import { Button, ErrorLine } from "@/shared/ui/controls";

import { isOutside, placesOf, type Place } from "./useDiary";
import { placeWords } from "./words";
import { tr } from "@/lib/language";

/** Free places, each a tap. */
export function Places({ places, onTake, busy }: { places: Place[]; onTake: (place: Place) => void; busy?: boolean }) {
  return (
    <div className="flex flex-wrap gap-2" role="group" aria-label={tr("Next free places")}>
      {places.map((p) => (
        <Button key={`${p.starts_at}${p.instructor_id}${p.bay}`} className="px-4" disabled={busy ?? false} onClick={() => onTake(p)}>
          {placeWords(p)}
        </Button>
      ))}
    </div>
  );
}

/** What is taken, in the server's words, with the next free places; outside the hours also *anyway*. */
export function Refusal(props: { error: unknown; onTake: (place: Place) => void; onAnyway: () => void; busy?: boolean }) {
  const places = placesOf(props.error);
  return (
    <div className="grid gap-3">
      <ErrorLine error={props.error} />
      {places.length ? (
        <>
          <p className="text-muted">{tr("Free next:")}</p>
          <Places places={places} onTake={props.onTake} {...(props.busy === undefined ? {} : { busy: props.busy })} />
        </>
      ) : null}
      {isOutside(props.error) ? (
        <div>
          <Button disabled={props.busy ?? false} onClick={props.onAnyway}>
            {tr("Anyway")}
          </Button>
        </div>
      ) : null}
    </div>
  );
}
