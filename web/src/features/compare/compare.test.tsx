import { fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { makeCursor } from "@/lib/cursor";
import { lessonAnswers } from "@/testing/lesson";
import { closeScreen, open, refusal, serve, type Asked } from "@/testing/screen";

import { atItsOwnTime } from "./usePlayed";
import { at, beyond, checkpointsOf, type Laid } from "./laid";
import { ModelChoice } from "./ModelChoice";
import { Said } from "./Said";
import { choiceWords, sideDetail, sideName } from "./words";

afterEach(closeScreen);

type Compared = Schemas["CompareOut"];
const node = Array.from({ length: 101 }, (_, k) => k);
const nodes = { takeaway: 0, top: 75, impact: 100 };
const laid: Laid = {
  node,
  top: 75,
  a: { mean: node.map((n) => (n > 60 && n < 80 ? 40 : 20)), sd: null, nodes },
  b: { mean: node.map(() => 20), sd: null, nodes: { ...nodes, finish: 130 } },
  difference: node.map((n) => (n > 60 && n < 80 ? 20 : 0)),
  uncertainty: node.map(() => 2),
};
const side = (more: Partial<Compared["a"]> = {}): Compared["a"] => ({
  key: "swing:s2",
  kind: "swing",
  name: "",
  number: 2,
  on: "2026-11-25",
  club: "7-iron",
  player: "Ilse Marrow",
  lesson_id: "L",
  swings: 1,
  swing_ids: ["s2"],
  ...more,
});
const lastLesson = side({ key: "lesson:K", kind: "lesson", number: null, on: "2026-11-04", swings: 5, swing_ids: [] });
const value = (more: Partial<Schemas["CompareValueOut"]> = {}): Schemas["CompareValueOut"] => ({
  moment: "top",
  a: 40,
  b: 20,
  difference: 20,
  uncertainty: 2,
  words: "20° more extended",
  plain_words: "20° more cupped",
  change: null,
  ...more,
});
const compared = (more: Partial<Compared> = {}): Compared => ({
  a: side(),
  b: lastLesson,
  notes: ["Two calibrations: what each leaves open is in the uncertainty of values."],
  metric: "lead_wrist_extension",
  moment: "top",
  sentences: ["20° more extended from arm level back to the top."],
  plain_sentences: ["20° more cupped from arm level back to the top."],
  question: "",
  laid,
  shifts: [],
  intensity: [],
  metrics: [{ metric: "lead_wrist_extension", values: [value()] }],
  ...more,
});
const choice = (more: Partial<Schemas["ChoiceOut"]>): Schemas["ChoiceOut"] => ({
  key: "swing:s1",
  kind: "previous",
  name: "",
  moment: "",
  number: 1,
  on: null,
  swings: 1,
  ...more,
});
const choices = [choice({}), choice({ key: "lesson:K", kind: "last_lesson", number: null, on: "2026-11-04", swings: 5 })];
const answers = (told: unknown) => ({ ...lessonAnswers({}), "GET /api/lessons/L/comparable": choices, "GET /api/compare": told });

/** The other sides that were asked for, in order. */
const sides = (asked: Asked[]) => asked.filter((a) => a.what === "GET /api/compare").map((a) => a.query["b"]);

describe("two courses laid over each other", () => {
  it("have their shared checkpoints where they lie on average", () => {
    expect(checkpointsOf(laid).map((c) => c.name)).toEqual(["takeaway", "top", "impact"]);
  });
  it("differ where the difference is beyond twice its uncertainty", () => {
    expect(beyond(laid)).toEqual([[61, 79]]);
    expect(beyond({ ...laid, uncertainty: node.map(() => 11) })).toEqual([]);
    expect(beyond({ ...laid, difference: node.map((n) => (n > 90 ? 9 : null)) })).toEqual([[91, 100]]);
  });
  it("have values between nodes, and none where nothing was seen", () => {
    expect(at(laid, laid.a.mean, 60.5)).toBe(30);
    expect(at(laid, [null, null, ...laid.a.mean.slice(2)], 0.5)).toBe(null);
    expect(at(laid, laid.a.mean, 500)).toBe(20);
  });
  it("move each figure in its own time", () => {
    const cursor = makeCursor(75);
    const own = atItsOwnTime(cursor, checkpointsOf(laid), [
      { name: "takeaway", time: 1 },
      { name: "top", time: 1.8 },
      { name: "impact", time: 2.1 },
    ]);
    expect(own.get()).toBeCloseTo(1.8);
    cursor.set(50);
    expect(own.get()).toBeCloseTo(1 + (0.8 * 50) / 75);
    own.set(1.95);
    expect(cursor.get()).toBeCloseTo(87.5);
  });
});

describe("what the sides are called", () => {
  it("is short, with what sets them apart beside it", () => {
    expect(sideName(side())).toBe("Swing 2");
    expect(sideName(lastLesson)).toBe("Lesson of 4 Nov");
    expect(sideDetail(side(), lastLesson)).toBe("25 Nov");
    expect(sideDetail(lastLesson, side())).toBe("5 swings");
    expect(sideDetail(side(), side())).toBe("");
    expect(sideDetail(side({ player: "Bram Oakhollow" }), side())).toBe("Bram Oakhollow");
    expect(sideName(side({ kind: "block", name: "test" }))).toBe("Test");
    expect(sideName(side({ kind: "before" }))).toBe("Before");
    expect(sideName(side({ kind: "tag", name: "skilled" }))).toBe("Tagged “skilled”");
    expect(choiceWords(choice({ kind: "tag", name: "skilled", swings: 4 }), String)).toEqual(["Tagged “skilled”", "4 swings of this player, their mean"]);
    expect(sideDetail(side({ kind: "reference" }), side())).toBe("reference");
  });
  it("says what each choice is", () => {
    expect(choiceWords(choice({}), String)).toEqual(["Previous swing", "swing 1"]);
    expect(choiceWords(choice({ kind: "block", name: "cup", moment: "top", swings: 4 }), () => "Cup")).toEqual(["Drill or test", "4 swings: cup at top"]);
    expect(choiceWords(choice({ kind: "reference", name: "Skilled swings (synthetic)" }), String)[0]).toBe("Skilled swings (synthetic)");
  });
});

describe("the comparison", () => {
  it("opens with the likeliest other side and says what differs, where it is looked at", async () => {
    serve(answers(compared()));
    open("/lessons/L/compare?a=swing:s2");
    expect(await screen.findByText("20° more cupped from arm level back to the top.")).toBeTruthy();
    expect(screen.getByText("at the top")).toBeTruthy();
    expect(screen.getAllByText("more cupped").length).toBeGreaterThan(0);
    expect(screen.getByText(/^Two calibrations/)).toBeTruthy();
    expect(document.querySelectorAll("[data-part=differs]")).toHaveLength(1);
  });
  it("goes to the last lesson and back to the previous swing by one key each", async () => {
    const asked = serve(answers(compared()));
    open("/lessons/L/compare?a=swing:s2&metric=lead_wrist_extension");
    await screen.findByText("at the top");
    expect(sides(asked)).toEqual(["swing:s1"]);
    fireEvent.keyDown(document.body, { key: "l" });
    await waitFor(() => expect(sides(asked)).toEqual(["swing:s1", "lesson:K"]));
    expect(asked.at(-1)!.query["metric"]).toBe("lead_wrist_extension");
    fireEvent.keyDown(document.body, { key: "p" });
    await waitFor(() => expect(screen.getByRole("button", { name: /Previous swing/ }).getAttribute("aria-pressed")).toBe("true"));
  });
  it("shows every value, and a tap looks at it", async () => {
    const asked = serve(
      answers(
        compared({ metrics: [{ metric: "lead_wrist_extension", values: [value(), value({ moment: "impact", words: "", plain_words: "", difference: 1 })] }] }),
      ),
    );
    open("/lessons/L/compare?a=swing:s2");
    await screen.findByText("at the top");
    fireEvent.keyDown(document.body, { key: "n" });
    const sheet = within(await screen.findByRole("dialog"));
    expect(sheet.getByText("20° more cupped")).toBeTruthy();
    fireEvent.click(sheet.getByRole("button", { name: "impact" }));
    await waitFor(() => expect(asked.at(-1)!.query).toMatchObject({ metric: "lead_wrist_extension", moment: "impact" }));
  });
  it("draws a band as a band, and tests nothing against it", async () => {
    const band = { low: node.map(() => 10), high: node.map(() => 30) };
    const asked = serve(
      answers(compared({ a: lastLesson, b: side({ key: "band:here", kind: "band", name: "The band", swings: 5 }), laid: { ...laid, band } })),
    );
    open("/lessons/L/compare?a=lesson:K&b=band:here");
    await screen.findByText("at the top");
    expect(document.querySelectorAll("[data-part=band]")).toHaveLength(1);
    expect(document.querySelector("[data-part=b]")!.getAttribute("d")).toBe("");
    expect(document.querySelectorAll("[data-part=differs]")).toHaveLength(1);
    expect(asked.some((a) => a.what === "GET /api/compare/curves")).toBe(false);
  });
  it("says what was refused", async () => {
    serve(answers(refusal(409, "nothing can be compared there: there is no swing that counts.")));
    open("/lessons/L/compare?a=swing:s2");
    expect(await screen.findByText(/no swing that counts/)).toBeTruthy();
  });
});

describe("a synthetic skilled swing", () => {
  const schools = [
    ["lead_wrist", "Lead wrist at the top", "hold", "flat"],
    ["pelvis", "Pelvis turn going back", "free", "restrained"],
    ["pressure", "Pressure at impact", "front_foot", "reverse"],
  ].map(([axis, label, ...options]) => ({
    axis: axis!,
    label: label!,
    seen_by: [],
    noun: "",
    shot: "full",
    options: options.map((id) => ({ id, label: id, explained: "" })),
  }));
  const models = ["mid-iron", "chip"].map((k) => choice({ key: `model:${k}.hold.free.front_foot`, kind: "model", name: k, number: null }));
  it("is put together from a club or shot and the ways that are taught", () => {
    const chosen: string[] = [];
    const catalogue = { schools } as unknown as Schemas["Catalogue"];
    render(<ModelChoice models={models} catalogue={catalogue} chosen="swing:s1" onChoose={(key) => chosen.push(key)} />);
    fireEvent.click(screen.getByRole("radio", { name: "chip" }));
    fireEvent.click(screen.getByRole("radio", { name: "flat" }));
    fireEvent.click(screen.getByRole("radio", { name: "reverse" }));
    fireEvent.click(screen.getByRole("button", { name: "Compare with it" }));
    expect(chosen).toEqual(["model:chip.flat.free.reverse"]);
  });
  it("opens with the one that is looked at", () => {
    render(
      <ModelChoice
        models={models}
        catalogue={{ schools } as unknown as Schemas["Catalogue"]}
        chosen="model:chip.hold.restrained.reverse"
        onChoose={() => {}}
      />,
    );
    for (const name of ["chip", "hold", "restrained", "reverse"]) expect(screen.getByRole("radio", { name }).getAttribute("aria-checked")).toBe("true");
  });
});

describe("whether it is real", () => {
  const change = { difference: -12, ci95: [-15, -9], smallest_relevant: 2, verdict: "changed" as const, more_swings: null, real: true };
  const metric = {
    id: "lead_wrist_extension",
    label: "Lead wrist extension",
    plain_label: "Wrist cup",
    unit: "deg",
    positive: "extended",
    negative: "flexed",
    plain_positive: "cupped",
    plain_negative: "bowed",
    decimals: 0,
  };
  const groups = compared({
    question: "A real difference.",
    metrics: [{ metric: "lead_wrist_extension", values: [value({ change })] }],
  });
  it("is said first, with the interval drawn and where along the swing", () => {
    const stretches = [
      { first: 61, last: 79, start: "arm_level_back" as const, end: "top" as const, more: true, p: 0.01, words: "from arm level back to the top" },
    ];
    render(<Said data={groups} metric={metric} words="plain" stretches={stretches} waiting={false} />);
    expect(screen.getByText("A real difference.")).toBeTruthy();
    expect(screen.getByRole("img", { name: "12° more bowed at top, between 9° and 15° more bowed" })).toBeTruthy();
    expect(screen.getByText("Along the swing they differ from arm level back to the top.")).toBeTruthy();
  });
  it("is nothing where nothing is beyond what is uncertain", () => {
    const near = { ...laid, difference: node.map(() => 1) };
    render(<Said data={compared({ plain_sentences: [], laid: near })} metric={metric} words="plain" stretches={null} waiting />);
    expect(screen.getByText("No difference beyond what is uncertain.")).toBeTruthy();
    expect(screen.getByRole("status").textContent).toBe("Looking along the swing…");
  });
});
