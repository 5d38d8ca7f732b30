import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";
import { brief, finding, headline, lesson, lessonAnswers, nothing, player, summary, swing } from "@/testing/lesson";
import { closeScreen, me, open, refusal, serve, type Asked } from "@/testing/screen";

afterEach(closeScreen);

type Changed = Schemas["SwingChanged"];
const changed = (number: number, more: Partial<Changed> = {}): Changed => ({
  brief: brief(number),
  headline,
  findings: [],
  others: [],
  summaries: [],
  can_undo: null,
  can_redo: null,
  stale: false,
  ...more,
});
const key = (name: string, more: object = {}) => fireEvent.keyDown(document.body, { key: name, ...more });
const dialog = async () => within(await screen.findByRole("dialog"));
const sent = (asked: Asked[], what: string) => asked.filter((a) => a.what === what).map((a) => a.body);

/** Opens swing `number` of the lesson; what is said of it stands there. */
async function opened(number = 2, more: Parameters<typeof serve>[0] = {}, its: Parameters<typeof lesson>[0] = {}) {
  const asked = serve({ ...lessonAnswers(its), ...more });
  const place = open(`/lessons/L/swings/s${number}`);
  await screen.findByRole("heading", { level: 2 });
  await screen.findByRole("slider", { name: "Position in the swing" });
  return { asked, place };
}

