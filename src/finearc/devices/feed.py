"""What a bay shows as it happens, to every screen that watches: the newest values, never a queue of them; a screen that
is slow misses some and keeps nobody waiting."""

from __future__ import annotations

import asyncio
import threading
from collections import deque
from collections.abc import Iterator, Mapping
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.wording import tr

Message = dict[str, Any]
MOST_EVENTS = 50
"""What must not be missed (repetitions) waits for a slow screen, so many at most."""
MOST_SCREENS = 20
"""Of one bay (house value)."""


class TooManyScreens(FineArcError):
    """A bay is watched by as many screens as may."""

    code = "screens"

    def __str__(self) -> str:
        return tr("{most_screens} screens follow this bay already. Close one of them.", most_screens=MOST_SCREENS)


class Screen:
    """One that watches, on its own event loop."""

    def __init__(self) -> None:
        self._loop = asyncio.get_running_loop()
        self._lock = threading.Lock()
        self._newest: Message = {}
        self._events: deque[Message] = deque(maxlen=MOST_EVENTS)
        self._more = asyncio.Event()
        self._woken = False

    def show(self, now: Message, events: tuple[Message, ...] = ()) -> None:
        """From any thread. Of what is shown ``now`` the newest counts, key by key, values measure by measure."""
        with self._lock:
            self._newest = _joined(self._newest, now)
            self._events.extend(events)
            woken, self._woken = self._woken, True
        if not woken:
            with suppress(RuntimeError):  # the loop is closed: nobody watches any more
                self._loop.call_soon_threadsafe(self._more.set)

    async def next(self, patience_s: float) -> list[Message]:
        """What is new. Raises ``TimeoutError`` when nothing comes for a while."""
        await asyncio.wait_for(self._more.wait(), patience_s)
        self._more.clear()
        with self._lock:
            now, events = self._newest, list(self._events)
            self._newest, self._woken = {}, False
            self._events.clear()
        return [*events, *([{"type": "now", **now}] if now else [])]


def _joined(old: Message, new: Message) -> Message:
    """Newer over older; of maps within, entry by entry."""
    maps = {k: {**old[k], **v} for k, v in new.items() if isinstance(v, Mapping) and isinstance(old.get(k), Mapping)}
    return {**old, **new, **maps}


@dataclass
class Feed:
    """One bay's. ``lesson_id``: what runs there now; ``standing``: what a screen that comes later is told first."""

    lesson_id: UUID | None = None
    standing: Message = field(default_factory=dict)
    screens: list[Screen] = field(default_factory=list)

    def show(self, now: Message, *events: Message) -> None:
        """Tell every screen."""
        for screen in tuple(self.screens):
            screen.show(now, events)

    def stand(self, **told: Any) -> None:
        """Tell what holds until it is told otherwise."""
        self.standing = {**self.standing, **told}
        self.show(told)


class Feeds:
    """Every bay's."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._by_bay: dict[UUID, Feed] = {}

    def of(self, bay_id: UUID) -> Feed:
        """A bay's."""
        with self._lock:
            return self._by_bay.setdefault(bay_id, Feed())

    @contextmanager
    def watching(self, bay_id: UUID) -> Iterator[tuple[Feed, Screen]]:
        """A screen on the running event loop, which is told what stands first. Raises ``TooManyScreens``."""
        feed, mine = self.of(bay_id), Screen()
        if len(feed.screens) >= MOST_SCREENS:
            raise TooManyScreens
        mine.show(feed.standing)
        feed.screens.append(mine)
        try:
            yield feed, mine
        finally:
            feed.screens.remove(mine)
