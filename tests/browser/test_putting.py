"""Putts by distance: walks 24 to 26, and their screens at every size."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.layout import SIZES, wrong
from tests.browser.test_interface import violations
from tests.browser.test_sizes import asked, newest
from tests.browser.test_walks import drop, lesson_now

pytestmark = pytest.mark.browser
STEPS = (
    "Face, grip, hands",
    "Cup and bow alone",
    "Hinge alone",
    "Both together",
    "Rotation",
    "Putter and pendulum",
    "Across distances",
)


def sentence(page: Page):
    return page.get_by_role("heading", level=2).first


def putts(page: Page, name: str, path) -> str:
    """A player's lesson with putts, open on its first step."""
    lesson_now(page, name)
    drop(page, path)
    page.get_by_role("link", name="Putting", exact=True).click()
    sentence(page).wait_for()
    return newest(page, name)[1]


def test_walk_24_fifteen_putts_three_distances_seven_steps_by_one_key(page, bundle_file):
    lesson = putts(page, "Pia Putter", bundle_file("putt-handle-drift", 5, sources=("wrist", "markers")))
    told = []
    for k, name in enumerate(STEPS):
        expect(page.get_by_role("button", name=re.compile(f"^{k + 1} {name}"))).to_have_attribute(
            "aria-current", "step"
        )
        told.append(sentence(page).inner_text())
        if name == "Cup and bow alone":
            panels = page.get_by_role("link", name=re.compile("^Putt "))
            expect(panels).to_have_count(5)
        if name == "Both together":
            expect(page.get_by_role("img", name=re.compile("^The loop of putt "))).to_be_visible()
        if name == "Putter and pendulum":
            for eye in ("from in front", "along the line", "from above"):
                expect(page.get_by_role("img", name=f"The putter {eye}")).to_be_visible()
            time = page.get_by_role("slider", name="Time")
            before = time.get_attribute("aria-valuenow")
            page.keyboard.press("ArrowLeft")
            expect(time).not_to_have_attribute("aria-valuenow", before)
        page.keyboard.press("PageDown")
    assert len(set(told)) == 7
    assert "behind a free pendulum" in told[5]
    read = asked(page, f"/lessons/{lesson}/putting")
    assert told[1] == read["rows"][0]["steps"][1]["said"]["plain"]
    assert told[6] == read["across"]["said"]["plain"]
    page.keyboard.press("2")
    page.keyboard.press("f")
    expect(page.get_by_role("radio", name="6 m")).to_be_checked()
    page.keyboard.press("r")
    expect(page.get_by_role("group", name=re.compile("^toward cupped"))).to_be_visible()
    page.reload()
    expect(page.get_by_role("radio", name="6 m")).to_be_checked()  # the same step, distance and graph
    expect(page.get_by_role("group", name=re.compile("^toward cupped"))).to_be_visible()


