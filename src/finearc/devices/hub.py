"""Passes what happens in a lesson to the screens that watch it."""

from __future__ import annotations

import asyncio
import threading
from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager, suppress
from typing import Any
from uuid import UUID

Message = dict[str, Any]
Relay = Callable[[str, str, Any], None]
"""Passes on to other processes what is told: kind, what it is about, and the message."""


class Watcher:
    """One screen's messages, handed over to its event loop as they come: nobody asks for them in a circle."""

    def __init__(self, session: str = "") -> None:
        self.session = session
        self._loop = asyncio.get_running_loop()
        self._messages: asyncio.Queue[Message | None] = asyncio.Queue()

    def put(self, message: Message | None) -> None:
        """From any thread; None ends the watching."""
        with suppress(RuntimeError):  # the loop is closed already: nobody watches any more
            self._loop.call_soon_threadsafe(self._messages.put_nowait, message)

    async def next(self, patience_s: float) -> Message | None:
        """The next message, or None at the end. Raises ``TimeoutError`` when none comes for a while."""
        return await asyncio.wait_for(self._messages.get(), patience_s)


class LiveHub:
    """Each lesson's messages go to every watcher; the newest state is told to whoever comes later."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._watchers: dict[UUID, list[Watcher]] = {}
        self._state: dict[UUID, Message] = {}
        self.relay: Relay | None = None

    def publish(self, lesson_id: UUID, message: Message) -> None:
        """Tell all watchers of a lesson."""
        with self._lock:
            self._state[lesson_id] = message
            for watcher in self._watchers.get(lesson_id, []):
                watcher.put(message)
        if self.relay is not None:
            self.relay("lesson", str(lesson_id), message)

    def states(self) -> list[tuple[UUID, Message]]:
        """The newest message of every lesson."""
        with self._lock:
            return list(self._state.items())

    def end(self) -> None:
        """Tell all watchers that nothing more comes."""
        with self._lock:
            for watcher in (w for several in self._watchers.values() for w in several):
                watcher.put(None)

    def end_sessions(self, hashes: Collection[str]) -> None:
        """Tell the watchers of sessions that have ended that nothing more comes."""
        with self._lock:
            for watcher in (w for several in self._watchers.values() for w in several):
                if watcher.session in hashes:
                    watcher.put(None)
        if self.relay is not None:
            self.relay("sessions", "", list(hashes))

    @contextmanager
    def watching(self, lesson_id: UUID, session: str = "") -> Iterator[Watcher]:
        """A watcher of a ``session`` on the running event loop, which is told the current state first."""
        mine = Watcher(session)
        with self._lock:
            self._watchers.setdefault(lesson_id, []).append(mine)
            if lesson_id in self._state:
                mine.put(self._state[lesson_id])
        try:
            yield mine
        finally:
            with self._lock:
                self._watchers[lesson_id].remove(mine)
                if not self._watchers[lesson_id]:
                    del self._watchers[lesson_id]
