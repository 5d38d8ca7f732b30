/** What the sides of a comparison are called. */
import type { Schemas } from "@/api/client";
import { moment } from "@/lib/words";
import { tr, trn } from "@/lib/language";
import { dayWords } from "@/lib/dates";

type Side = Schemas["CompareSideOut"];
type Choice = Schemas["ChoiceOut"];

const day = (on: string | null | undefined) => (on ? dayWords(on) : "");
const swings = (n: number) => trn("{count} swing", "{count} swings", n);

/** *Swing 6*, *Lesson of 12 Mar*, *Test*: short enough for a table's head. */
export function sideName(side: Side): string {
  switch (side.kind) {
    case "swing":
      return tr("Swing {number}", { number: side.number });
    case "lesson":
      return tr("Lesson of {day}", { day: day(side.on) });
    case "block":
      return side.name === "test" ? tr("Test") : tr("Drill");
    case "before":
      return tr("Before");
    case "tag":
      return tr("Tagged “{name}”", { name: side.name });
    case "found":
      return side.name;
    case "reference":
    case "model":
    case "band":
      return side.name;
  }
}

/** What is to be known beside the name: the day, how many swings, whose. */
export function sideDetail(side: Side, other: Side): string {
  if (side.kind === "reference") return tr("reference");
  if (side.kind === "model" || side.kind === "band") return "";
  return [
    side.kind === "lesson" || side.kind === "tag" || side.kind === "found" || side.on === other.on ? "" : day(side.on),
    side.kind === "swing" ? "" : swings(side.swings),
    side.player !== other.player && other.player ? side.player : "",
  ]
    .filter(Boolean)
    .join(" · ");
}

/** A choice in two parts: what it is called, and what it is. */
export function choiceWords(choice: Choice, label: (metric: string) => string): [string, string] {
  const about = [label(choice.name).toLowerCase(), choice.moment ? tr("at {moment}", { moment: moment(choice.moment) }) : ""].filter(Boolean).join(" ");
  switch (choice.kind) {
    case "previous":
      return [tr("Previous swing"), tr("swing {number}", { number: choice.number })];
    case "swing":
      return [tr("Swing {number}", { number: choice.number }), tr("of this lesson")];
    case "last_lesson":
      return [tr("Last lesson"), `${day(choice.on)}, ${swings(choice.swings)}`];
    case "lesson":
      return [tr("Lesson of {day}", { day: day(choice.on) }), tr("{swings}, their mean", { swings: swings(choice.swings) })];
    case "block":
      return [tr("Drill or test"), `${swings(choice.swings)}: ${about}`];
    case "before":
      return [tr("Before the drill"), about];
    case "tag":
      return [tr("Tagged “{name}”", { name: choice.name }), tr("{swings} of this player, their mean", { swings: swings(choice.swings) })];
    case "reference":
      return [choice.name, tr("reference")];
    case "band":
      return [tr("The band in force"), tr("how far outside it, and where")];
    case "model":
      return [choice.name, tr("a synthetic skilled swing")];
  }
}
