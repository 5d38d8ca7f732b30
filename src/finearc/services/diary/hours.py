"""When who works, by the academy's clock: hours, breaks and holidays as instants, also where the clock is changed."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.core.diary.spans import Span, joined
from finearc.services.diary.document import DAY_MINUTES, OFFERED, DiaryDocument, read, written
from finearc.services.diary.records import DiaryRules
from finearc.services.ports import UnitOfWork
from finearc.wording import day_words, time_words, tr


def rules_of(uow: UnitOfWork) -> DiaryDocument:
    """What the academy has said; nothing at first."""
    found = uow.find(DiaryRules)
    return read(found[0].document) if found else DiaryDocument()


def held_rules(uow: UnitOfWork) -> DiaryRules:
    """The academy's rules, held: whoever else books waits here."""
    found = uow.find(DiaryRules)
    if not found:
        uow.hold_academy()  # the first two at once: one makes them, the other finds them
        found = uow.find(DiaryRules)
    if not found:
        made = DiaryRules(uow.academy_id, written(DiaryDocument()))
        uow.add(made)
        return made
    return uow.hold(DiaryRules, found[0].id)


def open_spans(
    rules: DiaryDocument, zone: ZoneInfo, instructor_id: UUID | None, first: date, last: date, *, offered: bool = False
) -> list[Span] | None:
    """When an instructor works from ``first`` to ``last``; None where no hours are noted, unless the hours in which
    places are ``offered`` are asked for."""
    hours = rules.hours_of(instructor_id)
    if hours is None and not offered:
        return None
    out = []
    for day in _days(first, last):
        spans = [OFFERED] if hours is None else hours.get(day.weekday(), [])
        if not any(h.first <= day <= h.last and h.instructor_id in (None, instructor_id) for h in rules.holidays):
            out += [Span(at(day, a, zone), at(day, b, zone)) for a, b in spans]
    return joined(out)


def at(day: date, minute: int, zone: ZoneInfo) -> datetime:
    """The instant of a minute of the day: where the clock skips it, when it is put forward."""
    wall = datetime.combine(day + timedelta(days=minute // DAY_MINUTES), time(), zone)
    return (wall + timedelta(minutes=minute % DAY_MINUTES)).astimezone(UTC)


def _days(first: date, last: date) -> Iterator[date]:
    for k in range((last - first).days + 1):
        yield first + timedelta(days=k)


def outside_words(rules: DiaryDocument, zone: ZoneInfo, instructor_id: UUID, span: Span) -> str:
    """Why nobody works then; empty where somebody does, or no hours are noted."""
    day = span.begins.astimezone(zone).date()
    for holiday in rules.holidays:
        if holiday.first <= day <= holiday.last and holiday.instructor_id in (None, instructor_id):
            return tr("{name} on {day}", name=holiday.name or tr("A holiday"), day=day_words(day))
    spans = open_spans(rules, zone, instructor_id, day, day)
    if spans is None or any(s.holds(span) for s in spans):
        return ""
    return tr(
        "{begins} to {ends} lies outside the working hours",
        begins=time_words(span.begins.astimezone(zone)),
        ends=time_words(span.ends.astimezone(zone)),
    )
