import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import { headline, lessonAnswers, nothing, player, swing } from "@/testing/lesson";
import { closeScreen, open, refusal, serve } from "@/testing/screen";

afterEach(closeScreen);

const shown = async (more: Parameters<typeof serve>[0] = {}, its: Parameters<typeof lessonAnswers>[0] = {}) => {
  serve({ ...lessonAnswers(its), ...more });
  const place = open("/lessons/L/show/s2");
  await screen.findByRole("img", { name: "Your swing" });
  return place;
};

it("the player sees one value, its direction in plain words and one sentence; no name, no pain, no uncertainty", async () => {
  await shown({}, { pain: "yes", pain_note: "Left knee since Monday." });
  expect(screen.getByText("41°")).toBeTruthy();
  expect(screen.getByText("cupped")).toBeTruthy();
  expect(screen.getByText("at the top")).toBeTruthy();
  expect(screen.getByText(headline.player_text)).toBeTruthy();
  const all = document.body.textContent!;
  for (const hidden of ["Ilse", "knee", "±", "confidence", "W3a", "band"]) expect(all).not.toContain(hidden);
});

it("without a value of the measure the sentence stands alone", async () => {
  await shown({
    "GET /api/swings/s2": swing(2, {
      headline: { ...nothing, player_text: "Nothing to change.", metric: "tempo" as never, moment: "swing" },
      values: {},
      judged: [],
    }),
  });
  expect(screen.getByText("Nothing to change.")).toBeTruthy();
  expect(screen.queryByText(/°/)).toBeNull();
});

it("the arc of a left-hander is the mirror of a right-hander's", async () => {
  const path = () => document.querySelector("svg[aria-label='Your swing'] > path")!.getAttribute("d")!;
  const xs = (d: string) => [...d.matchAll(/(-?[\d.]+),(-?[\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])] as const);
  await shown();
  const right = xs(path());
  closeScreen();
  await shown({}, { player: player({ handedness: "left" }) });
  const left = xs(path());
  expect(left.length).toBe(right.length);
  left.forEach(([x, y], k) => {
    expect(x + right[k]![0]).toBeCloseTo(520, 1);
    expect(y).toBeCloseTo(right[k]![1], 1);
  });
});

it.each(["v", "Escape", "Enter"])("%s leads back to the swing, as a tap anywhere does", async (key) => {
  const place = await shown();
  fireEvent.keyDown(document.body, { key });
  await waitFor(() => expect(place.at()).toBe("/lessons/L/swings/s2"));
});

it("a swing that cannot be read says so instead of showing an old one", async () => {
  serve({ ...lessonAnswers(), "GET /api/swings/s2/blocks/traces/1": () => refusal(422, "The traces of this swing cannot be read.") });
  open("/lessons/L/show/s2");
  expect((await screen.findByRole("alert")).textContent).toContain("The traces of this swing cannot be read.");
});
