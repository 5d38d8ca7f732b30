"""Keys, themes, accessibility and the parts of a lesson the walks do not touch."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_walks import drop, headline, lesson_now

pytestmark = pytest.mark.browser
AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


def demo_swing(page: Page, name: str = "Ilse Marrow") -> None:
    """The newest captured lesson of a demo player."""
    page.get_by_role("link", name="Players").click()
    page.get_by_role("link", name=name).click()
    page.get_by_role("link", name=re.compile(r"[57] swings")).first.click()
    page.get_by_role("link", name="Swings", exact=True).click()
    page.get_by_role("slider", name="Position in the swing").wait_for()


def violations(page: Page) -> list[str]:
    """Serious accessibility problems by axe-core's own rules."""
    page.evaluate(AXE.read_text())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    return [
        f"{v['id']}: {v['nodes'][0]['html'][:160]}"
        for v in found["violations"]
        if v["impact"] in ("serious", "critical")
    ]


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_main_views_are_accessible(page, theme):
    if theme == "dark":
        page.keyboard.press("d")
        expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    assert violations(page) == []
    demo_swing(page)
    assert violations(page) == []
    for key in ("w", "n", "k", "s", "More"):
        if key == "More":
            page.get_by_role("button", name="More", exact=True).click()
        else:
            page.keyboard.press(key)
        page.get_by_role("dialog").wait_for()
        assert violations(page) == []
        page.get_by_role("button", name="Close").click()
    for stage in ("Fit", "Setup", "Capture", "Plan"):
        page.get_by_role("link", name=stage, exact=True).click()
        page.get_by_role("heading", level=1).wait_for()
        page.wait_for_timeout(300)
        assert violations(page) == [], stage


def test_keys_scrub_step_peek_and_show(page):
    demo_swing(page)
    slider = page.get_by_role("slider", name="Position in the swing")
    expect(slider).to_have_attribute("aria-valuetext", "top")
    page.keyboard.press("ArrowRight")
    expect(slider).to_have_attribute("aria-valuetext", "arm level down")
    page.keyboard.press("Shift+ArrowRight")
    expect(slider).to_have_attribute("aria-valuetext", re.compile(r"^\d\.\d\d s$"))
    page.keyboard.press("ArrowLeft")
    expect(slider).to_have_attribute("aria-valuetext", "arm level down")
    page.keyboard.press("PageUp")
    expect(page.get_by_label("Swing 6, normal")).to_have_attribute("aria-current", "true")
    expect(slider).to_have_attribute("aria-valuetext", "arm level down")
    page.keyboard.press("Escape")
    expect(page.get_by_text(re.compile(r"^swing 5: "))).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog").get_by_text("Keys and settings")).to_be_visible()
    page.get_by_role("button", name="Close").click()
    page.keyboard.press("v")
    expect(page.get_by_text("The wrist cups more than your band at the top.")).to_be_visible()
    told = page.inner_text("body")
    assert not re.search(r"Marrow|±|pain|confidence|Today", told)
    page.keyboard.press("v")
    expect(page.get_by_label("Swing 6, normal")).to_have_attribute("aria-current", "true")


def test_scrubbing_the_arc_moves_value_and_trace_without_the_network(page):
    demo_swing(page)
    page.wait_for_timeout(500)
    asked: list[str] = []
    page.on("request", lambda r: asked.append(r.url) if "/api/" in r.url and "/live" not in r.url else None)
    slider = page.get_by_role("slider", name="Position in the swing")
    box = slider.bounding_box()
    seen = set()
    x, y = box["x"] + box["width"] * 0.51, box["y"] + box["height"] * 0.5
    page.mouse.move(x - box["height"] * 0.42, y)
    page.mouse.down()
    for k in range(12):
        page.mouse.move(x - box["height"] * 0.42, y - k * 12)
        seen.add(slider.get_attribute("aria-valuenow"))
    page.mouse.up()
    assert len(seen) > 6
    assert asked == []


