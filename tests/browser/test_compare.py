"""Two swings of two lessons compared, and before and after a drill: walks 19 and 20."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_sizes import asked, newest, sent
from tests.browser.test_walks import drop, lesson_now

pytestmark = pytest.mark.browser
OVER = re.compile("and the difference beneath$")


@pytest.fixture
def demo_player(page: Page) -> tuple[str, str]:
    """A lesson of the demo's player who comes most often, and its newest swing."""
    _, lesson, swing = newest(page, "Ilse Marrow")
    return lesson, swing


def at(page: Page, path: str) -> None:
    page.goto("/".join(page.url.split("/")[:3]) + path)


def test_walk_19_two_lessons_compared_by_single_keys(page, demo_player):
    lesson, swing = demo_player
    at(page, f"/lessons/{lesson}/swings/{swing}")
    page.get_by_role("slider", name="Position in the swing").wait_for()
    page.keyboard.press("e")
    page.get_by_role("img", name=OVER).wait_for()
    first = asked(page, f"/lessons/{lesson}/comparable?swing={swing}")
    previous = next(c for c in first if c["kind"] == "previous")
    expect(page.get_by_role("button", name=re.compile(f"Swing {previous['number']}"))).to_be_visible()
    page.keyboard.press("l")
    expect(page.get_by_text("Two calibrations: what each leaves open is in the uncertainty of values.")).to_be_visible()
    page.keyboard.press("n")
    values = page.get_by_role("dialog")
    expect(values.get_by_role("columnheader", name=re.compile("^Lesson of"))).to_have_count(
        values.get_by_role("table").count()
    )
    values.get_by_role("button", name="impact", exact=True).first.click()
    expect(page.get_by_text("at impact", exact=True)).to_be_visible()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_text("at shaft level down", exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("slider", name="Position in the swing").wait_for()
    assert page.url.endswith(swing)


def test_walk_20_before_and_after_a_drill_is_real_and_drawn_where_it_differs(page, bundle_file):
    lesson_now(page, "Dora Difference")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    _, lesson, _ = newest(page, "Dora Difference")
    block = {"finding": "over_extended_top", "metric": "lead_wrist_extension", "moment": "top"}
    for kind in ("drill", "test"):
        sent(page, "POST", f"/lessons/{lesson}/blocks", {**block, "kind": kind})
    drop(page, bundle_file("hold-then-flex", 32))
    page.get_by_role("link", name="Compare", exact=True).click()
    expect(page.get_by_text("A real difference.")).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("more bowed at top, between"))).to_be_visible()
    expect(page.get_by_text(re.compile("Along the swing they differ .*the top"))).to_be_visible()
    assert page.locator("[data-part=differs]").count() >= 1
    page.get_by_role("button", name="Values", exact=True).click()
    expect(page.get_by_role("dialog").get_by_text("the rest was also looked at")).to_be_visible()


def test_both_are_seen_as_figures_on_the_mat_and_against_the_band(page):
    _, lesson, _ = newest(page, "Wenna Larkspur")
    at(page, f"/lessons/{lesson}/compare?a=lesson:{lesson}")
    page.get_by_role("img", name=OVER).wait_for()
    page.keyboard.press("l")
    page.keyboard.press("x")
    page.get_by_role("radio", name="Mats", exact=True).click()
    expect(page.get_by_role("img", name=re.compile("^The mat from above"))).to_have_count(2)
    page.get_by_role("radio", name="Ways", exact=True).click()
    expect(page.get_by_role("img", name=re.compile("^The mat from above"))).to_have_count(1)
    ring = page.get_by_test_id("other-way").locator("circle")
    before = ring.get_attribute("transform")
    page.keyboard.press("ArrowRight")
    expect(ring).not_to_have_attribute("transform", before or "")
    page.get_by_role("button", name="With…").click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^The band in force")).click()
    expect(page.locator("[data-part=band]")).to_have_count(1)
    page.get_by_role("button", name="With…").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("radio", name="Chip").click()
    sheet.get_by_role("button", name="Compare with it").click()
    expect(page.get_by_text("There are no ranges for it.")).to_be_visible()


def test_a_lesson_without_a_swing_says_what_to_do(page):
    lesson_now(page, "Nell Nothing")
    lesson = page.url.split("/lessons/")[1].split("/")[0]
    at(page, f"/lessons/{lesson}/compare")
    expect(page.get_by_text("No swing that counts yet.")).to_be_visible()
