import { describe, expect, it } from "vitest";

import { OF_PUTTS, ORDER } from "./arc";
import { byPlace, closed, drawingOf, inside, NOMINAL, WHOLE } from "./drawnRanges";

describe("ranges at their places", () => {
  it("come in the order of the swing, the whole swing last", () => {
    const at = (place: string, id: string) => ({ place, id });
    const found = byPlace([at(WHOLE, "tempo"), at("impact", "a"), at("address", "b"), at("impact", "c")]);
    expect([...found.keys()]).toEqual(["address", "impact", WHOLE]);
    expect(found.get("impact")!.map((r) => r.id)).toEqual(["a", "c"]);
  });
  it("has a bead for every checkpoint, in order", () => {
    expect(NOMINAL.map((c) => c.name)).toEqual(ORDER.filter((c) => c !== OF_PUTTS));
    expect([...NOMINAL].sort((a, b) => a.time - b.time)).toEqual(NOMINAL);
  });
  it("is drawn as the measure, but a change only where address is the drawing's zero", () => {
    expect(drawingOf({ metric: "pelvis_turn", change: false })).toBe("turn");
    expect(drawingOf({ metric: "lead_wrist_extension", change: true })).toBe("cup");
    expect(drawingOf({ metric: "posture_from_ground", change: true })).toBe("bar");
    expect(drawingOf({ metric: "tempo", change: false })).toBe("bar");
  });
  it("closes an open side beyond everything measured", () => {
    expect(closed({ low: 5, high: null }, [2, 30], 10)).toEqual({ low: 5, high: 40 });
    expect(closed({ low: null, high: -80 }, [], 10)).toEqual({ low: -90, high: -80 });
    expect(closed({ low: 1, high: 6 }, [20], 10)).toEqual({ low: 1, high: 6 });
    expect(closed({ low: null, high: null }, [1], 10)).toBeNull();
  });
  it("counts what lies inside, the limits included", () => {
    expect(inside({ low: 1, high: 6 }, [0.9, 1, 3, 6, 6.1])).toBe(3);
    expect(inside({ low: null, high: 0 }, [-5, 1])).toBe(1);
  });
});
