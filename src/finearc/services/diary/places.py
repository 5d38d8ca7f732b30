"""The next free places: around a clash, for those who wait, and for a player's next lesson."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.core.diary.places import Kind, Place, Resource, Search, next_places
from finearc.core.diary.spans import Span
from finearc.services.diary.document import DiaryDocument
from finearc.services.diary.hours import open_spans, rules_of
from finearc.services.diary.records import Waiting
from finearc.services.diary.taken import taken_between
from finearc.services.people.clock import clock_of, today
from finearc.services.people.pages import bays
from finearc.services.people.staff import teachers
from finearc.services.ports import UnitOfWork
from finearc.services.practice.document import read as read_practice
from finearc.services.practice.records import PracticePlan
from finearc.services.records import Lesson, now
from finearc.wording import day_words, tr

FAR = timedelta(days=60)
"""How far free places are looked for (house value)."""
MOST_PLACES = 4
USUAL_LESSONS = 8
"""So many of the latest lessons say when a player usually comes (house value)."""


@dataclass(frozen=True)
class Around:
    """What is looked for: the instructor and bay that are preferred, None for any; others are offered after them."""

    instructor_id: UUID | None
    bay: str | None
    player_id: UUID | None
    sensor_set: str
    minutes: int
    markers: bool = False


def places_around(
    uow: UnitOfWork,
    around: Around,
    after: datetime,
    *,
    but: Sequence[UUID] = (),
    most: int = MOST_PLACES,
    far: timedelta = FAR,
) -> list[Place]:
    """The next free places from ``after`` on, never before now."""
    rules, zone = rules_of(uow), clock_of(uow)
    after = max(after.astimezone(UTC), now())
    until = after + far
    others = set()
    if around.player_id is not None:
        others.add(Resource(Kind.PLAYER, str(around.player_id)))
    if around.sensor_set:
        others.add(Resource(Kind.SENSORS, around.sensor_set))
    search = Search(
        timedelta(minutes=around.minutes),
        _hours(uow, rules, zone, around.instructor_id, Span(after, until)),
        _preferred(bays(uow), around.bay),
        frozenset(others),
        around.markers,
        timedelta(minutes=rules.setup_minutes),
        taken_between(uow, Span(after, until), but),
    )
    return next_places(search, after, most)


def apart(places: Sequence[Place], most: int = MOST_PLACES) -> list[Place]:
    """Of places that overlap the first: each could be taken by somebody else."""
    out: list[Place] = []
    for place in places:
        if not any(place.span.meets(other.span) for other in out):
            out.append(place)
    return out[:most]


def _hours(
    uow: UnitOfWork, rules: DiaryDocument, zone: ZoneInfo, instructor_id: UUID | None, span: Span
) -> dict[str, list[Span]]:
    people = [instructor_id] if instructor_id is not None else [i.id for i in teachers(uow)]
    first, last = (t.astimezone(zone).date() for t in span)
    return {str(k): open_spans(rules, zone, k, first, last, offered=True) or [] for k in people}


def _preferred(names: Sequence[str], first: str | None) -> list[str]:
    return list(dict.fromkeys(([first] if first else []) + list(names)))


def places_for(uow: UnitOfWork, waiting: Waiting, most: int = MOST_PLACES) -> list[Place]:
    """The free places that somebody who waits would take."""
    zone = clock_of(uow)
    first = max(waiting.first, today(zone))
    if waiting.last < first:
        return []
    begins = datetime.combine(first, datetime.min.time(), zone)
    far = timedelta(days=(waiting.last - first).days + 1)
    around = Around(waiting.instructor_id, None, waiting.player_id, "", waiting.minutes)
    found = places_around(uow, around, begins, most=2000, far=far)
    return apart([p for p in found if _suits(p.span, waiting, zone)], most)


def _suits(span: Span, waiting: Waiting, zone: ZoneInfo) -> bool:
    begins, ends = (t.astimezone(zone) for t in span)
    if begins.date() != ends.date() or not waiting.first <= begins.date() <= waiting.last:
        return False
    from_minute, until_minute = (60 * t.hour + t.minute for t in (begins, ends))
    in_time = waiting.from_minute <= from_minute and until_minute <= waiting.until_minute
    return in_time and (not waiting.weekdays or begins.weekday() in waiting.weekdays)


@dataclass(frozen=True)
class Usual:
    """When a player usually comes, from the latest lessons; ``weekday`` and ``minute`` of the day."""

    weekday: int
    minute: int
    instructor_id: UUID
    bay: str
    minutes: int


@dataclass(frozen=True)
class Suggested:
    """The next lesson: from which day on it is due and why, and free places, the usual time first."""

    due: date
    why: str
    minutes: int
    places: Sequence[Place]


def usual_of(lessons: Sequence[Lesson], zone: ZoneInfo) -> Usual | None:
    """The most frequent weekday and time, the latest where several are; None without a lesson."""
    if not lessons:
        return None
    walls = [x.starts_at.astimezone(zone) for x in lessons]
    (weekday, minute), _ = Counter((w.weekday(), 60 * w.hour + w.minute) for w in walls).most_common(1)[0]
    last = lessons[0]
    length = round((last.ends_at - last.starts_at).total_seconds() / 60)
    return Usual(weekday, minute, last.instructor_id, last.bay, length)


def suggest(uow: UnitOfWork, player_id: UUID, instructor_id: UUID) -> Suggested:
    """A player's next lesson: due when the practice plan ends, else on the noted next date, else now; at the usual
    time, with whom the last one was, else with ``instructor_id``."""
    zone, rules = clock_of(uow), rules_of(uow)
    lessons = uow.find(
        Lesson, player_id=player_id, status=["closed", "running", "planned"], order="-starts_at", most=USUAL_LESSONS
    )
    past = [x for x in lessons if x.starts_at <= now()]
    usual = usual_of(past, zone)
    due, why = _due(uow, past, today(zone))
    length = usual.minutes if usual else rules.lesson_minutes
    who, bay = (usual.instructor_id, usual.bay) if usual else (instructor_id, None)
    begins = datetime.combine(due, datetime.min.time(), zone)
    around = Around(who, bay, player_id, "", min(240, max(10, length)))
    found = places_around(uow, around, begins, most=2000, far=timedelta(days=28))
    if usual is not None:
        found.sort(key=lambda p: (_away(p.span.begins.astimezone(zone), usual, due), p.span.begins))
    return Suggested(due, why, around.minutes, apart(found))


def _due(uow: UnitOfWork, past: Sequence[Lesson], day: date) -> tuple[date, str]:
    """From which day on the next lesson is due, and why."""
    if not past:
        return day, tr("the first lesson")
    plans = uow.find(PracticePlan, lesson_id=past[0].id)
    if plans:
        last = read_practice(plans[0].document).wishes.last
        return max(day, last + timedelta(days=1)), tr("the practice plan ends on {day}: retest", day=day_words(last))
    if past[0].next_date is not None:
        return max(day, past[0].next_date), tr("noted for {day}", day=day_words(past[0].next_date))
    return day, tr("no plan and no date noted")


def _away(at: datetime, usual: Usual, due: date) -> float:
    """How far a place is from the usual time, in hours: a day later than due weighs as half an hour."""
    minutes = abs(60 * at.hour + at.minute - usual.minute)
    other_day = 0.0 if at.weekday() == usual.weekday else 6.0
    return minutes / 60.0 + other_day + 0.5 * max(0, (at.date() - due).days)