describe("what is seen of a swing", () => {
  it("is one sentence, the value at the finding's checkpoint, and how many swings show it", async () => {
    await opened();
    expect(screen.getByRole("heading", { level: 2 }).textContent).toBe(headline.plain_text);
    expect(screen.getByText("That tends to open the face.")).toBeTruthy();
    expect(screen.getByText("3 of 3 swings")).toBeTruthy();
    expect(within(screen.getByRole("region", { name: "Swings of this lesson" })).getByText("cupped at the top")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Train cupped at the top" })).toBeTruthy();
    expect(screen.getByRole("slider").textContent).toMatch(/50°\s?cupped/);
  });

  it("a swing that does not count says so, a discarded one why", async () => {
    await opened(2, { "GET /api/swings/s2": swing(2, { kind: "drill" }) });
    expect(screen.getByText("Swing 2 · drill, does not count")).toBeTruthy();
    closeScreen();
    await opened(2, { "GET /api/swings/s2": swing(2, { kind: "discard", discard_reason: "topped" }) });
    expect(screen.getByText("Swing 2 · discarded: topped")).toBeTruthy();
  });

  it("keys step along checkpoints and samples; what is looked at is kept from swing to swing", async () => {
    await opened();
    const slider = screen.getByRole("slider");
    const value = () => screen.getByRole("slider").textContent!.match(/(\d+)°\s?cupped/)?.[1];
    const now = () => Number(slider.getAttribute("aria-valuenow"));
    const top = now();
    key("ArrowRight");
    await waitFor(() => expect(now()).toBeGreaterThan(top));
    expect(value()).toBe("28"); // the trace at impact
    key("ArrowLeft");
    await waitFor(() => expect(now()).toBe(top));
    key("ArrowRight", { shiftKey: true });
    await waitFor(() => expect(now()).toBeGreaterThan(top));
    key("ArrowRight");
    await waitFor(() => expect(value()).toBe("28"));
    key("PageDown");
    await waitFor(() => expect(screen.getByRole("button", { name: "Swing 3, normal" }).getAttribute("aria-current")).toBe("true"));
    await waitFor(() => expect(value()).toBe("34")); // still at impact: 60° at the top, 34° there
  });

  it("next and previous stop at the ends", async () => {
    const { place } = await opened(3);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Next swing" }).disabled).toBe(true);
    key("PageDown");
    expect(place.at()).toBe("/lessons/L/swings/s3");
    key("PageUp");
    await waitFor(() => expect(place.at()).toBe("/lessons/L/swings/s2"));
    key("PageUp");
    await waitFor(() => expect(place.at()).toBe("/lessons/L/swings/s1"));
    await waitFor(() => expect(screen.getByRole<HTMLButtonElement>("button", { name: "Previous swing" }).disabled).toBe(true));
  });

  it("the measure of a group that these sensors do not see is said with the way back", async () => {
    await opened();
    fireEvent.click(screen.getByLabelText("Group: Wrist"));
    fireEvent.click(screen.getByRole("button", { name: /^Turn/ }));
    expect(await screen.findByRole("button", { name: /Wrist|Back/ })).toBeTruthy();
    expect(screen.queryByRole("img", { name: /Trace over the swing/ })).toBeNull();
  });

  it("a swing that is gone says so", async () => {
    serve({ ...lessonAnswers(), "GET /api/swings/s2": refusal(404, "There is no such swing.", "not_found") });
    open("/lessons/L/swings/s2");
    expect((await screen.findByRole("alert")).textContent).toContain("There is no such swing.");
  });
});

describe("marking", () => {
  it("a kind is sent, put in place, and nothing else is asked for", async () => {
    const answer = changed(2, {
      brief: brief(2, { kind: "drill" }),
      headline: nothing,
      summaries: [summary({ counting: 2, findings: [] })],
      can_undo: "swing 2: drill",
    });
    const { asked } = await opened(2, { "PATCH /api/swings/s2": answer });
    await waitFor(() => expect(asked.some((a) => a.what === "GET /api/swings/s3")).toBe(true)); // neighbours are fetched ahead
    const before = asked.length;
    key("Enter");
    fireEvent.click((await dialog()).getByRole("button", { name: /^drill/ }));
    expect(await screen.findByText("Swing 2 · drill, does not count")).toBeTruthy();
    expect(screen.getByRole("heading", { level: 2 }).textContent).toBe("Nothing to change.");
    expect(screen.getByText("2 swings")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Undo" }).getAttribute("title")).toBe("swing 2: drill");
    expect(asked.slice(before).map((a) => a.what)).toEqual(["PATCH /api/swings/s2"]);
    expect(sent(asked, "PATCH /api/swings/s2")).toEqual([{ kind: "drill", reason: "" }]);
  });

  it("undo puts back what the server says was before", async () => {
    const { asked } = await opened(
      2,
      {
        "POST /api/lessons/L/undo": { label: "swing 2: drill", changed: changed(2, { can_redo: "swing 2: drill" }) },
        "GET /api/swings/s2": swing(2, { kind: "drill" }),
      },
      { can_undo: "swing 2: drill", swings: [brief(1), brief(2, { kind: "drill" }), brief(3)] },
    );
    key("z");
    await waitFor(() => expect(screen.queryByText("Swing 2 · drill, does not count")).toBeNull());
    expect(screen.queryByRole("button", { name: "Undo" })).toBeNull();
    expect(asked.filter((a) => a.what === "GET /api/lessons/L")).toHaveLength(1);
  });

  it.each([
    { left: 1, to: "/lessons/L/swings/s1" },
    { left: 0, to: "/lessons/L/capture" },
  ])("leads away from a swing whose import is undone, with $left swings left", async ({ left, to }) => {
    let undone = false;
    const said = "import of session.zip";
    const { place } = await opened(3, {
      "GET /api/lessons/L": () => lesson(undone ? { swings: left ? [brief(1)] : [], can_redo: said } : { can_undo: said }),
      "POST /api/lessons/L/undo": () => {
        undone = true;
        return { label: said, changed: null };
      },
    });
    key("z");
    await waitFor(() => expect(place.at()).toBe(to));
  });

  it("why a swing is discarded, tags and the player's own best go the same way", async () => {
    const { asked } = await opened(
      2,
      {
        "PATCH /api/swings/s2": ({ body }) => changed(2, { brief: brief(2, { tags: (body as { tags?: string[] }).tags ?? [] }) }),
        "POST /api/references": { id: "x", form: "best" },
      },
      { pinned: ["s1", "s3"] },
    );
    key("k");
    let sheet = await dialog();
    fireEvent.click(sheet.getByRole("button", { name: "skilled" }));
    await waitFor(() => expect(sheet.getByRole("button", { name: "skilled" }).getAttribute("aria-pressed")).toBe("true"));
    fireEvent.click(sheet.getByRole("button", { name: "skilled" })); // again: taken off
    await waitFor(() => expect(sheet.getByRole("button", { name: "skilled" }).getAttribute("aria-pressed")).toBe("false"));
    fireEvent.click(sheet.getByRole("button", { name: "The 2 pinned as own best" }));
    expect((await sheet.findByRole("status")).textContent).toContain("Ranges relative to the player's own best use it.");
    fireEvent.click(sheet.getByRole("button", { name: "interrupted" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(sent(asked, "PATCH /api/swings/s2")).toEqual([
      { reason: "", tags: ["skilled"] },
      { reason: "", tags: [] },
      { kind: "discard", reason: "interrupted" },
    ]);
    expect(sent(asked, "POST /api/references")).toEqual([{ name: "", form: "best", swing_ids: ["s1", "s3"] }]);
    sheet = undefined as never;
  });

  it("what the server refuses is said, and nothing changes", async () => {
    await opened(2, { "PATCH /api/swings/s2": () => refusal(409, "The lesson is closed; reopen it first.") });
    key("k");
    fireEvent.click((await dialog()).getByRole("button", { name: /^warm-up/ }));
    expect((await screen.findByRole("alert")).textContent).toContain("The lesson is closed; reopen it first.");
    expect(screen.getByText("3 of 3 swings")).toBeTruthy();
  });
});

describe("the ball", () => {
  it("is kept by lead and trail side: keys and pad mirror for a left-hander", async () => {
    const answer = { "PATCH /api/swings/s2": changed(2), "PATCH /api/swings/s1": changed(1) };
    const right = await opened(2, answer);
    key("1"); // starts left, curves left
    await waitFor(() => expect(sent(right.asked, "PATCH /api/swings/s2")).toEqual([{ reason: "", ball_start: "lead", ball_curve: "lead" }]));
    closeScreen();
    const left = await opened(2, answer, { player: player({ handedness: "left" }) });
    key("3"); // starts right, curves left
    await waitFor(() => expect(sent(left.asked, "PATCH /api/swings/s2")).toEqual([{ reason: "", ball_start: "lead", ball_curve: "trail" }]));
    key("s");
    const sheet = await dialog();
    fireEvent.click(sheet.getByRole("button", { name: "Earlier" })); // of the swing before
    expect(screen.getByRole("dialog", { name: "Ball of swing 1" })).toBeTruthy();
    fireEvent.click(sheet.getByRole("button", { name: "8: starts straight, curves right" }));
    fireEvent.click(sheet.getByRole("button", { name: "Heel" }));
    await waitFor(() =>
      expect(sent(left.asked, "PATCH /api/swings/s1")).toEqual([
        { reason: "", ball_start: "straight", ball_curve: "lead" },
        { reason: "", strike: "heel" },
      ]),
    );
  });

  it("what was marked is shown as this player sees it, and a strike is taken off by the same tap", async () => {
    const its = { ball_start: "trail", ball_curve: "straight", strike: "toe" } as const;
    const { asked } = await opened(
      2,
      { "GET /api/swings/s2": swing(2, its), "PATCH /api/swings/s2": changed(2) },
      { swings: [brief(1), brief(2, its), brief(3)] },
    );
    fireEvent.click(screen.getByRole("button", { name: "More" }));
    const more = await dialog();
    expect(more.getByText(/^starts right/)).toBeTruthy();
    fireEvent.click(more.getByRole("button", { name: /^Ball/ }));
    const sheet = within(await screen.findByRole("dialog", { name: "Ball of swing 2" }));
    expect(sheet.getByRole("button", { name: /starts right, straight/ }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(sheet.getByRole("button", { name: "Toe" }));
    await waitFor(() => expect(sent(asked, "PATCH /api/swings/s2")).toEqual([{ reason: "", strike: "" }]));
  });
});

it("another club is of this swing, and of the next ones unless that is taken off", async () => {
  const { asked } = await opened(2, { "PATCH /api/swings/s2": changed(2), "PATCH /api/lessons/L": { club: "driver", summaries: [] } });
  key("c");
  fireEvent.click((await dialog()).getByRole("button", { name: "Driver" }));
  await waitFor(() => expect(sent(asked, "PATCH /api/lessons/L")).toEqual([{ club: "driver" }]));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  key("c");
  const sheet = await dialog();
  fireEvent.click(sheet.getByRole("checkbox"));
  fireEvent.click(sheet.getByRole("button", { name: "7-iron" }));
  await waitFor(() => expect(sent(asked, "PATCH /api/swings/s2")).toHaveLength(2));
  expect(sent(asked, "PATCH /api/lessons/L")).toHaveLength(1);
});

describe("checkpoints", () => {
  it("the chosen one moves by one sample, later and earlier, and the answered swing is shown", async () => {
    const moved = swing(2, { headline: nothing });
    const { asked } = await opened(2, { "PATCH /api/swings/s2": changed(2, { headline: nothing, swing: moved }) });
    key("]");
    await waitFor(() => expect(screen.getByRole("heading", { level: 2 }).textContent).toBe("Nothing to change."));
    key("[");
    await waitFor(() => expect(sent(asked, "PATCH /api/swings/s2")).toHaveLength(2));
    const times = sent(asked, "PATCH /api/swings/s2").map((b) => (b as { checkpoint: { name: string; time_s: number } }).checkpoint);
    expect(times.map((t) => t.name)).toEqual(["top", "top"]);
    expect(times[0]!.time_s).toBeCloseTo(1.01, 3);
    expect(times[1]!.time_s).toBeCloseTo(0.99, 3);
  });
});

describe("training", () => {
  it("starts with the finding's first drill, goes on to a test, and ends", async () => {
    const block = (more: Partial<Schemas["BlockOut"]> = {}): Schemas["BlockOut"] => ({
      id: "b1",
      kind: "drill",
      finding: "extended_top",
      metric: "lead_wrist_extension",
      moment: "top",
      drill: "peg",
      club: "7-iron",
      running: true,
      swings: 0,
      change: null,
      ...more,
    });
    const bodies: unknown[] = [];
    const { asked } = await opened(2, {
      "POST /api/lessons/L/blocks": ({ body }) => {
        bodies.push(body);
        return lesson({ blocks: [block({ kind: (body as { kind: "drill" }).kind })] });
      },
      "POST /api/lessons/L/blocks/end": lesson({ blocks: [block({ kind: "test", running: false })] }),
    });
    key("t");
    const training = within(await screen.findByRole("region", { name: "Training" }));
    expect(training.getByText(/Peg in the glove/)).toBeTruthy();
    expect(training.getByText(/Stop if it hurts/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: /^Train/ }).disabled).toBe(true);
    fireEvent.click(training.getByRole("button", { name: "Test it" }));
    expect(await training.findByText("Test without the drill.")).toBeTruthy();
    fireEvent.click(training.getByRole("button", { name: "End test" }));
    await waitFor(() => expect(training.queryByRole("button", { name: "End test" })).toBeNull());
    const of = { finding: "extended_top", metric: "lead_wrist_extension", moment: "top", drill: "peg" };
    expect(bodies).toEqual([
      { kind: "drill", ...of },
      { kind: "test", ...of },
    ]);
    expect(asked.filter((a) => a.what === "GET /api/lessons/L")).toHaveLength(1);
  });

  it("says what came of the test and draws its interval over what would mean nothing", async () => {
    const change = {
      sentence: "It changed: 14° less cupped.",
      before_median: 41.2,
      after_median: 27.1,
      before_spread: 2.04,
      after_spread: 1.5,
      before: [1, 2],
      after: [3],
      detectable: 4.44,
      difference: -14.1,
      ci95: [-18.3, -9.9],
      smallest_relevant: 2,
    };
    const test = {
      id: "b",
      kind: "test",
      finding: "",
      metric: "lead_wrist_extension",
      moment: "top",
      drill: "",
      club: "7-iron",
      running: true,
      swings: 1,
      change,
    } as never;
    const { asked } = await opened(
      2,
      { "POST /api/lessons/L/pin": lesson({ pinned: ["s1", "s2"], blocks: [test] }) },
      { blocks: [test], swings: [brief(1, { block_id: "b" }), brief(2, { block_id: "b" }), brief(3)] },
    );
    const said = screen.getByRole("region", { name: "Training" }).textContent!;
    expect(said).toContain("It changed: 14° less cupped.");
    expect(said).toContain(
      "Before 41° cupped (spread 2.0, 2 swings) · after 27° cupped (spread 1.5, 1 swing) · top; with 95 % certainty between 10° and 18° more",
    );
    const drawn = screen.getByRole("img", { name: /The change lies between 10° and 18° more .+; less than 2° means nothing\./ });
    const [nothing, interval] = ["nothing", "interval"].map((part) => drawn.querySelector(`[data-part="${part}"]`));
    const least = Number(nothing!.getAttribute("x"));
    const ends = [...interval!.querySelectorAll("line")].flatMap((l) => [Number(l.getAttribute("x1")), Number(l.getAttribute("x2"))]);
    expect(Math.max(...ends)).toBeLessThan(least); // beside the stretch that means nothing
    fireEvent.click(screen.getByRole("button", { name: "Pin block" }));
    await waitFor(() => expect(sent(asked, "POST /api/lessons/L/pin")).toEqual([{ swing_ids: ["s1", "s2"] }]));
  });
});

it("a swing is pinned and unpinned as the before", async () => {
  const { asked } = await opened(
    2,
    { "POST /api/lessons/L/pin": ({ body }) => lesson({ pinned: (body as { swing_ids: string[] }).swing_ids }) },
    { pinned: ["s1"] },
  );
  key("b");
  await waitFor(() => expect(sent(asked, "POST /api/lessons/L/pin")).toHaveLength(1));
  fireEvent.click(screen.getByRole("button", { name: "More" }));
  fireEvent.click(await screen.findByRole("button", { name: /^Unpin/ }));
  fireEvent.click(screen.getByRole("button", { name: "More" }));
  expect(await screen.findByRole("button", { name: /^Pin/ })).toBeTruthy();
  expect(sent(asked, "POST /api/lessons/L/pin")).toEqual([{ swing_ids: ["s1", "s2"] }, { swing_ids: ["s1"] }]);
});

describe("why", () => {
  it("gives findings with evidence that leads to its place, drills and what is withheld", async () => {
    await opened(
      2,
      {},
      {
        summaries: [
          summary({ plain_good: ["The tempo is even."], good: ["The tempo is even."], withheld: [{ drill: "rope", reason: "limit of the back" } as never] }),
        ],
      },
    );
    key("w");
    const sheet = await dialog();
    expect(sheet.getByText("The tempo is even.")).toBeTruthy();
    expect(sheet.getByText("A finding · 3 of 3 swings · outside its band with 93 % certainty")).toBeTruthy();
    expect(sheet.getByText("Rope").parentElement!.textContent).toBe("Rope is withheld: limit of the back.");
    expect(sheet.getByText("Peg in the glove.").parentElement!.textContent).toContain("Feel: Flat.");
    fireEvent.click(sheet.getByRole("button", { name: "5° cupped at impact" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    await waitFor(() => expect(screen.getByRole("slider").textContent).toContain("impact 28°"));
  });

  it("nothing to change is an answer; what cannot be assessed is not absent", async () => {
    const none = { finding: "x", label: "Early extension", reason: "needs a pelvis sensor" } as never;
    await opened(2, { "GET /api/swings/s2": swing(2, { findings: [] }) }, { summaries: [summary({ findings: [], not_assessed: [none] })] });
    key("w");
    const sheet = await dialog();
    expect(sheet.getByText("Nothing to change is an answer too.")).toBeTruthy();
    expect(sheet.getByText("needs a pelvis sensor:").parentElement!.textContent).toBe("needs a pelvis sensor: Early extension");
  });

  it("a hint says that it is one, and an explained finding what comes first", async () => {
    await opened(
      2,
      {},
      { summaries: [summary({ findings: [finding({ status: "hint", assessed: 1, shown: 1, explained_by: "extended_top" as never, confidence: 0.999 })] })] },
    );
    key("w");
    expect(
      (await dialog()).getByText(
        "A hint: seldom or mild so far · 1 of 1 swing · outside its band with 99 % certainty · fits with cupped at the top, which comes first",
      ),
    ).toBeTruthy();
  });
});

describe("numbers", () => {
  it("are asked for when they are looked at, ordered along the swing, with what lies outside", async () => {
    const of = (moment: string, words: string, more: object = {}) => ({
      metric: "lead_wrist_extension",
      moment,
      value: 1,
      uncertainty: 2.4,
      unit: "deg",
      source: "wrist",
      words,
      plain_words: words,
      verdict: "in_range",
      ...more,
    });
    const { asked } = await opened(2, {
      "GET /api/swings/s2/numbers": [
        of("impact", "5° cupped"),
        of("top", "41° cupped", { verdict: "high", band: { range_id: "W3a", words: "0° to 27°", by: "common practice" } }),
        of("address", "20° cupped", { verdict: "not_judged", not_judged_reason: "no range for juniors" }),
      ],
    });
    expect(asked.some((a) => a.what.endsWith("/numbers"))).toBe(false);
    key("n");
    const sheet = await dialog();
    await sheet.findByText("41° cupped");
    const rows = sheet.getAllByRole("row").map((row) => row.textContent);
    expect(rows).toEqual(["address20° cupped±2not judged: no range for juniors", "top41° cupped±2▲above 0° to 27°", "impact5° cupped±2in the band"]);
    expect(sheet.getByRole("link", { name: "Traces as CSV" }).getAttribute("href")).toBe("/api/swings/s2/traces.csv");
  });
});

describe("a changed address", () => {
  const asks = { question: "14° more extended at address than before: the grip, or the sensor?", plain_question: "14° more cupped?", answer: "" as const };
  const swings = [brief(1), brief(2, { grip: asks }), brief(3)];

  it("is asked about at its swing and after it, and not before", async () => {
    await opened(2, {}, { swings });
    expect((await screen.findByRole("region", { name: "Grip or sensor" })).textContent).toContain("14° more cupped?");
    closeScreen();
    await opened(1, {}, { swings });
    expect(screen.queryByRole("region", { name: "Grip or sensor" })).toBeNull();
  });

  it.each([
    ["y", "grip"],
    ["u", "sensor"],
  ])("is answered by the key %s: the %s, and the swings after it follow", async (name, answer) => {
    const moved = answer === "sensor";
    const { asked } = await opened(
      3,
      {
        "PATCH /api/swings/s2": changed(2, {
          brief: brief(2, { grip: { ...asks, answer: answer as "grip" }, sensor_moved: moved }),
          others: [brief(3, { sensor_moved: moved })],
        }),
      },
      { swings },
    );
    await screen.findByRole("region", { name: "Grip or sensor" });
    key(name);
    await waitFor(() => expect(screen.queryByRole("region", { name: "Grip or sensor" })).toBeNull());
    expect(sent(asked, "PATCH /api/swings/s2")).toEqual([{ reason: "", grip: answer }]);
  });
});

it("an assistant is led to nothing that is not theirs, by button or by key", async () => {
  const assistant = { ...me, role: "assistant", rights: ["account", "watch", "diary", "fit"] };
  const { asked } = await opened(2, { "GET /api/me": assistant });
  await waitFor(() => expect(screen.queryByRole("button", { name: "Why?" })).toBeNull());
  expect(screen.queryByRole("button", { name: /^Train/ })).toBeNull();
  fireEvent.click(screen.getByRole("button", { name: "More" }));
  const sheet = within(await screen.findByRole("dialog"));
  expect(sheet.getByRole("button", { name: /^Numbers/ })).toBeTruthy();
  expect(sheet.queryByRole("button", { name: /^Compare/ })).toBeNull();
  expect(sheet.queryByRole("button", { name: /^Table/ })).toBeNull();
  fireEvent.click(sheet.getByRole("button", { name: "Close" }));
  for (const key of ["w", "e", "l"]) fireEvent.keyDown(document.body, { key });
  expect(screen.queryByRole("dialog")).toBeNull();
  expect(screen.getByRole("button", { name: "More" })).toBeTruthy();
  expect(asked.some((a) => a.what.includes("/compare") || a.what.includes("/table"))).toBe(false);
});
