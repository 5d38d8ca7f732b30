"""Walks 29 and 30: the diary with a clash, a row across summer time and a feed; the morning."""

from __future__ import annotations

import re
from datetime import date, timedelta

import icalendar
import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_interface import violations
from tests.browser.test_walks import new_player

pytestmark = pytest.mark.browser


def sheet(page: Page):
    return page.get_by_role("dialog")


def book(page: Page, player: str, day: date, at: str) -> None:
    """Fill the sheet in and send it."""
    page.get_by_role("button", name=re.compile("^Book")).first.click()
    sheet(page).get_by_label("Player").select_option(label=player)
    sheet(page).get_by_label("Day", exact=True).fill(str(day))
    sheet(page).get_by_label("Time", exact=True).fill(at)
    sheet(page).get_by_role("button", name="Book", exact=True).click()


def in_column(page: Page, name: str):
    return page.get_by_test_id("column").get_by_role("button", name=re.compile(name))


def test_walk_29_a_clash_says_the_next_free_places_and_a_lesson_is_moved(page, address):
    new_player(page, "Dory Dairy")
    day = date(2035, 5, 9)  # a Wednesday that no other test books
    page.goto(f"{address}/diary?day={day}&by=people")
    book(page, "Dory Dairy", day, "10:00")
    expect(page.get_by_text("Booked: Dory Dairy, Wednesday 9 May 10:00.")).to_be_visible()
    book(page, "Dory Dairy", day, "10:30")
    expect(sheet(page).get_by_role("alert")).to_contain_text("already booked from 10:00 to 10:45")
    assert violations(page) == []
    free = sheet(page).get_by_role("group", name="Next free places").last.get_by_role("button")
    expect(free.first).to_have_text(re.compile("Wed 9 May 10:45"))
    free.first.click()
    sheet(page).get_by_role("button", name="Book", exact=True).click()
    expect(page.get_by_text("Booked: Dory Dairy, Wednesday 9 May 10:45.")).to_be_visible()
    assert violations(page) == []

    later = in_column(page, "^Dory Dairy 10:45")
    later.focus()
    for key in ("Space", "ArrowDown", "ArrowDown", "Space"):  # half an hour, by keys
        page.keyboard.press(key)
        page.wait_for_timeout(120)
    expect(page.get_by_text(re.compile("Dory Dairy: Wednesday 9 May 11:15"))).to_be_visible()
    box = in_column(page, "^Dory Dairy 11:15").bounding_box()
    page.mouse.move(box["x"] + 30, box["y"] + 15)
    page.mouse.down()
    for step in range(1, 9):  # three quarters of an hour up, onto the first: a clash
        page.mouse.move(box["x"] + 30, box["y"] + 15 - step * 8)
    page.mouse.up()
    expect(page.get_by_role("alert")).to_contain_text("already booked from 10:00 to 10:45")
    page.get_by_role("button", name="Leave it where it was").click()
    expect(in_column(page, "^Dory Dairy 11:15")).to_be_visible()

    in_column(page, "^Dory Dairy 10:00").click()
    sheet(page).get_by_role("button", name="Cancel it").click()
    sheet(page).get_by_label("Why").fill("a cold")
    sheet(page).get_by_role("button", name="Take it out of the diary").click()
    expect(sheet(page).get_by_text("Wednesday 9 May 10:00 is free again.")).to_be_visible()
    sheet(page).get_by_role("button", name="Close").click()
    expect(in_column(page, "^Dory Dairy 10:00")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(in_column(page, "^Dory Dairy 10:00")).to_be_visible()


def test_walk_29_a_row_goes_on_across_summer_time_and_the_feed_opens_elsewhere(page, address):
    """The demo lives by UTC, which has no summer time: the academy's clock is Lisbon's for this while (its summer time
    of 2035 begins on 25 March, Directive 2000/84/EC)."""
    new_player(page, "Rowan Weekly")
    put_clock(page, "Europe/Lisbon")
    try:
        page.goto(f"{address}/diary?day=2035-03-14&by=people")
        page.get_by_role("button", name=re.compile("^Book")).first.click()
        sheet(page).get_by_label("Player").select_option(label="Rowan Weekly")
        sheet(page).get_by_label("Day", exact=True).fill("2035-03-14")
        sheet(page).get_by_label("Time", exact=True).fill("15:00")
        sheet(page).get_by_role("radio", name="Every week").click()
        sheet(page).get_by_label("Until").fill("2035-04-11")
        sheet(page).get_by_role("button", name="Book", exact=True).click()
        expect(page.get_by_text("5 lessons booked.")).to_be_visible()
        for day in ("2035-03-21", "2035-03-28"):
            page.goto(f"{address}/diary?day={day}&by=people")
            expect(in_column(page, "^Rowan Weekly 15:00")).to_be_visible()
        page.get_by_role("button", name="Calendars").click()
        sheet(page).get_by_role("button", name="Make a link").click()
        link = sheet(page).locator("p.select-all").inner_text()
    finally:
        put_clock(page, "UTC")
    elsewhere = page.context.browser.new_context()
    try:
        answer = elsewhere.request.get(link)
        assert answer.headers["content-type"].startswith("text/calendar")
        icalendar.Calendar.from_ical(answer.body())
    finally:
        elsewhere.close()


def put_clock(page: Page, zone: str) -> None:
    """The academy's clock, as its screen sets it."""
    done = page.evaluate(
        """async (zone) => {
          const me = await (await fetch('/api/me')).json();
          const headers = {'x-csrf-token': me.csrf, 'content-type': 'application/json', 'if-match': '*'};
          return (await fetch('/api/academy/clock', {method: 'PUT', headers, body: JSON.stringify({time_zone: zone})})).status;
        }""",
        zone,
    )
    assert done == 200


def test_walk_30_the_morning_says_who_is_next_what_to_fit_and_what_is_due(page):
    day = date.today().isoformat()
    diary = page.evaluate("async (d) => (await fetch(`/api/diary?day=${d}`)).json()", day)
    ilse = next(x for x in diary["lessons"] if x["player"]["name"] == "Ilse Marrow")
    assert ilse["fit"][:2] == ["hand", "forearm"]
    assert ilse["practised"]["done"] >= 1
    assert ilse["retest"] <= day
    running = next((x for x in diary["lessons"] if x["status"] == "running"), None)
    now = page.evaluate("Date.now()")
    to_come = [
        x for x in diary["lessons"] if x["status"] == "planned" and page.evaluate("Date.parse", x["ends_at"]) > now
    ]
    first = running or (to_come or [x for x in diary["lessons"] if x["status"] == "planned"] or [None])[0]
    if first is None:  # other walks have ended all of today's lessons
        expect(page.get_by_text("The day is done.")).to_be_visible()
        return
    expect(page.locator("main section").first).to_contain_text(first["player"]["name"] or "Walk-in")
    if first["fit"]:
        expect(
            page.get_by_text(f"Fit: {', '.join([*filter(None, [first['sensor_set']]), *first['fit']])}")
        ).to_be_visible()
    assert violations(page) == []


def test_a_player_of_the_week_to_come_stands_in_the_demo(page, address):
    """The demo's own week: a row of lessons, a sensor set, a holiday, somebody's busy afternoon, and who waits."""
    monday = date.today() - timedelta(days=date.today().weekday()) + timedelta(weeks=1)
    page.goto(f"{address}/diary?day={monday}&who=all")
    expect(in_column(page, "Ilse").first).to_be_visible()
    expect(page.get_by_text("Harbour day")).to_be_visible()
    page.get_by_role("button", name="Waiting").click()
    expect(sheet(page).get_by_text("Corin Hale")).to_be_visible()
    sheet(page).get_by_role("button", name="Close").click()
    assert violations(page) == []
