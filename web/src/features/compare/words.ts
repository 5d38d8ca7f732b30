/** What the sides of a comparison are called. */
import type { Schemas } from "@/api/client";
import { moment } from "@/lib/words";

type Side = Schemas["CompareSideOut"];
type Choice = Schemas["ChoiceOut"];

const day = (on: string | null | undefined) => (on ? new Date(`${on}T12:00:00Z`).toLocaleDateString("en-GB", { day: "numeric", month: "short" }) : "");
const swings = (n: number) => `${n} swing${n === 1 ? "" : "s"}`;

/** *Swing 6*, *Lesson of 12 Mar*, *Test*: short enough for a table's head. */
export function sideName(side: Side): string {
  switch (side.kind) {
    case "swing":
      return `Swing ${side.number}`;
    case "lesson":
      return `Lesson of ${day(side.on)}`;
    case "block":
      return side.name === "test" ? "Test" : "Drill";
    case "before":
      return "Before";
    case "tag":
      return `Tagged “${side.name}”`;
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
  if (side.kind === "reference") return "reference";
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
  const about = [label(choice.name).toLowerCase(), choice.moment ? `at ${moment(choice.moment)}` : ""].filter(Boolean).join(" ");
  switch (choice.kind) {
    case "previous":
      return ["Previous swing", `swing ${choice.number}`];
    case "swing":
      return [`Swing ${choice.number}`, "of this lesson"];
    case "last_lesson":
      return ["Last lesson", `${day(choice.on)}, ${swings(choice.swings)}`];
    case "lesson":
      return [`Lesson of ${day(choice.on)}`, `${swings(choice.swings)}, their mean`];
    case "block":
      return ["Drill or test", `${swings(choice.swings)}: ${about}`];
    case "before":
      return ["Before the drill", about];
    case "tag":
      return [`Tagged “${choice.name}”`, `${swings(choice.swings)} of this player, their mean`];
    case "reference":
      return [choice.name, "reference"];
    case "band":
      return ["The band in force", "how far outside it, and where"];
    case "model":
      return [choice.name, "a synthetic skilled swing"];
  }
}
