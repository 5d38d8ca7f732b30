import { expect, it } from "vitest";

import { clubLabel } from "./clubs";

it("names a club as the catalogue does, and any other by its id", () => {
  expect(clubLabel([{ id: "7-iron", label: "7-iron" }], "7-iron")).toBe("7-iron");
  expect(clubLabel([], "putter")).toBe("Putter");
  expect(clubLabel(undefined, "driver")).toBe("Driver");
});
