"""Times an instructor is busy, from a calendar file; and the private link with which a calendar follows the diary."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from finearc.core.diary.spans import Span, joined
from finearc.services.diary.records import BusyCalendar, CalendarFeed
from finearc.services.errors import Refused
from finearc.services.people.tokens import hash_token
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Lesson, Player, now
from finearc.wording import tr

MOST_CALENDARS, MOST_FEEDS = 10, 5
AHEAD = timedelta(days=400)
"""A rule without an end is followed so far (house value); a later file goes on from there."""
BEHIND = timedelta(days=1)
FED_BEHIND, FED_AHEAD = timedelta(days=60), timedelta(days=400)
"""What a feed shows (house values)."""


@dataclass(frozen=True)
class BusyRead:
    """What a calendar file says: when somebody is busy until ``until``, and what was left out, in words."""

    spans: Sequence[Span]
    until: datetime
    remarks: Sequence[str]


def horizon() -> Span:
    """From when until when a calendar file is followed."""
    return Span(now() - BEHIND, now() + AHEAD)


def keep_busy(uow: UnitOfWork, instructor_id: UUID, name: str, read: BusyRead) -> BusyCalendar:
    """The times of a file; a second file of the same name takes the place of the first. Raises ``NotFound``,
    ``Refused``."""
    uow.hold(Instructor, instructor_id)
    name = " ".join(name.split())[:200] or tr("Calendar")
    for old in uow.find(BusyCalendar, instructor_id=instructor_id, name=name):
        uow.remove(old)
    if len(uow.find(BusyCalendar, instructor_id=instructor_id)) >= MOST_CALENDARS:
        raise Refused(
            tr("{most_calendars} calendars are kept of one instructor", most_calendars=MOST_CALENDARS),
            tr("Take out one that is not used"),
        )
    spans = [[s.begins.isoformat(), s.ends.isoformat()] for s in joined(read.spans)]
    made = BusyCalendar(uow.academy_id, instructor_id, name, spans, read.until, list(read.remarks))
    uow.add(made)
    return made


def make_feed(uow: UnitOfWork, instructor_id: UUID) -> tuple[str, CalendarFeed]:
    """A token that opens an instructor's lessons as a calendar: shown this once, kept as a hash. Raises ``NotFound``,
    ``Refused``."""
    uow.get(Instructor, instructor_id)
    if len(uow.find(CalendarFeed, instructor_id=instructor_id)) >= MOST_FEEDS:
        raise Refused(
            tr("{most_feeds} calendars follow this instructor already", most_feeds=MOST_FEEDS),
            tr("Take one back first"),
        )
    token = secrets.token_urlsafe(32)
    feed = CalendarFeed(uow.academy_id, instructor_id, hash_token(token))
    uow.add(feed)
    return token, feed


@dataclass(frozen=True)
class Fed:
    """A lesson as a feed has it: nothing of limits, pain or notes."""

    lesson: Lesson
    player: str


def fed_lessons(uow: UnitOfWork, instructor_id: UUID) -> list[Fed]:
    """An instructor's lessons around now, those that were cancelled among them, so that calendars take them out."""
    lessons = uow.find(
        Lesson,
        instructor_id=instructor_id,
        starts_at__from=now() - FED_BEHIND,
        starts_at__until=now() + FED_AHEAD,
        order="starts_at",
    )
    players = {p.id: p.name for p in uow.find(Player, id=list({x.player_id for x in lessons}))}
    return [Fed(x, players.get(x.player_id, "") or "Walk-in") for x in lessons]
