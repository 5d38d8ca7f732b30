import { expect, test } from "vitest";

import { liked, readManner, written } from "./manner";

test("a manner is one word, and read back from it", () => {
  const how = { language: "es", lengths: "in", distances: "ft", clock: "12" } as const;
  expect(written(how)).toBe("es-in-ft-12");
  expect(readManner(written(how))).toEqual(how);
});

test.each(["", "es", "es-in-ft", "xx-cm-m-24", "en-cm-m-25", "en-cm-m-24-x"])("%s is no manner", (text) => expect(readManner(text)).toBeNull());

test("the first language of the browser that we have is taken", () => {
  expect(liked(["ca", "es-MX", "en"]).language).toBe("es");
  expect(liked(["ja"]).language).toBe("en");
});
