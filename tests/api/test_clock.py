"""The academy's own clock in diary and booking, also where summer time begins and ends.

The days are those of the European Union's rule (Directive 2000/84/EC): last Sundays of March and October, 01:00 UTC."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from finearc.services.errors import Refused
from finearc.services.people.clock import day_span, instant_of, zone_names

BERLIN = ZoneInfo("Europe/Berlin")
FORWARD, BACK = date(2031, 3, 30), date(2031, 10, 26)


@pytest.fixture
def by_berlin(browser):
    assert browser.put("/academy/clock", {"time_zone": "Europe/Berlin"}).status_code == 200
    yield browser
    assert browser.put("/academy/clock", {"time_zone": "UTC"}).status_code == 200


def book(browser, starts_at, bay="Bay 9", minutes=60):
    me = browser.get("/me").json()
    player = browser.post("/players", {"name": "Clock Person", "consent_by": "Clock Person"}).json()
    body = {
        "player_id": player["id"],
        "instructor_id": me["instructor_id"],
        "bay": bay,
        "starts_at": starts_at,
        "minutes": minutes,
    }
    return browser.post("/lessons", body)


def diary(browser, day):
    return [(e["starts_at"], e["ends_at"]) for e in browser.get(f"/diary?day={day}").json()["lessons"]]


@pytest.mark.parametrize(("day", "hours"), [(FORWARD, 23), (BACK, 25), (date(2031, 6, 1), 24)])
def test_a_day_lasts_as_long_as_it_does_there(day, hours):
    start, end = day_span(day, BERLIN)
    assert end - start == timedelta(hours=hours)
    assert start.astimezone(BERLIN).date() == day
    assert (start.astimezone(BERLIN).hour, end.astimezone(BERLIN).hour) == (0, 0)


def test_a_time_on_the_wall_is_an_instant():
    assert instant_of(datetime(2031, 1, 10, 9), BERLIN) == datetime(2031, 1, 10, 8, tzinfo=UTC)
    assert instant_of(datetime(2031, 7, 10, 9), BERLIN) == datetime(2031, 7, 10, 7, tzinfo=UTC)
    with_zone = datetime(2031, 7, 10, 9, tzinfo=UTC)
    assert instant_of(with_zone, BERLIN) == with_zone


def test_an_hour_that_is_skipped_is_refused_and_one_that_comes_twice_is_its_first():
    with pytest.raises(Refused, match=r"02:30 does not come on 30 March 2031.*Choose 03:30"):
        instant_of(datetime(2031, 3, 30, 2, 30), BERLIN)
    assert instant_of(datetime(2031, 10, 26, 2, 30), BERLIN) == datetime(2031, 10, 26, 0, 30, tzinfo=UTC)


def test_what_is_booked_stands_in_the_diary_at_the_time_on_the_wall(by_berlin):
    for day, offset in ((FORWARD - timedelta(days=1), "+01:00"), (FORWARD, "+02:00"), (BACK, "+01:00")):
        assert book(by_berlin, f"{day}T16:00:00").status_code == 201
        assert diary(by_berlin, day) == [(f"{day}T16:00:00{offset}", f"{day}T17:00:00{offset}")]


def test_the_first_and_last_hour_of_a_day_belong_to_it(by_berlin):
    day = date(2031, 5, 7)
    for at in ("00:00", "23:00"):
        assert book(by_berlin, f"{day}T{at}:00").status_code == 201
    assert [s[11:16] for s, _ in diary(by_berlin, day)] == ["00:00", "23:00"]
    assert diary(by_berlin, day - timedelta(days=1)) == diary(by_berlin, day + timedelta(days=1)) == []


def test_a_lesson_across_the_change_takes_as_long_as_it_takes(by_berlin):
    assert book(by_berlin, f"{BACK}T01:30:00", "Bay 8", minutes=120).status_code == 201
    begins, ends = diary(by_berlin, BACK)[0]
    assert (begins[11:], ends[11:]) == ("01:30:00+02:00", "02:30:00+01:00")
    answer = book(by_berlin, "2031-10-26T01:15:00Z", "Bay 8", minutes=10)  # the second time it is a quarter past two
    assert answer.status_code == 409
    assert "from 01:30 to 02:30" in answer.json()["message"]


def test_a_lesson_stays_at_its_instant_when_the_clock_is_another(browser):
    assert book(browser, "2031-02-03T12:00:00", "Bay 7").status_code == 201
    assert diary(browser, "2031-02-03")[0][0] == "2031-02-03T12:00:00Z"
    browser.put("/academy/clock", {"time_zone": "Pacific/Auckland"})
    assert diary(browser, "2031-02-04")[0][0] == "2031-02-04T01:00:00+13:00"
    assert browser.get("/diary").json()["time_zone"] == "Pacific/Auckland"
    browser.put("/academy/clock", {"time_zone": "UTC"})


def test_an_hour_that_does_not_come_cannot_be_booked(by_berlin):
    answer = book(by_berlin, f"{FORWARD}T02:15:00")
    assert answer.status_code == 409
    assert "the clock is put forward" in answer.json()["message"]


def test_only_zones_that_exist_are_taken(browser):
    assert browser.put("/academy/clock", {"time_zone": "Europe/Nowhere"}).status_code == 409
    found = browser.get("/academy").json()
    assert found["time_zone"] == "UTC"
    assert {"UTC", "Europe/Berlin", "Pacific/Auckland"} <= set(found["time_zones"]) == set(zone_names())
