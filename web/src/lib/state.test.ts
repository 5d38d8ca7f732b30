// @vitest-environment jsdom
import { describe, expect, it, vi } from "vitest";

import { makeCursor } from "./cursor";
import { applyTheme, change, isDark, settings, subscribe } from "./settings";

describe("the cursor", () => {
  it("tells its listeners, once for each new instant", () => {
    const cursor = makeCursor(0);
    const listener = vi.fn();
    const stop = cursor.subscribe(listener);
    cursor.set(1);
    cursor.set(1);
    stop();
    cursor.set(2);
    expect(listener).toHaveBeenCalledTimes(1);
    expect(cursor.get()).toBe(2);
  });
});

describe("settings", () => {
  it("are kept and set the theme", () => {
    const listener = vi.fn();
    const stop = subscribe(listener);
    change({ theme: "dark", words: "standard" });
    expect(isDark()).toBe(true);
    expect(document.documentElement.dataset.theme).toBe("dark");
    expect(JSON.parse(localStorage.getItem("finearc-settings")!)).toMatchObject({ words: "standard" });
    change({ theme: "light" });
    applyTheme();
    expect(document.documentElement.dataset.theme).toBe("light");
    expect(listener).toHaveBeenCalledTimes(2);
    expect(settings().words).toBe("standard");
    stop();
  });
});
