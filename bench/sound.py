"""How long the trainer's sound takes in the browser: from a message's arrival until the tone is let through, and what
the browser says its own way to the loudspeaker takes on top.

Needs a running application with the demo (``./start`` in another terminal), then ``python -m bench.sound``. A stand-in
swings with a band that every swing enters and leaves; the page's own calls are timed. Headless Chromium has no
loudspeaker: the browser's figure is that of its silent device.
"""

from __future__ import annotations

import argparse
import json
import statistics
import time
from typing import Any

from playwright.sync_api import Page, sync_playwright

from bench.figure import FLAGS, sign_in

TIMED = """
window.__told = 0;
window.__sounds = [];
window.__contexts = [];
const Plain = window.WebSocket;
window.WebSocket = class extends Plain {
  constructor(...args) {
    super(...args);
    this.addEventListener("message", (event) => { window.__told = event.timeStamp; });
  }
};
const set = AudioParam.prototype.setTargetAtTime;
AudioParam.prototype.setTargetAtTime = function (value, at, constant) {
  if (value === 0 || value < 2) window.__sounds.push(performance.now() - window.__told);
  return set.call(this, value, at, constant);
};
const Context = window.AudioContext;
window.AudioContext = class extends Context {
  constructor(...args) {
    super(...args);
    window.__contexts.push(this);
  }
};
"""
BAND = {
    "metric": "lead_wrist_extension",
    "low": 5.0,
    "high": 60.0,
    "phase": "way_back",
    "told_from": "bench",
    "fades": False,
    "locked": True,
}


def call(page: Page, method: str, path: str, body: object = None) -> Any:
    """The application's API with the page's own session."""
    status, text = page.evaluate(
        """async ([method, path, body]) => {
          const { csrf } = await (await fetch("/api/me")).json();
          const headers = { "content-type": "application/json", "x-csrf-token": csrf, "if-match": "*" };
          const sent = body === null ? undefined : JSON.stringify(body);
          const r = await fetch("/api" + path, { method, headers, body: sent });
          return [r.status, await r.text()];
        }""",
        [method, path, body],
    )
    if status >= 300:
        raise SystemExit(f"{path}: {text}")
    return json.loads(text)


def main() -> None:
    """Prints the median and the 95th percentile, ms."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--address", default="http://127.0.0.1:8420")
    parser.add_argument("--swings", type=int, default=8)
    args = parser.parse_args()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=[*FLAGS, "--autoplay-policy=no-user-gesture-required"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(TIMED)
        sign_in(page, args.address)
        sounds, latency_ms = _trained(page, args.address, args.swings)
        browser.close()
    sounds.sort()
    late = sounds[min(len(sounds) - 1, round(0.95 * len(sounds)))]
    middle = statistics.median(sounds)
    print(f"{len(sounds)} times, message to the tone let through or stopped: {middle:.2f} ms, 95 % {late:.2f} ms")
    print(f"the browser's own way to its device: {latency_ms:.1f} ms; the tone's rise to two thirds: 8 ms")


def _trained(page: Page, address: str, swings: int) -> tuple[list[float], float]:
    players, me = call(page, "GET", "/players"), call(page, "GET", "/me")
    at = time.strftime(f"2032-%m-%dT{time.gmtime().tm_sec % 24:02d}:%M:00Z", time.gmtime())
    made = {"player_id": players[1]["id"], "instructor_id": me["instructor_id"], "bay": "Bay 2", "minutes": 45}
    lesson = call(page, "POST", "/lessons", {**made, "starts_at": at})["id"]
    call(page, "POST", f"/lessons/{lesson}/recordings", {"scenario": "hold-then-flex", "seed": 5, "club_clip": True})
    page.goto(f"{address}/lessons/{lesson}/capture")
    page.get_by_text("Ready", exact=True).first.wait_for(timeout=120_000)
    call(page, "POST", f"/lessons/{lesson}/training", BAND)
    page.goto(f"{address}/lessons/{lesson}/train")
    page.get_by_role("button", name="Sound off").click()
    page.evaluate("window.__sounds.length = 0")
    for _ in range(swings):
        before = page.evaluate("window.__sounds.length")
        page.get_by_role("button", name="Stand-in: swing").click()
        page.wait_for_function("n => window.__sounds.length > n + 1", arg=before, timeout=60_000)
        page.wait_for_timeout(1500)
    sounds = page.evaluate("window.__sounds")
    latency = page.evaluate("1000 * (window.__contexts[0].baseLatency + (window.__contexts[0].outputLatency || 0))")
    call(page, "POST", f"/lessons/{lesson}/close", {"priorities": []})
    return sounds, latency


if __name__ == "__main__":
    main()
