"""Calendar files in: rules expanded as a second library expands them, files of other makers, files that are none."""

from __future__ import annotations

import random
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from dateutil.rrule import rrulestr
from icalendar import Calendar, Event, vRecur

from finearc.core.diary.spans import Span
from finearc.formats.calendar import UnreadableCalendar, read_busy

ZONE = ZoneInfo("Europe/Lisbon")
WITHIN = Span(datetime(2026, 1, 1, tzinfo=UTC), datetime(2027, 6, 1, tzinfo=UTC))
FREQS = ("DAILY", "WEEKLY", "MONTHLY", "YEARLY")
DAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")


def random_rule(rng: random.Random, first: datetime) -> str:
    """A rule of RFC 5545 as calendars write them."""
    freq = rng.choice(FREQS)
    parts = [f"FREQ={freq}"]
    if rng.random() < 0.5:
        parts.append(f"INTERVAL={rng.randint(1, 5)}")
    if freq == "WEEKLY" and rng.random() < 0.6:
        parts.append("BYDAY=" + ",".join(rng.sample(DAYS, rng.randint(1, 4))))
    if freq == "MONTHLY" and rng.random() < 0.6:
        by_day = f"BYDAY={rng.choice((1, 2, 3, -1))}{rng.choice(DAYS)}"
        parts.append(rng.choice((f"BYMONTHDAY={rng.choice((1, 15, 28, -1))}", by_day)))
    end = rng.random()
    if end < 0.35:
        parts.append(f"COUNT={rng.randint(1, 40)}")
    elif end < 0.7:
        until = (first + timedelta(days=rng.randint(1, 500))).replace(tzinfo=ZONE).astimezone(UTC)
        parts.append(f"UNTIL={until:%Y%m%dT%H%M%SZ}")
    return ";".join(parts)


def file_of(*events: Event) -> bytes:
    calendar = Calendar()
    calendar.add("prodid", "-//Somebody else//EN")
    calendar.add("version", "2.0")
    for event in events:
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def event(begins: datetime | date, ends: datetime | date, **more: object) -> Event:
    made = Event()
    made.add("uid", str(more.pop("uid", "one")))
    made.add("dtstart", begins)
    made.add("dtend", ends)
    for name, value in more.items():
        made.add(name, value)
    return made


def walls_of(rule: str, first: datetime) -> list[datetime]:
    """The rule by the second library, on the wall: an end in UTC is put on the wall beforehand."""
    parts = dict(p.split("=") for p in rule.split(";"))
    if "UNTIL" in parts:
        until = datetime.strptime(parts["UNTIL"], "%Y%m%dT%H%M%SZ").replace(tzinfo=UTC).astimezone(ZONE)
        parts["UNTIL"] = f"{until:%Y%m%dT%H%M%S}"
    text = ";".join(f"{k}={v}" for k, v in parts.items())
    found = rrulestr(text, dtstart=first)
    return list(found.between(datetime(2025, 12, 1), datetime(2027, 7, 1), inc=True))


def test_500_rules_give_what_a_second_library_gives():
    """python-dateutil's rrule (RFC 5545, 3.3.10), times on the wall kept across summer time. RFC 5545 lets a rule begin
    with DTSTART even where it does not match; calendars differ there, so the first is looked at apart."""
    rng, times = random.Random(17), 0
    for number in range(500):
        first = datetime(2026, 1, 5) + timedelta(days=rng.randint(0, 400), minutes=15 * rng.randint(16, 88))
        rule = random_rule(rng, first)
        walls = walls_of(rule, first)
        out = rng.sample(walls[1:], min(2, len(walls[1:]))) if rng.random() < 0.3 else []
        more = {"exdate": [w.replace(tzinfo=ZONE) for w in out]} if out else {}
        begins = first.replace(tzinfo=ZONE)
        made = event(begins, begins + timedelta(minutes=45), rrule=vRecur.from_ical(rule), **more)
        found = read_busy("other.ics", file_of(made), ZONE, WITHIN)
        wanted = {w.replace(tzinfo=ZONE).astimezone(UTC) for w in walls if w not in out}
        wanted = {w for w in wanted if w < WITHIN.ends and w + timedelta(minutes=45) > WITHIN.begins}
        got = {s.begins for s in found.spans}
        assert got - {begins.astimezone(UTC)} == wanted - {begins.astimezone(UTC)}, (number, rule, first)
        times += len(wanted)
    assert times > 10_000


