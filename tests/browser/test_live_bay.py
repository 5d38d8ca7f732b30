"""Live in the real application: the arc and the hand move, the trainer counts, a second screen follows."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from tests.browser.layout import SIZES, wrong
from tests.browser.test_interface import violations
from tests.browser.test_phone import call

pytestmark = [pytest.mark.browser, pytest.mark.live]


@pytest.fixture
def lesson_id(page: Page) -> Iterator[str]:
    """A lesson in the second bay whose stand-in is calibrated; closed afterwards, so that nothing goes on."""
    players, me = call(page, "GET", "/players"), call(page, "GET", "/me")
    made = {"player_id": players[1]["id"], "instructor_id": me["instructor_id"], "bay": "Bay 2"}
    lesson = call(page, "POST", "/lessons", {**made, "starts_at": "2031-04-04T10:00:00Z", "minutes": 45})["id"]
    call(page, "POST", f"/lessons/{lesson}/recordings", {"scenario": "over-extended", "seed": 5, "club_clip": True})
    page.goto(f"{page.url.split('/lessons')[0].rstrip('/')}/lessons/{lesson}/capture")
    expect(page.get_by_text("Ready", exact=True)).to_be_visible(timeout=60_000)
    yield lesson
    call(page, "POST", f"/lessons/{lesson}/close", {"priorities": []})


def test_from_the_setup_questions_to_a_test_without_feedback(page, chromium, address, lesson_id):
    page.keyboard.press("l")
    expect(page.get_by_text("How does the hand sit at address?")).to_be_visible()
    expect(page.get_by_test_id("settled")).to_contain_text(re.compile(r"Settled at \d+° cupped, wandering by ± 0\.\d°"))
    expect(page.get_by_test_id("value")).to_have_text(re.compile(r"^\d+°$"))
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("These sensors cannot see this.")).to_be_visible()
    page.keyboard.press("Escape")

    code = call(page, "POST", "/bays/screens", {"bay": "Bay 2"})["code"]
    context = chromium.new_context(viewport={"width": 1920, "height": 1080})
    second = context.new_page()
    second.goto(f"{address}/screen")
    second.get_by_label("Code").fill(code.lower())
    second.get_by_role("button", name="Follow").click()
    expect(second.get_by_test_id("value")).to_have_text(re.compile(r"^\d+°$"))

    page.keyboard.press("t")
    page.get_by_role("button", name="A band by hand").click()
    page.get_by_label("Measure").select_option(label="Wrist cup")
    page.get_by_role("textbox", name="From").fill("5")
    page.get_by_role("textbox", name="To").fill("70")
    page.get_by_role("button", name="Train it").click()
    expect(page.get_by_test_id("word")).to_have_text("Ready")
    page.get_by_role("button", name="More").click()
    page.get_by_label("Ask what was felt before it is shown").check()
    page.get_by_role("button", name="Close").click()
    page.get_by_role("button", name=re.compile("^Sound")).click()
    expect(page.get_by_role("button", name=re.compile("^Sound on"))).to_be_visible()

    page.get_by_role("button", name="Stand-in: swing").click()
    expect(page.get_by_test_id("word")).to_have_text("What did you feel?")
    expect(page.get_by_test_id("run")).to_have_text("?")  # nothing is given away before the guess
    page.keyboard.press("4")
    expect(page.get_by_text("It felt: too cupped. It was: as wanted.")).to_be_visible()
    expect(page.get_by_test_id("word")).to_have_text("Good")
    expect(page.get_by_test_id("run")).to_have_text("1")
    expect(page.get_by_role("img", name="Repetition 1: good")).to_be_visible()
    expect(second.get_by_test_id("run")).to_have_text("1")
    expect(second.get_by_role("img", name="Repetition 1: good")).to_be_visible()
    expect(second.locator("body")).not_to_contain_text(call(page, "GET", f"/lessons/{lesson_id}")["player"]["name"])

    page.keyboard.press("t")
    expect(page.get_by_text("test: no feedback")).to_be_visible()
    page.get_by_role("button", name="Stand-in: swing").click()
    expect(page.get_by_role("img", name="Repetition 1: not told")).to_be_visible()
    page.keyboard.press("e")
    expect(page.get_by_text("1 of 1 good, without feedback.")).to_be_visible()
    expect(page.get_by_text("1 of 1 good, best run 1.")).to_be_visible()
    context.close()


def test_a_code_of_no_bay_is_said_and_asked_for_again(chromium, address):
    context = chromium.new_context()
    screen = context.new_page()
    screen.goto(f"{address}/screen#NOSUCHCODE")
    expect(screen.get_by_role("alert")).to_contain_text("This code is of no bay")
    expect(screen.get_by_label("Code")).to_be_visible()
    context.close()


def test_every_live_view_fits_and_can_be_used_by_everybody(page, address, lesson_id):
    """Live, the trainer before, in and after a repetition, the second screen and the phone's page, at every size."""
    code = call(page, "POST", "/bays/screens", {"bay": "Bay 2"})["code"]
    band = {"metric": "lead_wrist_extension", "low": 5.0, "high": 9.0, "phase": "at_top", "told_from": "by hand"}
    found: dict[str, list[str]] = {}
    views = {
        "capture": f"/lessons/{lesson_id}/capture",
        "live": f"/lessons/{lesson_id}/live",
        "figure": f"/lessons/{lesson_id}/live",
        "screen figure": f"/screen#{code}",
        "choose": f"/lessons/{lesson_id}/train",
        "train": f"/lessons/{lesson_id}/train",
        "screen": f"/screen#{code}",
        "phone": "/phone#pelvis.bay_x",
        "which bay": "/screen",
    }
    for turn, (name, (width, height)) in enumerate(SIZES.items()):
        page.set_viewport_size({"width": width, "height": height})
        page.emulate_media(color_scheme="dark" if turn % 2 else "light")
        for view, path in views.items():
            if view == "train":
                call(page, "POST", f"/lessons/{lesson_id}/training", band)
            page.goto(f"{address}/bays")
            page.goto(f"{address}{path}")
            page.wait_for_load_state("domcontentloaded")
            page.wait_for_timeout(900)  # what is shown live comes within a few pictures
            if "figure" in view:
                page.get_by_role("button", name="Figure").click()
                page.get_by_label(re.compile("^Figure of the player")).wait_for()
                page.wait_for_timeout(400)
            found[f"{view}, {name}"] = [
                *wrong(page, still=view in ("capture", "live", "figure", "screen figure", "train", "screen")),
                *violations(page),
            ]
        call(page, "DELETE", f"/lessons/{lesson_id}/training")
    assert {view: bad for view, bad in found.items() if bad} == {}
