"""How many pictures a second the figure, and the mat, draw while they are scrubbed, in headless Chromium without a
graphics card.

Needs a running application with the demo (``./start`` in another terminal), then ``python -m bench.figure``. The arc is
dragged around for a few seconds; the browser's own frames are counted, and the time the page spends drawing each.
"""

from __future__ import annotations

import argparse
import math
import re
import statistics

from playwright.sync_api import Page, sync_playwright

FLAGS = ("--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync")
COUNT = """() => {
  window.__frames = [];
  let last = performance.now();
  const tick = (now) => {
    window.__frames.push(now - last);
    last = now;
    if (window.__going) requestAnimationFrame(tick);
  };
  window.__going = true;
  requestAnimationFrame(tick);
}"""


def sign_in(page: Page, address: str) -> None:
    """Sign in to the demo."""
    page.goto(address)
    page.get_by_label("E-mail", exact=True).fill("mara@harbour.example")
    page.get_by_label("Password").fill("arc-demo")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()


def open_swing(page: Page, address: str, player: str) -> None:
    """The player's last swing."""
    players = page.request.get(f"{address}/api/players").json()
    chosen = next(p for p in players if p["name"] == player)
    lessons = page.request.get(f"{address}/api/players/{chosen['id']}").json()["lessons"]
    lesson = next(x for x in lessons if x["swings"])
    swings = page.request.get(f"{address}/api/lessons/{lesson['id']}").json()["swings"]
    page.goto(f"{address}/lessons/{lesson['id']}/swings/{swings[-1]['id']}")


def open_figure(page: Page, address: str, player: str) -> None:
    """The figure of the player's last swing, seen by cameras."""
    open_swing(page, address, player)
    page.get_by_role("slider", name="Position in the swing").wait_for()
    page.wait_for_timeout(500)
    page.keyboard.press("x")
    page.get_by_role("img", name="Figure of the player").wait_for()
    page.wait_for_timeout(1500)


def open_ground(page: Page, address: str, player: str) -> None:
    """The mat of the player's last swing."""
    open_swing(page, address, player)
    page.get_by_label(re.compile("^Group: ")).click()
    page.get_by_role("button", name=re.compile("^Ground")).last.click()
    page.get_by_role("button", name="Show without a guess").click()
    page.get_by_role("img", name=re.compile("The mat from above")).wait_for()
    page.wait_for_timeout(1500)


def told(name: str, frames: list[float]) -> None:
    """One line."""
    middle, slow = statistics.median(frames), statistics.quantiles(frames, n=20)[-1]
    print(f"{name:14s} {1000 / middle:5.0f} frames/s in the middle, {1000 / slow:5.0f} at the slowest twentieth")


def scrub(page: Page, seconds: float) -> list[float]:
    """Milliseconds between the frames of the browser while the arc is dragged around."""
    box = page.get_by_role("slider", name="Position in the swing").bounding_box()
    assert box is not None
    x, y, r = box["x"] + 0.56 * box["width"], box["y"] + box["height"] / 2, 0.4 * box["height"]
    page.mouse.move(x, y + r)
    page.mouse.down()
    page.evaluate(COUNT)
    for k in range(int(seconds * 60)):
        angle = math.pi * (1 + math.sin(2 * math.pi * k / 240.0)) / 2.0
        page.mouse.move(x - r * math.sin(angle), y + r * math.cos(angle))
    page.evaluate("window.__going = false")
    page.mouse.up()
    frames: list[float] = page.evaluate("window.__frames")
    return frames[5:]


def main() -> None:
    """Print frames a second with and without overlays."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--address", default="http://127.0.0.1:8420")
    parser.add_argument("--player", default="Bram Oakhollow")
    parser.add_argument("--on-mat", default="Tobin Askew")
    args = parser.parse_args()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=list(FLAGS))
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        sign_in(page, args.address)
        open_ground(page, args.address, args.on_mat)
        told("mat", scrub(page, 4.0))
        open_figure(page, args.address, args.player)
        for name in ("address only", "all overlays"):
            if name == "all overlays":
                for button in page.get_by_role("group", name="Drawn over the figure").get_by_role("button").all()[1:]:
                    button.click()
            told(name, scrub(page, 4.0))
        browser.close()


if __name__ == "__main__":
    main()
