"""A new instructor is invited, comes in, is locked out of what is not theirs; the owner reads what they looked at."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser
WORDS = "ferry lantern walnut"


def signed_in(browser, address: str, email: str, password: str) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.goto(address)
    page.get_by_label("E-mail", exact=True).fill(email)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    return page


def test_somebody_new_comes_in_by_a_link_and_is_locked_out_of_what_is_not_theirs(page, chromium, address):
    page.get_by_role("button", name="Mara", exact=True).click()
    page.get_by_role("link", name="People of the academy, and the log").click()
    page.get_by_role("button", name="Invite somebody").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("Name").fill("Nell Pike")
    sheet.get_by_label("E-mail").fill("nell@harbour.example")
    sheet.get_by_label("Role").select_option("assistant")
    sheet.get_by_role("button", name="Make the link").click()
    link = page.get_by_text(re.compile("/join/")).inner_text()
    page.get_by_role("dialog").get_by_role("button", name="Close").click()
    expect(page.get_by_text(re.compile("^Comes as assistant, until"))).to_be_visible()

    new = chromium.new_context(viewport={"width": 390, "height": 844}).new_page()
    new.goto(link)
    expect(new.get_by_role("heading", name="Welcome, Nell Pike.")).to_be_visible()
    new.get_by_label("A password").fill(WORDS)
    new.get_by_role("button", name="Take it").click()
    expect(new.get_by_role("heading", name="That is it, Nell Pike.")).to_be_visible()
    new.goto(link)
    expect(new.get_by_role("heading", name="This link works no more.")).to_be_visible()

    nell = signed_in(chromium, address, "nell@harbour.example", WORDS)
    expect(nell.get_by_role("heading", name="Today", exact=True)).to_be_visible()
    expect(nell.get_by_role("link", name="Players", exact=True)).to_be_visible()
    for name in ("Search", "Benchmarks"):
        expect(nell.get_by_role("link", name=name, exact=True)).to_have_count(0)
    nell.get_by_role("link", name="Players", exact=True).click()
    nell.get_by_role("link", name=re.compile("Halle Brandreth")).first.click()
    expect(nell.get_by_role("heading", name="Halle Brandreth")).to_be_visible()
    expect(nell.get_by_role("button", name="Erase …")).to_have_count(0)
    expect(nell.get_by_text("Nothing to change")).to_have_count(0)
    nell.goto(f"{address}/people")
    expect(nell.get_by_text(re.compile("This is not part of your role"))).to_be_visible()

    page.get_by_role("radio", name="The log").click()
    line = page.get_by_role("listitem").filter(has_text="Nell Pike").filter(has_text="player opened")
    expect(line.first).to_contain_text("Halle Brandreth")
    page.get_by_role("radio", name="Who works here").click()
    row = page.get_by_role("listitem", name="Nell Pike")
    row.get_by_role("button", name="Leaves …").click()
    row.get_by_role("button", name="Shut out").click()
    expect(row.get_by_text(re.compile("^Left "))).to_be_visible()
    nell.goto(address)
    expect(nell.get_by_role("button", name="Sign in")).to_be_visible()


def test_a_viewer_has_the_bays_and_nothing_else(chromium, address):
    page = signed_in(chromium, address, "screen@harbour.example", "arc-demo")
    expect(page.get_by_role("heading", name="Bays", exact=True)).to_be_visible()
    expect(page.get_by_role("button", name="A second screen").first).to_be_visible()
    expect(page.get_by_role("button", name="New token")).to_have_count(0)
    page.goto(f"{address}/players")
    expect(page).to_have_url(re.compile("/bays$"))
