"""A backup every night by the machine's own clock, soon where the last one is older than a day, and again within the
hour where one came to nothing."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import datetime, time, timedelta

from finearc.keeping.errors import BackupTrouble

OVERDUE = timedelta(hours=26)
"""A night, and some hours in which it may have run late (house value)."""
AFTER_START, AFTER_TROUBLE = timedelta(minutes=2), timedelta(hours=1)


def hour_of(told: str) -> time:
    """A time of day written as 03:00. Raises ``BackupTrouble``."""
    found = re.fullmatch(r"([01]?\d|2[0-3]):([0-5]\d)", told.strip())
    if found is None:
        raise BackupTrouble(f'"{told}" is no time of day', "Write it as 03:00")
    return time(int(found.group(1)), int(found.group(2)))


def next_due(last: datetime | None, at: time, now: datetime) -> datetime:
    """When the next backup is due. ``last``: when one was made; ``now``: by the machine's clock; both aware. A clock
    that jumped ahead or back moves it by a day at most."""
    if last is None or not timedelta() <= now - last < OVERDUE:
        return now + AFTER_START
    today = now.replace(hour=at.hour, minute=at.minute, second=0, microsecond=0)
    return today if today > now else today + timedelta(days=1)


def every_night(
    once: Callable[[], bool],
    last: Callable[[], datetime | None],
    at: time,
    clock: Callable[[], datetime],
    wait: Callable[[float], bool],
) -> None:
    """Back up ``once`` whenever it is due, until ``wait`` says that it is over. ``once`` says whether it worked."""
    due = next_due(last(), at, clock())
    while not wait(max(0.0, (due - clock()).total_seconds())):
        worked = once()
        due = next_due(last(), at, clock()) if worked else clock() + AFTER_TROUBLE
