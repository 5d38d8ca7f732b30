"""All bays of a process: opened when the first device comes, closed with the process."""

from __future__ import annotations

import asyncio
import shutil
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any, TypeVar
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.devices.link.bay import Bay
from finearc.devices.link.handed import HandedLogs
from finearc.devices.link.messages import Close, LinkRefused
from finearc.devices.link.owner import TokenOwner as TokenOwner
from finearc.devices.link.server_clock import ServerClock
from finearc.devices.link.told import told_of
from finearc.wording import mark, tr

TIDY_EVERY_S = 10.0
OLD_S = 86_400.0
"""House value."""
PATIENCE_S = 10.0
Answer = TypeVar("Answer")
REVOKED = mark("This token was revoked. Make a new one on the bay's screen.")


class BaysBusy(FineArcError):
    """The bays' thread does not come to what is asked."""

    code = "busy"
    wait_s = 2

    def __str__(self) -> str:
        return tr("The devices keep the application busy. Wait a moment and try again; nothing was lost.")


class Bays:
    """``folder``: where the journals are; ``sync`` False for tests that do not kill. To be used in one event loop."""

    def __init__(self, folder: Path, clock: ServerClock, *, sync: bool = True) -> None:
        self.clock = clock
        self._folder, self._sync = folder, sync
        self._open: dict[UUID, Bay] = {}
        self._tokens: dict[tuple[UUID, str], UUID] = {}
        self._loop: asyncio.AbstractEventLoop | None = None
        self._tidying: asyncio.Task[None] | None = None
        self.logs: HandedLogs | None = None
        self.opened: list[Callable[[Bay, UUID], None]] = []

    def open(self, owner: TokenOwner) -> Bay:
        """The bay that a token is of. Call it in the event loop."""
        self.begin()
        bay = self._open.get(owner.bay_id)
        if bay is None:
            folder = self._folder / str(owner.bay_id)
            bay = self._open[owner.bay_id] = Bay(
                owner.bay_id, owner.bay, folder, self.clock, self.soon, sync=self._sync
            )
            for hear in self.opened:
                hear(bay, owner.academy_id)
        return bay

    def begin(self, *, anew: bool = False) -> None:
        """Work in the running event loop from now on, unless it does in another; ``anew``: also then. All sockets of
        devices are served in this one loop."""
        if anew or self._loop is None or self._loop.is_closed():
            if self._loop is not None and self._tidying is not None and not self._loop.is_closed():
                self._loop.call_soon_threadsafe(self._tidying.cancel)
            self._loop = asyncio.get_running_loop()
            self._tidying = self._loop.create_task(self._tidy())

    def call(self, work: Callable[[], Answer]) -> Answer:
        """The answer to something that is done in the bays' thread; to be asked from any other."""
        assert self._loop is not None, "the bays begin with the application"

        async def once() -> Answer:
            return work()

        try:
            return asyncio.run_coroutine_threadsafe(once(), self._loop).result(PATIENCE_S)
        except TimeoutError:
            raise BaysBusy from None

    def came_with(self, bay: Bay, device_id: str, token_id: UUID) -> None:
        """Remember with which token a device came."""
        self._tokens[bay.id, device_id] = token_id

    def told(self, bay_id: UUID) -> dict[str, Any] | None:
        """What screens are told of a bay, None before a device has come; to be asked from any other thread."""
        bay = self._open.get(bay_id)
        return None if bay is None else self.call(lambda: told_of(bay))

    def revoke(self, token_id: UUID) -> None:
        """End the connections that came with a token; from any thread."""
        if self._loop is not None:
            self._loop.call_soon_threadsafe(self._revoke, token_id)

    def _revoke(self, token_id: UUID) -> None:
        if self.logs is not None:
            self.logs.revoke(token_id, LinkRefused(Close.TOKEN, tr(REVOKED)))
        for (bay_id, device_id), with_token in list(self._tokens.items()):
            device = self._open[bay_id].devices.get(device_id)
            if with_token == token_id and device is not None and device.outlet is not None:
                device.outlet.close(LinkRefused(Close.TOKEN, tr(REVOKED)))

    def soon(self, call: Callable[..., None], *args: object) -> None:
        assert self._loop is not None
        with suppress(RuntimeError):  # the loop is closed: nobody is there to be told
            self._loop.call_soon_threadsafe(call, *args)

    def later(self, after_s: float, call: Callable[[], None]) -> None:
        """Have a call made in the bays' thread after a while; to be asked there."""
        assert self._loop is not None
        self._loop.call_later(after_s, call)

    async def _tidy(self) -> None:
        while True:
            await asyncio.sleep(TIDY_EVERY_S)
            for bay in list(self._open.values()):
                bay.let_go()
            self.let_go_of_old()

    def let_go_of_old(self) -> None:
        """Raw samples of people do not lie about: journals of bays that nobody has come to since, or that could not be
        read, go after a day."""
        before = time.time() - OLD_S
        used = {str(bay_id) for bay_id in self._open}
        for folder in self._folder.iterdir() if self._folder.exists() else ():
            files = list(folder.glob("*")) if folder.is_dir() and folder.name not in used else []
            if files and all(f.stat().st_mtime < before for f in files):
                shutil.rmtree(folder, ignore_errors=True)

    def close(self) -> None:
        """Write what waits, at the end of the process."""
        if self._tidying is not None:
            self._tidying.cancel()
        for bay in self._open.values():
            bay.close()
        if self.logs is not None:
            self.logs.close()
