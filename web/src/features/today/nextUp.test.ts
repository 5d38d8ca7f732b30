import { describe, expect, it } from "vitest";

import type { Schemas } from "@/api/client";

import { nextUp } from "./Today";

const entry = (id: string, status: Schemas["DiaryEntry"]["status"]) => ({ id, status }) as Schemas["DiaryEntry"];

describe("who is next", () => {
  it("is the running lesson, else the first planned one, else nobody", () => {
    expect(nextUp([entry("a", "closed"), entry("b", "planned"), entry("c", "running")])?.id).toBe("c");
    expect(nextUp([entry("a", "closed"), entry("b", "planned")])?.id).toBe("b");
    expect(nextUp([entry("a", "closed")])).toBeUndefined();
  });
});
