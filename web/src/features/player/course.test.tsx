import { screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import { lessonAnswers } from "@/testing/lesson";
import { closeScreen, open, serve } from "@/testing/screen";

afterEach(closeScreen);

const listed = (more: object) => ({
  id: "p1",
  name: "Ilse Marrow",
  handedness: "right",
  population: "adult",
  walk_in: false,
  consent: true,
  last_lesson: null,
  next_lesson: null,
  priority: "",
  limits: false,
  ...more,
});

describe("the list of players", () => {
  it("says who has limits, what they work on and when they come", async () => {
    const players = [
      listed({ handedness: "left", limits: true, priority: "Over-extended", last_lesson: "2026-11-18T10:00:00Z", next_lesson: "2026-12-02T10:00:00Z" }),
      listed({ id: "p2", name: "New One" }),
    ];
    serve({ ...lessonAnswers({}), "GET /api/players": players });
    open("/players");
    const row = await screen.findByRole("link", { name: /Ilse Marrow/ });
    for (const words of ["limits", "left-handed", "Over-extended", "last 18 Nov · next 2 Dec"]) expect(row.textContent).toContain(words);
    const other = screen.getByRole("link", { name: /New One/ });
    expect(other.textContent).toContain("not seen yet");
    expect(other.textContent).not.toContain("limits");
  });
});
