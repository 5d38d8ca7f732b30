"""Calendar files (RFC 5545), out and in: practice as days, lessons as times, and when somebody is busy."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, date, datetime, time, timedelta
from typing import Any, NamedTuple
from uuid import UUID
from zoneinfo import ZoneInfo, available_timezones

import recurring_ical_events
from icalendar import Calendar, Component, Event
from icalendar.prop import vDDDTypes

from finearc.core.diary.spans import Span
from finearc.core.errors import FineArcError
from finearc.services.diary.busy import BusyRead, Fed
from finearc.wording import tr

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


STATUS = {"cancelled": "CANCELLED", "no_show": "CANCELLED"}


def lessons_calendar(name: str, lessons: Iterable[Fed], at: datetime) -> bytes:
    """An instructor's lessons. Times are instants (UTC), so that any calendar shows them by its own clock."""
    calendar = named_calendar(name)
    calendar.add("refresh-interval", timedelta(minutes=30), parameters={"value": "DURATION"})  # RFC 7986, 5.7
    for fed in lessons:
        lesson, event = fed.lesson, Event()
        event.add("uid", uid_of(lesson.id))
        event.add("dtstamp", at)
        event.add("dtstart", lesson.starts_at)
        event.add("dtend", lesson.ends_at)
        event.add("summary", tr("Lesson: {player}", player=fed.player))
        event.add("location", lesson.bay)
        event.add("status", STATUS.get(lesson.status, "CONFIRMED"))
        calendar.add_component(event)
    return bytes(calendar.to_ical())


class UnreadableCalendar(FineArcError):
    """A file that is no calendar."""

    code = "invalid"

    def __init__(self, name: str, reason: str) -> None:
        super().__init__(name)
        self.name, self.reason = name, reason

    def __str__(self) -> str:
        return tr(
            "{name}: {reason}. Export the calendar again as an iCalendar file (.ics).",
            name=self.name,
            reason=self.reason,
        )


MOST_EVENTS, MOST_SPANS = 5000, 20_000
"""Of one file, and of what comes of it (house values)."""


def read_busy(name: str, content: bytes, zone: ZoneInfo, within: Span) -> BusyRead:
    """When a calendar file (RFC 5545) keeps somebody busy within a stretch of time, rules expanded, also those without
    an end. Times without a zone, or in one that nobody knows, are by ``zone``; days are whole days there. What is free
    (TRANSPARENT) or cancelled keeps nobody busy. Raises ``UnreadableCalendar``."""
    remarks: list[str] = []
    calendar = _parsed(name, content)
    events = [e for e in calendar.walk("VEVENT") if _is_busy(e)]
    if len(events) > MOST_EVENTS:
        raise UnreadableCalendar(
            name,
            tr(
                "{events} entries are more than one calendar has ({most_events})",
                events=len(events),
                most_events=MOST_EVENTS,
            ),
        )
    unknown = _unknown_zones(calendar, events)
    if unknown:
        named = ", ".join(sorted(unknown))
        remarks.append(
            tr("Nobody knows the time zone {named}: its times are taken by {key}.", named=named, key=zone.key)
        )
    kept = _with_known_zones(calendar, events, zone, unknown)
    spans, broken = _expanded(kept, zone, within)
    if broken:
        remarks.append(tr("{broken} entries cannot be read and were left out.", broken=broken))
    return BusyRead(spans, within.ends, remarks)


def _parsed(name: str, content: bytes) -> Calendar:
    try:
        found = Calendar.from_ical(content)
    except (ValueError, KeyError, IndexError, UnicodeDecodeError) as error:
        raise UnreadableCalendar(name, tr("this is no calendar file")) from error
    if not isinstance(found, Calendar):
        raise UnreadableCalendar(name, tr("this is no calendar file"))
    return found


def _is_busy(event: Component) -> bool:
    free = str(event.get("transp", "OPAQUE")).upper() == "TRANSPARENT"
    return not free and str(event.get("status", "")).upper() != "CANCELLED" and event.get("dtstart") is not None


def _unknown_zones(calendar: Calendar, events: Iterable[Component]) -> set[str]:
    """Names of zones that neither the file nor the zone database knows."""
    defined = {str(z.get("tzid")) for z in calendar.walk("VTIMEZONE")}
    named = {str(p.params.get("tzid", "")) for e in events for p in (e.get("dtstart"), e.get("dtend")) if p is not None}
    return {z for z in named if z and z not in defined and z not in available_timezones()}


def _with_known_zones(calendar: Calendar, events: Iterable[Component], zone: ZoneInfo, unknown: set[str]) -> Calendar:
    """The entries that keep somebody busy, their times in zones that are known."""
    out = Calendar()
    for event in events:
        for field in ("dtstart", "dtend", "recurrence-id"):
            given = event.get(field)
            at = getattr(given, "dt", None)
            if isinstance(at, datetime) and (at.tzinfo is None or str(given.params.get("tzid", "")) in unknown):
                event[field] = vDDDTypes(at.replace(tzinfo=zone))
        out.add_component(event)
    for known in calendar.walk("VTIMEZONE"):
        out.add_component(known)
    return out


def _expanded(calendar: Calendar, zone: ZoneInfo, within: Span) -> tuple[list[Span], int]:
    """Each event by itself, so that one that cannot be read does not take the others with it."""
    groups: dict[str, Calendar] = {}
    for k, event in enumerate(calendar.walk("VEVENT")):
        uid = str(event.get("uid", k))
        groups.setdefault(uid, Calendar()).add_component(event)
    spans: list[Span] = []
    broken = 0
    for group in groups.values():
        for known in calendar.walk("VTIMEZONE"):
            group.add_component(known)
        try:
            _refuse_restless(group)
            found = recurring_ical_events.of(group).between(within.begins, within.ends)
            spans += [_span(e, zone) for e in found[: MOST_SPANS - len(spans)]]
        except (ValueError, TypeError, KeyError, AttributeError, OverflowError):
            broken += 1
    return [s for s in spans if s.begins < s.ends], broken


def _refuse_restless(group: Calendar) -> None:
    """Raises ``ValueError`` for what comes every minute or second: nobody is busy so often, and it would be endless
    work."""
    for event in group.walk("VEVENT"):
        rules = event.get("rrule") or []
        for rule in rules if isinstance(rules, list) else [rules]:
            if {str(f).upper() for f in rule.get("freq", [])} & {"SECONDLY", "MINUTELY"}:
                raise ValueError("a rule of minutes or seconds")


def _span(event: Any, zone: ZoneInfo) -> Span:
    begins = event["dtstart"].dt
    ends = event["dtend"].dt if "dtend" in event else begins
    return Span(_instant(begins, zone), _instant(ends, zone))


def _instant(at: date | datetime, zone: ZoneInfo) -> datetime:
    if not isinstance(at, datetime):
        return datetime.combine(at, time(), zone).astimezone(UTC)
    return (at if at.tzinfo is not None else at.replace(tzinfo=zone)).astimezone(UTC)
