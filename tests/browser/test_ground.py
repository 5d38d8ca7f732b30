"""Acceptance walk 11 and the rest of the Ground view, in the real interface."""

from __future__ import annotations

import io
import re

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from finearc.core.frames.handedness import Hand
from tests.browser.hands import more
from tests.browser.test_walks import drop, group, lesson_now

pytestmark = pytest.mark.browser

SENTENCE = "The pressure came back"


def sentence(page: Page):
    return page.get_by_test_id("ground-sentence")


def test_walk_11_mat_and_body_guess_reveal_and_one_sentence_that_agrees(page, bundle_file):
    lesson_now(page, "Greta Grounded")
    drop(page, bundle_file("late-return", 5, sources=("wrist", "club", "body", "pressure")))
    group(page, "Ground")
    expect(page.get_by_role("heading", name="At impact: where was your weight?")).to_be_visible()
    expect(page.get_by_role("img", name="The feet on the mat, pressure not shown yet")).to_be_visible()
    expect(page.get_by_text(SENTENCE)).to_have_count(0)
    expect(page.get_by_text(re.compile(r"\d+ %"))).to_have_count(0)
    page.get_by_role("button", name="left foot", exact=True).click()
    page.get_by_role("button", name="heels", exact=True).click()
    expect(page.get_by_label("Feel against real at impact")).to_contain_text("left foot, heels")
    told = sentence(page).inner_text().replace("\u00a0", " ")
    swing_id = page.url.split("/swings/")[1]
    swing = page.evaluate("id => fetch(`/api/swings/${id}`).then((r) => r.json())", swing_id)
    numbers = page.evaluate("id => fetch(`/api/swings/${id}/numbers`).then((r) => r.json())", swing_id)
    since = next(m["value"] for m in numbers if (m["metric"], m["moment"]) == ("return_time", "top"))
    moment = next(x["time_s"] for x in swing["ground"]["moments"] if x["name"] == "return")
    top = next(e["time_s"] for e in swing["events"] if e["name"] == "top")
    assert since == pytest.approx(moment - top, abs=1e-3)
    expected = f"{abs(since):.2f} s {'after' if since > 0 else 'before'}"
    assert expected in told or "as the club turned" in told
    page.get_by_role("button", name="With the body").click()
    expect(page.get_by_text(re.compile("The pressure moves .* than the hips turn"))).to_be_visible()
    page.reload()
    expect(sentence(page)).to_be_visible()  # the guess is kept with the swing, so nothing is asked again
    more(page, "Undo")
    expect(page.get_by_role("heading", name="At impact: where was your weight?")).to_be_visible()


def test_walk_11_with_the_mat_alone_the_sentence_is_absent(page, bundle_file):
    lesson_now(page, "Matt Alone")
    drop(page, bundle_file("late-return", 5, sources=("pressure",)))
    if page.get_by_role("button", name="Show without a guess").count() == 0:
        group(page, "Ground")
    page.get_by_role("button", name="Show without a guess").click()
    expect(sentence(page)).to_be_visible()
    expect(page.get_by_text("this needs a hand or club sensor")).to_be_visible()
    expect(page.get_by_text("Impact is taken from the push")).to_be_visible()
    assert SENTENCE not in page.inner_text("main")
    assert not re.search(r"(before|after) the (club|hands|upper body)", page.inner_text("main"))


def pixels(page: Page) -> np.ndarray:
    """The picture of the mat as it is drawn."""
    shot = page.get_by_role("img", name=re.compile("The mat from above")).screenshot()
    return np.asarray(Image.open(io.BytesIO(shot)).convert("L"), dtype=int)


def settled(text) -> str:
    """What is written there once it does not change any more."""
    before = ""
    while (now := text.inner_text()) != before:
        before = now
        text.page.wait_for_timeout(1000)
    return before


def test_the_mat_follows_the_arc_and_the_line_between_the_feet_can_be_drawn(page, bundle_file):
    lesson_now(page, "Dana Drawn")
    drop(page, bundle_file("good-load", 5, sources=("wrist", "club", "pressure")))
    group(page, "Ground")
    page.get_by_role("button", name="Show without a guess").click()
    expect(sentence(page)).to_be_visible()
    numbers = page.locator("p.figure")
    page.keyboard.press("ArrowLeft")
    settled(numbers.first)
    one = pixels(page)
    for _ in range(4):
        page.keyboard.press("ArrowLeft")
    before = settled(numbers.first)
    other = pixels(page)
    assert np.abs(one - other).mean() > 1.0
    page.get_by_role("button", name="About the mat").click()
    page.get_by_role("button", name="Correct the feet").click()
    line = page.get_by_role("slider", name="Line between the feet")
    box = line.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 - 150, box["y"] + 40, steps=5)
    page.mouse.up()
    expect(numbers.first).not_to_have_text(before)
    page.get_by_role("button", name="Feet are right").click()
    page.get_by_role("button", name="About the mat").click()
    page.get_by_role("button", name="Line moved by you; find it again").click()
    expect(numbers.first).to_have_text(before)


def test_a_left_hander_sees_the_lead_foot_on_the_right(page, bundle_file):
    lesson_now(page, "Lena Leftside", "Left-handed")
    drop(page, bundle_file("good-load", 5, sources=("wrist", "club", "pressure"), hand=Hand.LEFT))
    group(page, "Ground")
    page.get_by_role("button", name="Show without a guess").click()
    numbers = page.locator("p.figure")
    for _ in range(8):
        page.keyboard.press("ArrowRight")
    expect(sentence(page)).to_be_visible()
    left, right = (int(settled(numbers.nth(k)).split()[0]) for k in (0, 1))
    assert left + right in (99, 100, 101)
    assert right > 60  # after impact most is on the lead foot, a left-hander's right one


def test_the_setup_check_sees_the_balance_before_any_swing(page, bundle_file):
    lesson_now(page, "Hedy Heels")
    page.get_by_role("link", name="Capture", exact=True).first.click()
    page.get_by_label("Capture bundle").set_input_files(str(bundle_file("on-heels-still", 5, sources=("pressure",))))
    page.get_by_role("link", name="Setup", exact=True).click()
    expect(page.get_by_text("Where is the weight along the feet?")).to_be_visible(timeout=120_000)
    expect(page.get_by_text(re.compile("Back toward the heels at address"))).to_be_visible()
    expect(page.get_by_role("img", name="Weight on both feet at address")).to_be_visible()
    expect(page.get_by_text(re.compile("feel the laces"))).to_be_visible()
