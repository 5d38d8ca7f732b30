"""Renews docs/screenshots from the demo of a running application: ``python -m tools.screenshots [ADDRESS]``."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.browser.hands import more

from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.modelled import putting_capture_of

OUT = Path(__file__).parents[1] / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-dev-shm-usage"]


def keep(page: Page, name: str) -> None:
    """One picture, once fonts and data are there."""
    page.wait_for_timeout(700)
    page.screenshot(path=str(OUT / f"{name}.png"))


def main() -> None:
    """Sign in, walk through the views, keep one picture of each."""
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420"
    OUT.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("E-mail", exact=True).fill("mara@harbour.example")
        page.get_by_label("Password").fill("arc-demo")
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="Today", exact=True).wait_for()
        keep(page, "today")
        _found(page)
        _record(page)
        _body(page)
        _ground(page)
        _putting(page)
        _plan(page)
        _benchmarks(page)
        _live(page)
        browser.close()


def _found(page: Page) -> None:
    """A question in words, and what goes home with the first of whom it finds."""
    page.keyboard.press("/")
    page.get_by_label("Find swings").fill("7-iron, cups past the band at the top, last 90 days")
    page.get_by_role("heading", name=re.compile("swings,")).wait_for()
    keep(page, "search")
    lesson = page.get_by_role("link", name=re.compile("^Swing ")).first.get_attribute("href")
    page.goto(f"{'/'.join(page.url.split('/')[:3])}/api/lessons/{(lesson or '').split('/')[2]}/page")
    keep(page, "home")
    page.goto("/".join(page.url.split("/")[:3]))
    page.get_by_role("heading", name="Today", exact=True).wait_for()


def _record(page: Page) -> None:
    """What the demo already holds."""
    page.get_by_role("link", name="Players").click()
    page.get_by_role("link", name="Ilse Marrow").click()
    keep(page, "player")
    page.get_by_role("link", name=re.compile("7 swings")).first.click()
    page.get_by_role("link", name="Swings", exact=True).click()
    page.get_by_role("slider", name="Position in the swing").wait_for()
    keep(page, "swing")
    page.keyboard.press("d")
    page.keyboard.press("o")
    page.get_by_test_id("clip-line").wait_for()
    page.wait_for_timeout(1000)
    keep(page, "video")
    page.keyboard.press("o")
    page.keyboard.press("v")
    keep(page, "show")
    page.keyboard.press("v")
    page.keyboard.press("d")
    page.get_by_role("slider", name="Position in the swing").wait_for()
    page.keyboard.press("e")
    page.get_by_role("img", name=re.compile("and the difference beneath$")).wait_for()
    keep(page, "compare")
    page.keyboard.press("Escape")


def _group(page: Page, name: str) -> None:
    page.get_by_label(re.compile("^Group: ")).click()
    page.get_by_role("button", name=re.compile(f"^{name}")).last.click()


def _body(page: Page) -> None:
    """A lesson before cameras."""
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("link", name="Players").click()
    page.get_by_role("link", name="Bram Oakhollow").click()
    page.get_by_role("link", name=re.compile("5 swings")).first.click()
    page.get_by_role("link", name="Swings", exact=True).click()
    more(page, "Figure")
    page.get_by_role("radio", name="Target line").click()
    page.wait_for_timeout(1500)
    keep(page, "figure")


def _putting(page: Page) -> None:
    """Fifteen putts from three distances, the putter against its pendulum."""
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("button", name="Start now", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Start", exact=True).click()
    page.get_by_role("link", name="Capture", exact=True).click()
    data = putting_capture_of(play_putting(PUTTING["putt-handle-drift"], 5, sources=("wrist", "markers")))
    file = {"name": "putts.zip", "mimeType": "application/zip", "buffer": zip_bytes(bundle_files(data))}
    page.get_by_label("Capture bundle").set_input_files(file)  # type: ignore[arg-type]
    page.get_by_role("slider", name="Position in the swing").wait_for(timeout=120_000)
    page.get_by_role("link", name="Putting", exact=True).click()
    page.get_by_role("heading", level=2).first.wait_for()
    page.keyboard.press("6")
    page.get_by_role("slider", name="Time").wait_for()
    for _ in range(12):
        page.keyboard.press("ArrowLeft")
    keep(page, "putting")


def _ground(page: Page) -> None:
    """A lesson on the mat: the player's guess, then what was."""
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("link", name="Players").click()
    page.get_by_role("link", name="Tobin Askew").click()
    page.get_by_role("link", name=re.compile("5 swings")).first.click()
    page.get_by_role("link", name="Swings", exact=True).click()
    page.get_by_label(re.compile("^Group: ")).wait_for()
    if not page.get_by_role("button", name="Show without a guess").is_visible():
        _group(page, "Ground")
    page.get_by_role("button", name="left foot", exact=True).click()
    page.get_by_role("button", name="middle", exact=True).click()
    page.get_by_test_id("ground-sentence").wait_for()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    keep(page, "ground")


def _plan(page: Page) -> None:
    """A tight back and a slice: the proposal, and what another school would change."""
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("link", name="Players").click()
    page.get_by_role("link", name="Halle Brandreth").click()
    page.get_by_role("link", name=re.compile("5 swings")).first.click()
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("button", name="Reopen").click()
    more(page, "As proposed")
    page.wait_for_timeout(500)
    keep(page, "plan")
    page.get_by_role("button", name="Judge otherwise").click()
    page.get_by_role("radio", name="Restrained").click()
    page.get_by_role("button", name="Keep it").wait_for()
    page.get_by_role("button", name="Close").click()


def _benchmarks(page: Page) -> None:
    """What swings are judged by, and who says so."""
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("link", name="Benchmarks").click()
    page.get_by_role("button", name=re.compile("^Lead wrist extension")).first.wait_for()
    keep(page, "benchmarks")
    page.get_by_role("link", name="Bays", exact=True).click()
    page.get_by_text(re.compile("devices send")).first.wait_for()
    keep(page, "bays")


def _live(page: Page) -> None:
    """A walk-in with the stand-in device."""
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("button", name="Start now", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Start", exact=True).click()
    page.get_by_role("button", name="Start the poses").wait_for()
    keep(page, "fit")
    page.get_by_role("button", name="Start the poses").click()
    page.get_by_text("Hold still").wait_for(timeout=120_000)
    page.get_by_role("link", name="Capture swings").wait_for(timeout=60_000)
    keep(page, "setup")
    page.get_by_role("link", name="Capture swings").click()
    page.get_by_role("button", name="Three swings").click()
    page.get_by_role("link", name="Look at swing 3").wait_for(timeout=60_000)
    keep(page, "capture")
    page.get_by_role("button", name="Live").click()
    page.get_by_test_id("settled").filter(has_text="Settled").wait_for(timeout=60_000)
    keep(page, "live")
    page.get_by_role("button", name="Train").click()
    page.get_by_role("button", name="Train", exact=True).last.click()
    for count in (1, 2):
        page.get_by_role("button", name="Stand-in: swing").click()
        page.get_by_role("img", name=f"Repetition {count}:").wait_for(timeout=60_000)
    page.emulate_media(color_scheme="dark")
    keep(page, "trainer")
    page.emulate_media(color_scheme="light")
    page.keyboard.press("e")
    page.get_by_role("heading", name="What is trained?").wait_for()
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("button", name="End the lesson").click()
    page.get_by_role("button", name="End and erase").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()


if __name__ == "__main__":
    main()
