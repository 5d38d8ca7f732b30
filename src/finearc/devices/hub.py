"""Passes what happens in a lesson to the screens that watch it."""

from __future__ import annotations

import queue
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any
from uuid import UUID

Message = dict[str, Any]


class LiveHub:
    """Each lesson's messages go to every watcher; the newest state is told to whoever comes later."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._watchers: dict[UUID, list[queue.Queue[Message]]] = {}
        self._state: dict[UUID, Message] = {}

    def publish(self, lesson_id: UUID, message: Message) -> None:
        """Tell all watchers of a lesson."""
        with self._lock:
            self._state[lesson_id] = message
            for watcher in self._watchers.get(lesson_id, []):
                watcher.put(message)

    @contextmanager
    def watching(self, lesson_id: UUID) -> Iterator[queue.Queue[Message]]:
        """A queue of messages, the current state first."""
        mine: queue.Queue[Message] = queue.Queue()
        with self._lock:
            self._watchers.setdefault(lesson_id, []).append(mine)
            if lesson_id in self._state:
                mine.put(self._state[lesson_id])
        try:
            yield mine
        finally:
            with self._lock:
                self._watchers[lesson_id].remove(mine)