def test_outcomes_are_one_tap_and_the_matrix_shows_what_is_owed(page, bundle_file):
    putts(page, "Otto Outcome", bundle_file("putt-two-only", 5))
    page.keyboard.press("Escape")
    expect(page.get_by_text("13 owed")).to_be_visible()
    page.keyboard.press("1")
    expect(page.get_by_role("button", name="Putt 2, holed")).to_be_visible()
    expect(page.get_by_role("heading", name="Putt 1, 3 m")).to_be_visible()  # the next whose outcome is not noted
    page.get_by_role("radio", name="Short").click()
    page.get_by_role("button", name="Putt 1, short").click()
    page.get_by_role("radio", name="0.5 m").click()
    expect(page.get_by_role("button", name="Putt 1, short, 0.5 m short")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_role("button", name="Putt 1, short", exact=True)).to_be_visible()
    page.keyboard.press("p")
    page.get_by_label("Another, in metres").fill("4.5")
    page.get_by_role("button", name="Add").click()
    page.get_by_role("dialog").get_by_role("button", name="Close", exact=True).click()
    expect(page.get_by_text("18 owed")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^4.5 m"))).to_be_visible()


def test_walk_25_a_strong_bias_is_said_first_and_a_piece_of_the_set_warns(page, bundle_file):
    putts(page, "Bea Bias", bundle_file("putt-grip-bias", 5))
    expect(sentence(page)).to_have_text(re.compile(r"^First the grip: the face sits 6\.0° open in your hands"))
    page.keyboard.press("h")
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("button", name=re.compile("^How the face sits in the hands")).click()
    expect(sheet.get_by_text("what brought the face back before now brings it too far")).to_be_visible()
    expect(sheet.get_by_text(re.compile("^If it stays:"))).to_have_count(4)
    expect(sheet.get_by_text(re.compile("Two ways out"))).to_be_visible()


def test_the_pivot_is_set_measured_with_at_once_and_undone(page, bundle_file):
    putts(page, "Pella Pivot", bundle_file("putt-quiet", 5, sources=("wrist", "markers")))
    page.keyboard.press("6")
    before = sentence(page).inner_text()
    page.keyboard.press("v")
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("radio", name="Top of the grip").click()
    sheet.get_by_role("button", name="Measure with these").click()
    expect(sheet).to_have_count(0)
    expect(page.get_by_text("pivot set: the top of the grip")).to_be_visible()
    expect(sentence(page)).not_to_have_text(before)
    page.keyboard.press("z")
    expect(sentence(page)).to_have_text(before)


def test_walk_26_two_schools_read_one_session(page, bundle_file):
    lesson = putts(page, "Sami School", bundle_file("putt-wristy", 5))
    page.keyboard.press("2")
    expect(sentence(page)).to_contain_text("the band is at most 3.0°")
    before = asked(page, f"/lessons/{lesson}/putting")
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("button", name=re.compile("End")).first.wait_for()
    page.keyboard.press("j")
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("radio", name="Transition action").click()
    sheet.get_by_role("button", name="Keep it").click()
    expect(sheet).to_have_count(0)
    page.get_by_role("link", name="Putting", exact=True).click()
    page.get_by_role("button", name=re.compile("^1 Face")).wait_for()
    page.keyboard.press("2")
    expect(sentence(page)).not_to_contain_text("the band is at most")
    after = asked(page, f"/lessons/{lesson}/putting")
    assert after["school"] == "transition"
    assert [p["values"] for p in after["putts"]] == [p["values"] for p in before["putts"]]


@pytest.fixture(scope="module")
def known() -> list[str]:
    """The lesson, once it is there."""
    return []


@pytest.mark.parametrize("size", list(SIZES))
def test_the_steps_fit_every_screen(page, bundle_file, known, size):
    if not known:
        known.append(
            putts(page, "Fitting Everywhere", bundle_file("putt-handle-drift", 5, sources=("wrist", "markers")))
        )
    page.set_viewport_size(dict(zip(("width", "height"), SIZES[size], strict=True)))
    base = "/".join(page.url.split("/")[:3])
    page.goto(f"{base}/lessons/{known[0]}/putting")
    found = {}
    for k, name in enumerate(STEPS):
        page.keyboard.press(str(k + 1))
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(250)
        found[name] = [*wrong(page), *violations(page)]
    for key, name in (("h", "before changing"), ("n", "notes")):
        page.keyboard.press(key)
        page.wait_for_timeout(150)
        found[name] = [*wrong(page), *violations(page)]
        page.get_by_role("dialog").get_by_role("button", name="Close", exact=True).click()
    page.keyboard.press("6")
    page.keyboard.press("v")
    page.get_by_role("dialog").get_by_role("radio", name="Sternum").click()
    found["pivot"] = [*wrong(page), *violations(page)]
    page.goto(f"{base}/lessons/{known[0]}/capture")
    page.get_by_role("radiogroup", name=re.compile("^Where putt")).wait_for()
    found["capture"] = [*wrong(page, still=True), *violations(page)]
    assert not {k: v for k, v in found.items() if v}
