"""Calendar files (RFC 5545) out: practice as days, so that any calendar can show it."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from typing import NamedTuple
from uuid import UUID

from icalendar import Calendar, Event

PRODUCT = "-//Fine Arc//Calendar//EN"


class DayEntry(NamedTuple):
    """Something of a whole day: ``key`` names it for as long as it is there."""

    key: str
    day: date
    title: str
    words: str


def named_calendar(name: str) -> Calendar:
    """An empty one. ``NAME`` as in RFC 7986, and the name that older calendars read."""
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("name", name)
    calendar.add("x-wr-calname", name)
    return calendar


def uid_of(*parts: str | int | UUID) -> str:
    """The same for the same thing, and nobody else's (RFC 7986, 5.3: no name of a machine in it)."""
    return "-".join(map(str, parts)) + "@finearc"


def days_calendar(name: str, entries: Iterable[DayEntry], at: datetime) -> bytes:
    """Entries of whole days, which keep nobody busy. ``at``: when they were as they are."""
    calendar = named_calendar(name)
    for entry in entries:
        event = Event()
        event.add("uid", uid_of(entry.key))
        event.add("dtstamp", at)
        event.add("dtstart", entry.day)
        event.add("dtend", entry.day + timedelta(days=1))
        event.add("summary", entry.title)
        event.add("description", entry.words)
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
