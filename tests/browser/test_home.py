"""What goes home, on the player's own phone: walk 22."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_sizes import asked, newest, sent
from tests.browser.test_walks import drop, lesson_now

pytestmark = pytest.mark.browser


def test_walk_22_the_page_opens_on_a_phone_by_a_link_and_is_gone_once_taken_back(page: Page, chromium):
    _, lesson, _ = newest(page, "Ilse Marrow")
    page.goto("/".join(page.url.split("/")[:3]) + f"/lessons/{lesson}/plan")
    page.get_by_role("heading", name=re.compile("^1 ")).wait_for()
    page.keyboard.press("n")
    page.get_by_role("radio", name="A week").click()
    page.get_by_role("button", name="Make the link").click()
    link = page.get_by_role("dialog").locator("p.select-all").inner_text()
    with chromium.new_context(viewport={"width": 390, "height": 844}) as context:
        phone = context.new_page()
        assert phone.goto(link).status == 200
        expect(phone.get_by_role("heading", name="Cups past the band at the top")).to_be_visible()
        drawn = phone.locator(".gauge svg")
        expect(drawn).to_be_visible()
        assert "Wrist cup at the top" in (drawn.locator("title").text_content() or "")
        assert phone.evaluate("document.documentElement.scrollWidth") <= 390
        assert "Mara" not in phone.content()
        page.get_by_role("button", name="Take back").first.click()
        expect(page.get_by_text(re.compile("Not open any more, opened once"))).to_be_visible()
        assert phone.goto(link).status == 404
        expect(phone.get_by_role("heading", name="This link is not open.")).to_be_visible()
        assert "Ilse" not in phone.content()


def values_of(page: Page, lesson: str) -> list[object]:
    """Every value of every swing in words."""
    return [asked(page, f"/swings/{s['id']}/numbers") for s in asked(page, f"/lessons/{lesson}")["swings"]]


def test_walk_23_found_saved_compared_taken_along_erased_and_brought_again(page: Page, bundle_file, tmp_path):
    lesson_now(page, "Wanda Walkaway")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    player, lesson, _ = newest(page, "Wanda Walkaway")
    before = values_of(page, lesson)
    page.get_by_role("link", name="Today", exact=True).click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    page.keyboard.press("/")
    page.get_by_label("Find swings").fill("Wanda Walkaway, 7-iron, cups past the band at the top, this month")
    expect(page.get_by_role("heading", name="5 swings, 1 player, 1 lesson")).to_be_visible()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(
        page.get_by_role("region", name="Saved searches").get_by_role("button", name=re.compile("^Wanda"))
    ).to_be_visible()
    page.get_by_role("link", name="Compare with the time before").click()
    expect(page.get_by_text("no swing is found")).to_be_visible()  # she was not here last month
    address = "/".join(page.url.split("/")[:3])
    page.goto(f"{address}/players/{player}")
    with page.expect_download() as download:
        page.get_by_role("link", name="Export").click()
    taken = tmp_path / "wanda.zip"
    download.value.save_as(taken)
    sent(page, "DELETE", f"/players/{player}")
    page.goto(f"{address}/players")
    page.get_by_role("button", name="Bring one").click()
    page.get_by_label("Export of a player or a lesson").set_input_files(taken)
    page.get_by_role("heading", name="Wanda Walkaway").wait_for()
    again, there, _ = newest(page, "Wanda Walkaway")
    assert again != player
    assert values_of(page, there) == before
    sent(page, "DELETE", f"/players/{again}")
    for saved in asked(page, "/searches"):
        sent(page, "DELETE", f"/searches/{saved['id']}")