def test_a_rule_without_an_end_is_followed_to_the_horizon():
    made = event(datetime(2020, 3, 2, 8, tzinfo=ZONE), datetime(2020, 3, 2, 9, tzinfo=ZONE), rrule={"freq": "daily"})
    found = read_busy("endless.ics", file_of(made), ZONE, WITHIN)
    assert len(found.spans) == (WITHIN.ends - WITHIN.begins).days
    assert {s.begins.astimezone(ZONE).hour for s in found.spans} == {8}  # also in summer


def test_what_would_never_end_is_left_out_and_said():
    second = event(datetime(2026, 3, 2, 8), datetime(2026, 3, 2, 9), rrule={"freq": "secondly"}, uid="a")
    once = event(datetime(2026, 3, 2, 8, tzinfo=ZONE), datetime(2026, 3, 2, 9, tzinfo=ZONE), uid="b")
    found = read_busy("restless.ics", file_of(second, once), ZONE, WITHIN)
    assert len(found.spans) == 1
    assert found.remarks == ["1 entries cannot be read and were left out."]


def test_days_are_whole_days_by_the_academys_clock():
    found = read_busy("days.ics", file_of(event(date(2026, 7, 1), date(2026, 7, 3))), ZONE, WITHIN)
    assert found.spans == [Span(datetime(2026, 6, 30, 23, tzinfo=UTC), datetime(2026, 7, 2, 23, tzinfo=UTC))]


def test_free_and_cancelled_entries_keep_nobody_busy():
    at = (datetime(2026, 7, 1, 8, tzinfo=ZONE), datetime(2026, 7, 1, 9, tzinfo=ZONE))
    free = event(*at, transp="TRANSPARENT", uid="a")
    off = event(*at, status="CANCELLED", uid="b")
    assert read_busy("free.ics", file_of(free, off), ZONE, WITHIN).spans == []


OTHER_MAKER = """BEGIN:VCALENDAR\r
PRODID:-//Another maker//Folded and odd//EN\r
VERSION:2.0\r
X-WR-TIMEZONE:Europe/Lisbon\r
BEGIN:VEVENT\r
UID:folded\r
DTSTART;TZID=Planet/Nowhere:20260706T090000\r
DTEND;TZID=Planet/Nowhere:20260706T100000\r
SUMMARY:A very long title that is folded because it is longer than seventy-\r
 five octets\\, with a comma\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:floating\r
DTSTART:20260707T090000\r
DURATION:PT90M\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:moved\r
DTSTART;TZID=Europe/Lisbon:20260708T090000\r
DTEND;TZID=Europe/Lisbon:20260708T093000\r
RRULE:FREQ=WEEKLY;COUNT=2\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:moved\r
RECURRENCE-ID;TZID=Europe/Lisbon:20260715T090000\r
DTSTART;TZID=Europe/Lisbon:20260715T120000\r
DTEND;TZID=Europe/Lisbon:20260715T123000\r
END:VEVENT\r
END:VCALENDAR\r
"""


def test_a_file_of_another_maker_is_read_and_what_is_odd_is_said():
    found = read_busy("other.ics", OTHER_MAKER.encode(), ZONE, WITHIN)
    walls = sorted((s.begins.astimezone(ZONE), round((s.ends - s.begins).total_seconds() / 60)) for s in found.spans)
    assert [(f"{w:%d %H:%M}", minutes) for w, minutes in walls] == [
        ("06 09:00", 60),
        ("07 09:00", 90),
        ("08 09:00", 30),
        ("15 12:00", 30),
    ]
    assert found.remarks == ["Nobody knows the time zone Planet/Nowhere: its times are taken by Europe/Lisbon."]


def test_a_zone_that_the_file_defines_is_used():
    zone = (
        "BEGIN:VTIMEZONE\r\nTZID:Own\r\nBEGIN:STANDARD\r\nDTSTART:19700101T000000\r\nTZOFFSETFROM:+0300\r\n"
        "TZOFFSETTO:+0300\r\nEND:STANDARD\r\nEND:VTIMEZONE\r\nBEGIN:VEVENT"
    )
    made = OTHER_MAKER.replace("BEGIN:VEVENT", zone, 1).replace("Planet/Nowhere", "Own")
    found = read_busy("own.ics", made.encode(), ZONE, WITHIN)
    assert min(s.begins for s in found.spans) == datetime(2026, 7, 6, 6, tzinfo=UTC)
    assert found.remarks == []


@pytest.mark.parametrize(
    "content", [b"", b"hello", b"\xff\xfe\x00", b"BEGIN:VCALENDAR\r\n", b"BEGIN:VEVENT\r\nEND:VEVENT"]
)
def test_what_is_no_calendar_is_refused_in_words(content):
    with pytest.raises(UnreadableCalendar, match="Export the calendar again"):
        read_busy("odd.ics", content, ZONE, WITHIN)
