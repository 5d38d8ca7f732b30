"""What goes home, on the player's own phone: walk 22."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_sizes import newest

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
