"""Booking, moving, cancelling. Whoever changes the diary holds the academy's rules, so that nothing is booked twice."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, timedelta
from uuid import UUID, uuid4

from dateutil.rrule import WEEKLY, rrule

from finearc.core.diary.places import Place, Wanted, clashes
from finearc.core.diary.spans import Span
from finearc.services.diary import packages
from finearc.services.diary.document import DiaryDocument, read
from finearc.services.diary.hours import held_rules, outside_words
from finearc.services.diary.places import Around, places_around
from finearc.services.diary.taken import STANDING, Names, clash_words, resources_of, taken_between
from finearc.services.errors import Clash, Outside, Refused
from finearc.services.known import refuse_unknown_club
from finearc.services.lesson.lessons import bay_of
from finearc.services.people.clock import clock_of, instant_of
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Lesson, Player, now
from finearc.wording import tr

SHORTEST_MIN, LONGEST_MIN = 10, 240
MOST_REPEATS = 60
LONGEST_REPEAT = timedelta(days=400)
CANCELLED, NO_SHOW = "cancelled", "no_show"


@dataclass(frozen=True)
class Asked:
    """A lesson as it is to be: ``sensor_set``, a mobile one by name, empty for none; ``markers``: cameras are set up
    for it; ``anyway``: also outside the working hours."""

    player_id: UUID
    instructor_id: UUID
    bay: str
    starts_at: datetime
    minutes: int
    club: str = "7-iron"
    sensor_set: str = ""
    markers: bool = False
    anyway: bool = False

    @property
    def span(self) -> Span:
        begins = self.starts_at.astimezone(UTC)
        return Span(begins, begins + timedelta(minutes=self.minutes))


@dataclass(frozen=True)
class NotBooked:
    """One of a row of lessons that has no place, and why."""

    wall: datetime
    why: str


@dataclass(frozen=True)
class Row:
    """What became of a row of lessons."""

    booked: Sequence[Lesson]
    not_booked: Sequence[NotBooked]


def book(uow: UnitOfWork, asked: Asked) -> Lesson:
    """Put a lesson into the diary. No instructor, bay, sensor set or player is in two places. Raises ``Refused``,
    ``NotFound``, ``Clash`` and ``Outside`` with the next free places."""
    rules = _held(uow)
    _refuse_unfit(uow, asked, rules)
    _refuse_taken(uow, asked, rules)
    return _add(uow, asked)


def _held(uow: UnitOfWork) -> DiaryDocument:
    kept = held_rules(uow)
    kept.bookings += 1
    return read(kept.document)


def _add(uow: UnitOfWork, asked: Asked, series_id: UUID | None = None) -> Lesson:
    lesson = Lesson(
        uow.academy_id,
        asked.player_id,
        asked.instructor_id,
        bay_of(uow, asked.bay).name,
        *asked.span,
        club=asked.club,
        sensor_set=asked.sensor_set,
        markers=asked.markers,
        series_id=series_id,
        package_id=packages.open_for(uow, asked.player_id),
    )
    uow.add(lesson)
    uow.flush()
    return lesson


def _refuse_unfit(uow: UnitOfWork, asked: Asked, rules: DiaryDocument) -> None:
    if not SHORTEST_MIN <= asked.minutes <= LONGEST_MIN:
        raise Refused(
            tr(
                "a lesson takes {shortest_min} to {longest_min} minutes",
                shortest_min=SHORTEST_MIN,
                longest_min=LONGEST_MIN,
            )
        )
    if asked.sensor_set and asked.sensor_set not in rules.sensor_sets:
        known = ", ".join(rules.sensor_sets) or tr("none yet")
        raise Refused(
            tr('there is no sensor set "{sensor_set}"', sensor_set=asked.sensor_set),
            tr("Known: {known}; the diary's settings name them", known=known),
        )
    refuse_unknown_club(asked.club)
    uow.get(Player, asked.player_id)
    uow.get(Instructor, asked.instructor_id)


def _refuse_taken(uow: UnitOfWork, asked: Asked, rules: DiaryDocument, but: UUID | None = None) -> None:
    zone, ids = clock_of(uow), () if but is None else (but,)
    resources = resources_of(asked.instructor_id, " ".join(asked.bay.split()), asked.player_id, asked.sensor_set)
    wanted = Wanted(asked.span, resources, asked.markers)
    found = clashes(wanted, taken_between(uow, asked.span, ids), timedelta(minutes=rules.setup_minutes))
    around = Around(asked.instructor_id, asked.bay, asked.player_id, asked.sensor_set, asked.minutes, asked.markers)
    if found:
        what, when = clash_words(found[0], Names.of(uow, [asked.player_id]), zone, rules.setup_minutes)
        places = tuple(_said(uow, places_around(uow, around, asked.span.begins, but=ids)))
        raise Clash(what, when, places, several=len(found[0].shared) > 1)
    outside = "" if asked.anyway else outside_words(rules, zone, asked.instructor_id, asked.span)
    if outside:
        raise Outside(outside, tuple(_said(uow, places_around(uow, around, asked.span.begins, but=ids))))


def _said(uow: UnitOfWork, places: Iterable[Place]) -> list[dict[str, str]]:
    zone = clock_of(uow)
    people = {str(i.id): i.name for i in uow.find(Instructor)}
    return [
        {
            "starts_at": p.span.begins.astimezone(zone).isoformat(),
            "ends_at": p.span.ends.astimezone(zone).isoformat(),
            "instructor_id": p.instructor,
            "instructor": people.get(p.instructor, ""),
            "bay": p.bay,
        }
        for p in places
    ]


def weekly(first: datetime, every: int, until: date) -> list[datetime]:
    """The times on the wall of a lesson that comes every so many weeks, the last on or before ``until`` (RFC 5545,
    FREQ=WEEKLY): at the same time of the day also where the clock is changed. Raises ``Refused``."""
    if first.tzinfo is not None:
        raise ValueError("a row of lessons is by the clock on the wall")
    last = datetime.combine(until, first.time())
    if not 1 <= every <= 26 or last < first or last - first > LONGEST_REPEAT:
        raise Refused(
            tr("a row of lessons goes on for a year at most, every 1 to 26 weeks"), tr("Choose a later or nearer end")
        )
    out = list(rrule(WEEKLY, dtstart=first, interval=every, until=last))
    if len(out) > MOST_REPEATS:
        raise Refused(
            tr("{out} lessons are more than one row has ({most_repeats})", out=len(out), most_repeats=MOST_REPEATS),
            tr("Choose a nearer end"),
        )
    return out


def book_row(uow: UnitOfWork, asked: Asked, wall: datetime, every: int, until: date) -> Row:
    """A lesson every so many weeks. Those that have no place are not booked, and it is said why: holidays, clashes, a
    time that the clock skips. Raises ``Refused``, ``NotFound``."""
    rules, zone = _held(uow), clock_of(uow)
    _refuse_unfit(uow, asked, rules)
    booked: list[Lesson] = []
    left: list[NotBooked] = []
    series = uuid4()
    for at in weekly(wall, every, until):
        try:
            one = replace(asked, starts_at=instant_of(at, zone))
            _refuse_taken(uow, one, rules)
            booked.append(_add(uow, one, series))
        except (Clash, Outside) as error:
            left.append(NotBooked(at, error.words))
        except Refused as error:
            left.append(NotBooked(at, str(error)))
    return Row(booked, left)


@dataclass(frozen=True)
class Move:
    """Where a lesson goes; None: as it was."""

    starts_at: datetime | None = None
    minutes: int | None = None
    instructor_id: UUID | None = None
    bay: str | None = None
    sensor_set: str | None = None
    markers: bool | None = None
    anyway: bool = False
    changes: dict[str, object] = field(default_factory=dict)


def move(uow: UnitOfWork, lesson_id: UUID, to: Move) -> Lesson:
    """Another time, instructor, bay or sensor set. Raises ``NotFound``, ``Refused``, ``Clash``, ``Outside``."""
    rules = _held(uow)
    lesson = uow.hold(Lesson, lesson_id)
    if lesson.status != "planned":
        raise Refused(
            tr("a lesson that is {value} stays where it is", value=lesson.status.replace("_", " ")),
            tr("Book another one"),
        )
    asked = _as_asked(lesson, to)
    _refuse_unfit(uow, asked, rules)
    _refuse_taken(uow, asked, rules, but=lesson_id)
    lesson.instructor_id, lesson.bay = asked.instructor_id, bay_of(uow, asked.bay).name
    lesson.starts_at, lesson.ends_at = asked.span
    lesson.sensor_set, lesson.markers = asked.sensor_set, asked.markers
    uow.flush()
    return lesson


def _as_asked(lesson: Lesson, to: Move) -> Asked:
    minutes = round((lesson.ends_at - lesson.starts_at).total_seconds() / 60)
    return Asked(
        lesson.player_id,
        to.instructor_id or lesson.instructor_id,
        to.bay or lesson.bay,
        to.starts_at or lesson.starts_at,
        to.minutes or minutes,
        lesson.club,
        lesson.sensor_set if to.sensor_set is None else to.sensor_set,
        lesson.markers if to.markers is None else to.markers,
        to.anyway,
    )


def cancel(uow: UnitOfWork, lesson_id: UUID, reason: str) -> Lesson:
    """It does not take place; the place is free again. Raises ``NotFound``, ``Refused``."""
    return _end(uow, lesson_id, CANCELLED, reason)


def note_no_show(uow: UnitOfWork, lesson_id: UUID) -> Lesson:
    """The player did not come. Raises ``NotFound``, ``Refused``."""
    lesson = uow.get(Lesson, lesson_id)
    if lesson.starts_at > now():
        raise Refused(tr("the lesson has not begun"), tr("Cancel it, with the reason"))
    return _end(uow, lesson_id, NO_SHOW, "")


def _end(uow: UnitOfWork, lesson_id: UUID, status: str, reason: str) -> Lesson:
    _held(uow)
    lesson = uow.hold(Lesson, lesson_id)
    if lesson.status != "planned":
        raise Refused(
            tr("a lesson that is {value} cannot be taken out", value=lesson.status.replace("_", " ")),
            tr("End it in the lesson"),
        )
    lesson.status, lesson.cancel_reason = status, reason.strip()
    uow.flush()
    return lesson


def reinstate(uow: UnitOfWork, lesson_id: UUID) -> Lesson:
    """A lesson that was cancelled or not come to is planned again, where its place is still free. Raises ``NotFound``,
    ``Refused``, ``Clash``."""
    rules = _held(uow)
    lesson = uow.hold(Lesson, lesson_id)
    if lesson.status in STANDING:
        return lesson
    if lesson.status not in (CANCELLED, NO_SHOW):
        raise Refused(tr("the lesson took place"), tr("Reopen it in the lesson"))
    _refuse_taken(uow, _as_asked(lesson, Move(anyway=True)), rules, but=lesson_id)
    lesson.status, lesson.cancel_reason = "planned", ""
    uow.flush()
    return lesson