def test_plain_and_standard_words_are_one_or_the_other(page):
    demo_swing(page)
    expect(page.locator("main")).to_contain_text("cupped", use_inner_text=True)
    page.keyboard.press("?")
    page.get_by_role("radio", name="Extended, flexed").click()
    page.get_by_role("button", name="Close").click()
    expect(headline(page)).to_contain_text("more extended")
    expect(page.locator("main")).not_to_contain_text(re.compile("cupped|bowed"), use_inner_text=True)


def test_the_bottom_bar_flips_for_the_other_hand(page):
    demo_swing(page)
    first = page.get_by_role("button", name=re.compile("^Train "))
    right = first.bounding_box()["x"]
    page.keyboard.press("?")
    page.get_by_role("radio", name="the left hand").click()
    page.get_by_role("button", name="Close").click()
    assert first.bounding_box()["x"] > right + 600


def test_drill_then_test_end_in_a_sentence(page, bundle_file):
    lesson_now(page, "Petra Practice")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    page.get_by_role("button", name=re.compile("^Train ")).click()
    training = page.get_by_role("region", name="Training")
    expect(training).to_contain_text("Peg in the glove")
    expect(training).to_contain_text("Stop if it hurts.")
    training.get_by_role("button", name="Test it").click()
    expect(training).to_contain_text("Too early to tell")
    training.get_by_role("link", name="Capture").click()
    page.get_by_label("Capture bundle").set_input_files(str(bundle_file("hold-then-flex", 32)))
    expect(training).to_contain_text("Changed.")
    expect(training).to_contain_text("with 95 % certainty between")
    expect(training.get_by_role("img", name=re.compile("^The change lies between"))).to_be_visible()


def test_the_end_of_a_lesson_proposes_at_most_two_and_prints_one_page(page, bundle_file):
    lesson_now(page, "Paul Page")
    drop(page, bundle_file("flip", 12))
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("heading", name="Where it comes from").wait_for()
    assert 1 <= page.locator("ol > li h2").count() <= 2
    page.get_by_role("button", name="End the lesson").click()
    page.get_by_label("One note").fill("Punch shots only.")
    page.get_by_role("button", name="End now").click()
    page.get_by_text("The lesson is closed.").wait_for()
    href = page.get_by_role("link", name="See page").get_attribute("href")
    page.goto(page.url.split("/lessons")[0] + href)
    expect(page.get_by_text("Punch shots only.")).to_be_visible()
    expect(page.get_by_text("see a licensed health professional")).to_be_visible()


def test_a_bad_bundle_is_explained_and_the_lesson_goes_on(page, tmp_path):
    lesson_now(page, "Bea Broken")
    bad = tmp_path / "broken.zip"
    bad.write_bytes(b"not a zip")
    page.get_by_role("link", name="Capture", exact=True).click()
    page.get_by_label("Capture bundle").set_input_files(str(bad))
    expect(page.get_by_role("alert")).to_contain_text("broken.zip: not a zip file, or cut off")


def test_an_import_is_undone_where_one_stands_and_done_again(page, bundle_file):
    lesson_now(page, "Ula Undo")
    page.get_by_role("link", name="Capture", exact=True).click()
    page.get_by_label("Capture bundle").set_input_files(str(bundle_file("over-extended", 31)))
    expect(page).to_have_url(re.compile("/swings/"))
    first = headline(page).text_content()
    page.keyboard.press("z")
    expect(page).to_have_url(re.compile("/capture$"))
    expect(page.get_by_text("0 swings in this lesson")).to_be_visible()
    page.keyboard.press("Shift+Z")
    expect(page.get_by_text("5 swings in this lesson")).to_be_visible()
    page.get_by_role("link", name="Swings").click()
    expect(headline(page)).to_have_text(first)


def test_a_junior_gets_the_pattern_and_no_verdict(page):
    demo_swing(page, "Pip Fennimore")
    expect(headline(page)).to_contain_text("nothing is judged")
    expect(page.get_by_text("no band for this measure here")).to_be_visible()


def test_an_unknown_address_leads_back(page, address):
    page.goto(f"{address}/nowhere")
    expect(page.get_by_text("There is nothing here.")).to_be_visible()
    page.goto(f"{address}/lessons/00000000-0000-0000-0000-000000000000")
    expect(page.get_by_role("alert")).to_contain_text("not found")
