"""The academy's own clock: its days, and what a time on the wall means, also where summer time begins and ends."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from uuid import UUID
from zoneinfo import ZoneInfo, available_timezones

from finearc.services.errors import Refused
from finearc.services.ports import UnitOfWork
from finearc.services.records import Academy, Lesson, Player, now
from finearc.wording import Manner, day_words, spoken, time_words, tr


def clock_of(uow: UnitOfWork) -> ZoneInfo:
    """The zone that the academy lives by."""
    return ZoneInfo(uow.academy().time_zone)


def today(zone: ZoneInfo) -> date:
    """The present day there."""
    return now().astimezone(zone).date()


def day_span(day: date, zone: ZoneInfo) -> tuple[datetime, datetime]:
    """A day's beginning and end there, in UTC: 23 or 25 hours apart where the clock is changed."""
    begins, ends = (datetime.combine(d, time.min, zone).astimezone(UTC) for d in (day, day + timedelta(days=1)))
    return begins, ends


def instant_of(wall: datetime, zone: ZoneInfo) -> datetime:
    """The instant at which the clock on the wall shows ``wall``; a time with a zone of its own is taken as it is. Of a
    time that comes twice the first is meant. Raises ``Refused`` for one that the clock skips."""
    if wall.tzinfo is not None:
        return wall
    there = wall.replace(tzinfo=zone)
    instant = there.astimezone(UTC)
    if instant.astimezone(zone).replace(tzinfo=None) != wall:
        after = instant.astimezone(zone)
        raise Refused(
            tr(
                "{time} does not come on {day}: the clock is put forward",
                time=time_words(wall),
                day=day_words(wall, "full"),
            ),
            tr("Choose {time} or later", time=time_words(after)),
        )
    return instant


def manner_of(academy: Academy, player: Player | None = None) -> Manner:
    """How the academy speaks; to a player with what is chosen for that one."""
    spoken = Manner(academy.language, academy.lengths, academy.distances, academy.clock)  # type: ignore[arg-type]
    if player is None:
        return spoken
    return spoken.with_own(player.language, player.lengths, player.distances, player.clock)


@contextmanager
def said_to(uow: UnitOfWork, lesson_id: UUID) -> Iterator[None]:
    """What is said within goes home to a lesson's player. Raises ``NotFound``."""
    player = uow.get(Player, uow.get(Lesson, lesson_id).player_id)
    with spoken(manner_of(uow.academy(), player)):
        yield


def set_manner(uow: UnitOfWork, chosen: Mapping[str, str]) -> None:
    """Let the academy's screens speak like that: ``language``, ``lengths``, ``distances``, ``clock``."""
    academy = uow.academy()
    for name, value in chosen.items():
        setattr(academy, name, value)
    uow.flush()


@lru_cache(maxsize=1)
def zone_names() -> tuple[str, ...]:
    """Zones that can be chosen, by name (IANA)."""
    return tuple(sorted(z for z in available_timezones() if "/" in z or z == "UTC"))


def set_clock(uow: UnitOfWork, name: str) -> None:
    """Let the academy live by another zone; lessons stay at the instants they were booked for. Raises ``Refused``."""
    if name not in zone_names():
        raise Refused(
            tr('there is no time zone "{name}"', name=name), tr("Choose one of the list, such as Europe/Lisbon")
        )
    uow.academy().time_zone = name
    uow.flush()
