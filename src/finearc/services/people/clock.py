"""The academy's own clock: its days, and what a time on the wall means, also where summer time begins and ends."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo, available_timezones

from finearc.services.errors import Refused
from finearc.services.ports import UnitOfWork
from finearc.services.records import now


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
            f"{wall:%H:%M} does not come on {wall:%d %B %Y}: the clock is put forward", f"Choose {after:%H:%M} or later"
        )
    return instant


@lru_cache(maxsize=1)
def zone_names() -> tuple[str, ...]:
    """Zones that can be chosen, by name (IANA)."""
    return tuple(sorted(z for z in available_timezones() if "/" in z or z == "UTC"))


def set_clock(uow: UnitOfWork, name: str) -> None:
    """Let the academy live by another zone; lessons stay at the instants they were booked for. Raises ``Refused``."""
    if name not in zone_names():
        raise Refused(f'there is no time zone "{name}"', "Choose one of the list, such as Europe/Lisbon")
    uow.academy().time_zone = name
    uow.flush()
