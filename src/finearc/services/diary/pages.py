"""What the diary's screens ask for: a bounded number of queries, however full the days are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.core.diary.spans import Span
from finearc.services.diary.document import DiaryDocument
from finearc.services.diary.hours import open_spans, rules_of
from finearc.services.diary.packages import PackageRead, packages_of
from finearc.services.diary.records import BusyCalendar
from finearc.services.people.clock import clock_of, day_span
from finearc.services.people.pages import bays
from finearc.services.people.staff import teachers
from finearc.services.ports import DiaryRow as DiaryRow, UnitOfWork
from finearc.services.practice.answers import Practised, practised_of
from finearc.services.practice.document import read as read_practice
from finearc.services.practice.records import PracticePlan
from finearc.services.records import Instructor, Recording
from finearc.wording import mark, tr


@dataclass(frozen=True)
class BusyShown:
    """When an instructor is busy, and by which calendar."""

    instructor_id: UUID
    calendar: str
    span: Span


@dataclass(frozen=True)
class DiarySpan:
    """Some days of the diary: lessons, busy times, and when who works (no entry where no hours are noted)."""

    rows: Sequence[DiaryRow]
    courses: Mapping[UUID, PackageRead]
    busy: Sequence[BusyShown]
    open: Mapping[UUID, Sequence[Span]]
    rules: DiaryDocument
    instructors: Sequence[Instructor]
    bays: Sequence[str]


def span_page(uow: UnitOfWork, first: date, last: date) -> DiarySpan:
    """In eight queries."""
    zone, rules = clock_of(uow), rules_of(uow)
    begins, ends = day_span(first, zone)[0], day_span(last, zone)[1]
    rows = uow.reads.diary(begins, ends)
    people = teachers(uow)
    hours = {i.id: open_spans(rules, zone, i.id, first, last) for i in people}
    return DiarySpan(
        rows,
        courses_of(uow, rows),
        _busy(uow, Span(begins, ends)),
        {k: v for k, v in hours.items() if v is not None},
        rules,
        people,
        bays(uow),
    )


def courses_of(uow: UnitOfWork, rows: Sequence[DiaryRow]) -> dict[UUID, PackageRead]:
    """The courses that lessons are of, by their id."""
    if not any(r.lesson.package_id for r in rows):
        return {}
    return {p.package.id: p for p in packages_of(uow, list({r.player.id for r in rows}))}


def _busy(uow: UnitOfWork, within: Span) -> list[BusyShown]:
    out = []
    for calendar in uow.find(BusyCalendar):
        for begins, ends in calendar.spans:
            span = Span(datetime.fromisoformat(begins), datetime.fromisoformat(ends))
            if span.meets(within):
                out.append(BusyShown(calendar.instructor_id, calendar.name, span))
    return out


LEFT_FOR = timedelta(days=14)
"""Lessons that were left open are named so long (house value)."""


def left_open(uow: UnitOfWork, today: date, zone: ZoneInfo) -> list[DiaryRow]:
    """Lessons of the days before today that were neither ended nor taken out of the diary, the latest first."""
    begins = day_span(today, zone)[0]
    rows = uow.reads.diary(begins - LEFT_FOR, begins)
    return [r for r in reversed(rows) if r.lesson.status in ("planned", "running")]


@dataclass(frozen=True)
class Before:
    """What the instructor should know of a player before a lesson: what was worn last time, what was practised since,
    and until when the practice plan goes: then a retest is due."""

    sources: Sequence[str]
    practised: Practised | None
    retest: date | None


def before_of(uow: UnitOfWork, rows: Sequence[DiaryRow]) -> dict[UUID, Before]:
    """By lesson, in three queries."""
    last = {r.lesson.id: r.last_closed for r in rows if r.last_closed is not None}
    if not last:
        return {}
    worn: dict[UUID, list[str]] = {}
    for recording in uow.find(Recording, lesson_id=list(last.values()), order="number"):
        worn[recording.lesson_id] = worn_words(recording)
    practised = practised_of(uow, list(last.values()))
    plans = {p.lesson_id: read_practice(p.document) for p in uow.find(PracticePlan, lesson_id=list(last.values()))}
    return {
        k: Before(worn.get(of, []), practised.get(of), plans[of].wishes.last if of in plans else None)
        for k, of in last.items()
    }


WORN = {
    "hand": mark("hand"),
    "forearm": mark("forearm"),
    "upper_arm": mark("upper arm"),
    "club": mark("club"),
    "putter": mark("putter"),
    "pelvis": mark("pelvis"),
    "thorax": mark("chest"),
    "head": mark("head"),
}
"""Segments in an instructor's words, in the order in which they are fitted."""


def worn_words(recording: Recording) -> list[str]:
    """What was worn and stood on in a recording, as it is fitted."""
    bare = {s.removeprefix("lead_").removeprefix("trail_") for s in recording.segments}
    known = [tr(words) for segment, words in WORN.items() if segment in bare]
    return known + [tr(KINDS[k]) for k in recording.described if k in KINDS]


KINDS = {"markers": mark("markers"), "pressure": mark("pressure mat"), "plates": mark("force plates")}
