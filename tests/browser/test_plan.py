"""Acceptance walk 12 and the rest of plan and benchmarks, in the real interface."""

from __future__ import annotations

import re
from io import BytesIO

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.browser.hands import more
from tests.browser.test_interface import violations
from tests.browser.test_walks import drop, lesson_now

pytestmark = pytest.mark.browser


def first(page: Page):
    return page.locator("main ol > li h2").first


def sheet(page: Page):
    return page.get_by_role("dialog")


def close(page: Page) -> None:
    sheet(page).get_by_role("button", name="Close").click()
    sheet(page).wait_for(state="detached")


def tight_back_and_a_slice(page: Page, bundle_file) -> None:
    """A lesson of a player with a tight back who hardly turns early and slices."""
    lesson_now(page, "Sal Tightback")
    drop(page, bundle_file("short-early-turn", 6, sources=("wrist", "club", "body")))
    page.get_by_role("link", name="Plan", exact=True).click()
    expect(first(page)).to_contain_text("Little turn early")


def test_walk_12_tight_back_and_a_slice(page, bundle_file):
    tight_back_and_a_slice(page, bundle_file)
    assert page.locator("main ol > li h2").count() <= 2
    why = page.locator("main ol > li p").first
    expect(why).to_contain_text("5 of 5 swings show it")
    expect(why).to_contain_text("because the takeaway comes before")
    expect(page.get_by_role("button", name="Turn first")).to_be_visible()

    page.get_by_role("button", name=re.compile("^Limits")).click()
    sheet(page).get_by_label(re.compile("How far it goes in comfort")).fill("61")
    sheet(page).get_by_role("button", name="Add limit").click()
    expect(sheet(page).get_by_text("back turn")).to_be_visible()
    close(page)
    expect(
        page.get_by_text("Turn first is not offered: it asks for more back turn than the comfortable 61°.")
    ).to_be_visible()
    expect(page.get_by_text("the comfortable back turn is 61°; we work inside it")).to_be_visible()
    expect(page.get_by_role("button", name="Turn first")).to_have_count(0)

    page.get_by_role("button", name=re.compile("^Swings")).click()
    for number in range(1, 6):
        ball = sheet(page).get_by_label(f"Ball of swing {number}", exact=True)
        ball.select_option(label="starts straight, curves right")
        expect(ball).to_be_enabled()
    close(page)
    expect(page.get_by_text("5 of 5 start straight, 5 of 5 curve right")).to_be_visible()

    page.get_by_role("button", name="Judge otherwise").click()
    sheet(page).get_by_role("radio", name="Restrained").click()
    expect(sheet(page).get_by_text(re.compile("Pelvis turn, top|Hip turn, top"))).to_be_visible()
    expect(sheet(page).get_by_text(re.compile(r"then band 30° to 42° closed \(B6b\)"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^School")).get_by_text("hold, then flex, free")).to_be_visible()
    sheet(page).get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("button", name=re.compile("^School"))).to_contain_text("restrained")
    more(page, "Undo")
    expect(page.get_by_role("button", name=re.compile("^School"))).to_contain_text("free")

    page.keyboard.press("o")
    sheet(page).get_by_label(re.compile("What to work on")).fill("Breathe out before the takeaway")
    sheet(page).get_by_label("Why it comes first").fill("Holds the breath; seen by eye.")
    sheet(page).get_by_role("button", name="Put it first").click()
    expect(first(page)).to_have_text("1 Breathe out before the takeaway")
    expect(page.get_by_text("Why this instead of what is proposed").first).to_be_visible()
    page.reload()
    expect(first(page)).to_have_text("1 Breathe out before the takeaway")

    href = page.get_by_role("link", name="See page").get_attribute("href")
    page.goto(page.url.split("/lessons")[0] + href)
    expect(page.get_by_text("Breathe out before the takeaway")).to_be_visible()
    expect(page.get_by_text("see a licensed health professional").first).to_be_visible()
    printed = page.locator("body").evaluate(GREY)
    assert printed >= 4.5
    sheets = PdfReader(BytesIO(page.pdf(format="A4"))).pages
    assert len(sheets) == 1
    assert "Breathe out before the takeaway" in sheets[0].extract_text()


GREY = """body => {
  // the least contrast of any text in shades of grey alone
  const grey = (c) => { const [r, g, b] = c.match(/[\\d.]+/g).map(Number); const l = (v) => ((v /= 255) <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
    return 0.2126 * l(r) + 0.7152 * l(g) + 0.0722 * l(b); };
  const paper = grey(getComputedStyle(body).backgroundColor);
  let least = 99;
  for (const e of body.querySelectorAll("h1,h2,h3,p,li,footer,text")) {
    const style = getComputedStyle(e);
    const ink = grey(e.tagName === "text" ? style.fill : style.color);
    least = Math.min(least, (Math.max(paper, ink) + 0.05) / (Math.min(paper, ink) + 0.05));
  }
  return least;
}"""


def test_what_changed_since_the_plan_was_last_seen_is_said(page, bundle_file):
    lesson_now(page, "Nell News")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    page.get_by_role("link", name="Plan", exact=True).click()
    expect(first(page)).to_contain_text("Cups past the band at the top")
    page.get_by_role("button", name=re.compile("^Swings")).click()
    for number in range(1, 6):
        kind = sheet(page).get_by_role("listitem").nth(number - 1).get_by_role("button", name="warm-up")
        kind.click()
        expect(kind).to_have_attribute("aria-pressed", "true")
    close(page)
    expect(page.get_by_role("status")).to_contain_text("Nothing is proposed any more; before it was")
    expect(page.get_by_role("heading", name="No swing counts yet.")).to_be_visible()
    more(page, "Undo")
    expect(page.get_by_role("heading", name=re.compile("Cups past the band"))).to_be_visible()


def test_pain_withholds_drills_and_refers(page, bundle_file):
    lesson_now(page, "Percy Pain")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("button", name=re.compile("^Limits")).click()
    sheet(page).get_by_role("button", name="Pain", exact=True).click()
    sheet(page).get_by_role("button", name="wrist", exact=True).click()
    expect(sheet(page).get_by_text("Stop, and see a licensed health professional.", exact=True)).to_be_visible()
    close(page)
    expect(page.get_by_text("it loads the wrist, where there is pain today")).to_be_visible()


def test_ranges_are_found_changed_saved_and_used(page):
    page.get_by_role("link", name="Benchmarks").click()
    page.get_by_role("radio", name="List").click()
    page.get_by_label("Search ranges").fill("tempo published")
    row = page.get_by_role("button", name=re.compile("^Tempo"))
    expect(row).to_contain_text("Grober")
    row.click()
    sheet(page).get_by_label("Low limit (ratio)").fill("3,9")
    expect(sheet(page).get_by_role("alert")).to_contain_text("The low limit 3.9 lies above the high limit 3.4.")
    sheet(page).get_by_label("Low limit (ratio)").fill("2,2")
    sheet(page).get_by_role("button", name="Change it").click()
    expect(page.get_by_text("1 change to builtin-5, not saved yet.")).to_be_visible()
    page.reload()  # nothing typed is lost
    page.get_by_role("radio", name="List").click()
    page.get_by_role("button", name="Save as next version").click()
    sheet(page).get_by_label("Name").fill("Winter")
    sheet(page).get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Winter 1")).to_be_visible()
    page.get_by_role("button", name="Use this from now on").click()
    expect(page.get_by_role("button", name="Winter 1 · in use")).to_be_visible()
    page.get_by_role("button", name="Built in").click()
    page.get_by_role("button", name="Use this from now on").click()
    expect(page.get_by_role("button", name="Built in · in use")).to_be_visible()
    assert violations(page) == []


def test_the_second_saver_is_told_and_saves_on_top(page, new_page):
    for one in (page, other := new_page()):
        one.get_by_role("link", name="Benchmarks").click()
        one.get_by_role("radio", name="List").click()
        one.get_by_role("button", name="Harbour 1").click()
        one.get_by_role("button", name=re.compile("^Tempo")).click()
        sheet(one).get_by_label("High limit (ratio)").fill("3.8" if one is page else "3.9")
        sheet(one).get_by_role("button", name="Change it").click()
    for one in (page, other):
        one.get_by_role("button", name="Save as next version").click()
        sheet(one).get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Harbour 2")).to_be_visible()
    expect(sheet(other).get_by_role("alert")).to_contain_text("Harbour 2 was saved by Mara Tidewell in the meantime.")
    sheet(other).get_by_role("button", name="Save mine on top of it").click()
    expect(other.get_by_role("button", name="Harbour 3")).to_be_visible()


def test_every_part_of_benchmarks_opens_and_the_synthetic_cohort_says_so(page):
    page.get_by_role("link", name="Benchmarks").click()
    page.get_by_role("radio", name="Build from swings").click()
    expect(page.get_by_text("Rests on little").first).to_be_visible(timeout=30_000)  # the first work of its process
    page.get_by_role("radio", name="Synthetic").click()
    expect(page.get_by_text("60 swings", exact=True)).to_be_visible()
    expect(page.get_by_text("not measured on people")).to_be_visible()
    page.get_by_role("radio", name="References").click()
    expect(page.get_by_text("Synthetic", exact=True)).to_be_visible()
    page.get_by_role("radio", name="Schools, drills, findings").click()
    page.get_by_role("button", name=re.compile("^Peg in the glove")).click()
    expect(sheet(page).get_by_label("Feel")).to_be_visible()
    assert violations(page) == []
    close(page)
    page.get_by_role("radio", name="Rules of thumb").click()
    expect(page.get_by_text("The hole is 4.25 inches")).to_be_visible()
    assert violations(page) == []


def test_a_lost_connection_is_said_and_what_was_done_goes_through_later(page, bundle_file):
    """Walk 34."""
    lesson_now(page, "Offline Person")
    drop(page, bundle_file("over-extended", 11))
    page.get_by_role("slider", name="Position in the swing").wait_for()
    page.context.set_offline(True)
    more(page, "Mark")
    page.get_by_role("dialog").get_by_role("button", name="Drill").first.click()
    expect(page.get_by_text("Not connected. What you did is kept; trying again.")).to_be_visible()
    expect(page.get_by_text("drill, does not count")).not_to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("Not connected.")).not_to_be_visible(timeout=15_000)
    expect(page.get_by_text("drill, does not count")).to_be_visible()


def test_a_sign_in_that_has_run_out_keeps_what_was_typed(page):
    lesson_now(page, "Late Person")
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("button", name="Own priority").click()
    sheet(page).get_by_label(re.compile("What to work on")).fill("Breathe out")
    sheet(page).get_by_label("Why it comes first").fill("Seen by eye.")
    page.context.clear_cookies()
    sheet(page).get_by_role("button", name="Put it first").click()
    again = page.get_by_role("dialog", name=re.compile("Your sign-in has run out"))
    again.get_by_label("E-mail", exact=True).fill("mara@harbour.example")
    again.get_by_label("Password").fill("arc-demo")
    again.get_by_role("button", name="Sign in").click()
    expect(first(page)).to_have_text("1 Breathe out")


def practice_planned(page, bundle_file):
    """The practice of a player with a tight back and a slice, on four days."""
    tight_back_and_a_slice(page, bundle_file)
    page.get_by_role("button", name=re.compile("^Limits")).click()
    sheet(page).get_by_label(re.compile("How far it goes in comfort")).fill("61")
    sheet(page).get_by_role("button", name="Add limit").click()
    expect(sheet(page).get_by_text("back turn")).to_be_visible()
    close(page)
    more(page, "Practice")
    sheet(page).get_by_role("button", name="Make the plan").click()
    expect(sheet(page).get_by_text("Turn first is not offered: it asks for more back turn")).to_be_visible()
    return sheet(page).locator("button[aria-expanded]")


def test_practice_is_planned_within_a_tight_back_and_moved_by_keys(page, bundle_file):
    blocks = practice_planned(page, bundle_file)
    expect(blocks.first).to_contain_text("feedback each time")
    assert violations(page) == []
    count = blocks.count()
    blocks.first.click()
    expect(sheet(page).get_by_text("while the feel is fresh")).to_be_visible()
    day = blocks.first.text_content()
    sheet(page).get_by_role("button", name=re.compile("^Move ")).first.focus()
    for key in ("Space", "ArrowDown", "Space"):
        page.keyboard.press(key)
        page.wait_for_timeout(150)
    expect(sheet(page).get_by_text("is no day for practice")).to_be_visible()
    expect(blocks.first).not_to_have_text(day)
    blocks.nth(1).click()
    sheet(page).get_by_role("button", name="This day was missed").click()
    expect(sheet(page).get_by_text("1 had no day left.")).to_be_visible()
    expect(blocks).to_have_count(count - 1)
    sheet(page).get_by_role("button", name="Pain: stop it").click()
    expect(sheet(page).get_by_role("alert")).to_contain_text("see a licensed health professional")
    expect(blocks).to_have_count(0)


def test_the_player_practises_by_the_phone_offline_and_pain_stops_the_plan(page, bundle_file):
    """Walk 28, on a phone of 320 pixels: opened once, then without a connection."""
    blocks = practice_planned(page, bundle_file)
    sheet(page).get_by_role("button", name="For the player's phone").click()
    page.get_by_role("button", name="Make the link").click()
    link = page.locator("p.select-all").inner_text()
    context = page.context.browser.new_context(viewport={"width": 320, "height": 640})
    try:
        phone = context.new_page()
        phone.goto(link)
        done = phone.get_by_role("button", name="Done", exact=True)
        expect(done).to_be_visible()
        assert phone.evaluate("document.documentElement.scrollWidth") == 320
        assert violations(phone) == []
        phone.wait_for_function("navigator.serviceWorker.controller !== null")
        context.set_offline(True)
        phone.reload()
        expect(phone.get_by_text("Not connected.")).to_be_visible()
        done.click()
        phone.get_by_role("button", name="4", exact=True).click()
        phone.get_by_role("listitem").nth(1).get_by_role("button").click()
        phone.get_by_role("button", name="Another day").click()
        to = phone.get_by_role("list", name="Days it can go to").get_by_role("button").first
        day = to.inner_text().split("\n")[0]
        to.click()
        expect(phone.get_by_role("heading", name=day)).to_be_visible()
        context.set_offline(False)
        phone.evaluate("window.dispatchEvent(new Event('online'))")
        expect(phone.get_by_text("Not connected.")).to_have_count(0)
        back(page)
        expect(blocks.first).to_contain_text("done, felt 4 of 5")
        context.set_offline(True)
        phone.get_by_role("button", name="It hurts").click()
        phone.get_by_role("button", name="lower back").click()
        expect(phone.get_by_role("alert")).to_contain_text("licensed health professional")
        context.set_offline(False)
        phone.evaluate("window.dispatchEvent(new Event('online'))")
        expect(phone.get_by_role("alert")).to_contain_text("Pain in the lower back")
    finally:
        context.close()
    back(page)
    expect(sheet(page).get_by_role("alert")).to_contain_text("Pain in the lower back")


def back(page):
    """The practice as it is now."""
    page.reload()
    more(page, "Practice")
