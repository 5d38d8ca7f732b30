import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import { serve } from "@/testing/screen";

import { Presets } from "./Presets";

afterEach(cleanup);

const shown = () =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <Presets />
    </QueryClientProvider>,
  );

describe("remembered names of markers", () => {
  it("are listed, and one is forgotten", async () => {
    let kept = [
      { id: "a", name: "camera bay", handedness: "right", markers: 38 },
      { id: "b", name: "old room", handedness: "left", markers: 12 },
    ];
    const asked = serve({
      "GET /api/marker-presets": () => kept,
      "DELETE /api/marker-presets/b": () => {
        kept = kept.slice(0, 1);
        return { ok: true };
      },
    });
    shown();
    expect((await screen.findByText("old room")).textContent).toContain("12 markers · left-handed");
    fireEvent.click(screen.getByRole("button", { name: "Forget old room" }));
    await waitFor(() => expect(screen.queryByText("old room")).toBeNull());
    expect(screen.getByText("camera bay")).toBeTruthy();
    expect(asked.map((a) => a.what)).toEqual(["GET /api/marker-presets", "DELETE /api/marker-presets/b", "GET /api/marker-presets"]);
  });

  it("are not spoken of when there are none", async () => {
    const asked = serve({ "GET /api/marker-presets": [] });
    shown();
    await waitFor(() => expect(asked.length).toBe(1));
    expect(screen.queryByRole("region", { name: "Remembered names" })).toBeNull();
  });
});
