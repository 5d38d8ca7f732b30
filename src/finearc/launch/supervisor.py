"""Keeps database and application alive: one that dies is started again; what was erased is overwritten. It does no
other work, so that nothing but a signal ends it."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from types import FrameType
from typing import Any

from finearc.core.errors import FineArcError
from finearc.launch.mariadb import MariaDb

LOOK_EVERY_S = 0.3
FEW_ARENAS = {"MALLOC_ARENA_MAX": "2"}
"""Else each of forty threads keeps memory of its own that it has long freed (glibc, mallopt(3); from memory)."""
GO = b"go\n"
"""What a spare process waits for."""
SPARE_AFTER_S = 2.5
SPARES = 2
"""Where one dies soon after another, loading one would take longer than anybody should wait."""
PAUSES_S = (0.1, 0.5, 2.0, 5.0)
"""Before the first, second … start of something that keeps dying."""
STEADY_S = 4.0
STOPPING_S = 12.0
SCRUB = "scrub-wanted"
"""Name of a file in the data folder: whoever erases makes it."""


@dataclass
class Kept:
    """One process that is started again when it ends by itself. Without one that is ``needed`` nothing goes on when it
    says that it cannot start; another is then left alone."""

    name: str
    command: Sequence[str]
    handed: Sequence[int] = ()
    needed: bool = True
    process: subprocess.Popen[bytes] | None = None
    spares: list[subprocess.Popen[bytes]] = field(default_factory=list)
    died: int = 0
    started_s: float = 0.0
    _begun_s: float = 0.0

    def start(self) -> None:
        """Begin the process; where a spare one stands ready, with everything loaded, it takes its place at once."""
        alive = [s for s in self.spares if s.poll() is None and s.stdin is not None]
        self.process = alive[0] if alive else self._begin()
        self.spares = alive[1:]
        if alive and self.process.stdin is not None:
            self.process.stdin.write(GO)
            self.process.stdin.close()
        self.started_s = self._begun_s = time.monotonic()

    def _begin(self, *more: str, **options: Any) -> subprocess.Popen[bytes]:
        # a session of its own: Ctrl-C in the terminal reaches the supervisor alone
        again = ["--again"] if self.died else []
        return subprocess.Popen(
            [*self.command, *again, *more],
            start_new_session=True,
            pass_fds=self.handed,
            env={**FEW_ARENAS, **os.environ},
            **options,
        )

    def keep_spare(self) -> None:
        """Have others load everything and wait, one after the other, once the first has settled."""
        if len(self.spares) < SPARES and time.monotonic() - self._begun_s > SPARE_AFTER_S:
            self.spares.append(self._begin("--spare", "--again", stdin=subprocess.PIPE))
            self._begun_s = time.monotonic()

    @property
    def ended(self) -> bool:
        return self.process is not None and self.process.poll() is not None

    def start_again(self) -> None:
        """After a pause that grows while it keeps dying."""
        steady = time.monotonic() - self.started_s > STEADY_S
        self.died = 1 if steady else self.died + 1
        time.sleep(PAUSES_S[min(self.died, len(PAUSES_S)) - 1])
        self.start()

    def stop(self) -> None:
        for spare in self.spares:
            spare.kill()
            spare.wait()
        if self.process is None or self.process.poll() is not None:
            return
        self.process.terminate()
        try:
            self.process.wait(STOPPING_S)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


@dataclass
class Supervisor:
    """``processes``: what runs on the database, in the order in which it starts."""

    database: MariaDb
    processes: Sequence[Kept]
    say: Callable[[str], None]
    stopping: threading.Event = field(default_factory=threading.Event)

    def run(self) -> int:
        """Start everything and keep it alive until a signal; stop everything. The exit code."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, self._stop)
        try:
            self.say("Starting MariaDB on loopback …")
            for process in self.processes:
                process.start()  # it loads what it needs meanwhile
            self.database.start()
            while not self.stopping.wait(LOOK_EVERY_S):
                code = self._look()
                if code is not None:
                    return code
            return 0
        finally:
            self.say("Stopping …")
            for process in reversed(self.processes):
                process.stop()
            self.database.stop()

    def _stop(self, _: int, __: FrameType | None) -> None:
        self.stopping.set()

    def _look(self) -> int | None:
        """One look at everything; an exit code where it makes no sense to go on."""
        if not self.database.alive:
            self.say("The database has ended; starting it again …")
            self._database_again()
        for process in self.processes:
            if process.ended and process.process is not None:
                if process.process.returncode in (0, REFUSED):
                    if process.needed:
                        return process.process.returncode
                    continue
                self.say(f"{process.name} has ended ({process.process.returncode}); starting it again …")
                process.start_again()
            if process.needed:
                process.keep_spare()
        wanted = self.database.folder / SCRUB
        if wanted.exists():
            wanted.unlink(missing_ok=True)
            threading.Thread(target=self._scrub, name="scrub").start()
        return None

    def _database_again(self) -> None:
        try:
            self.database.start()
        except FineArcError as error:
            self.say(str(error))
            self.stopping.wait(PAUSES_S[-1])

    def _scrub(self) -> None:
        try:
            self.database.scrub()
        except (FineArcError, OSError, ValueError, IndexError) as error:
            self.say(f"{error}")
            (self.database.folder / SCRUB).touch()
            self.stopping.wait(PAUSES_S[-1])


REFUSED = 2
"""Exit code of a process that says itself why it cannot start: starting it again would not help."""


def listening(host: str, port: int) -> socket.socket:
    """The application's port, opened before its processes are, which share it. Raises ``OSError``."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    opened = socket.socket(family, socket.SOCK_STREAM)
    try:
        opened.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        opened.bind((host, port))
        opened.listen(512)
        opened.set_inheritable(True)
    except OSError:
        opened.close()
        raise
    return opened


def python(module: str, *args: str) -> list[str]:
    """A command that runs a module in this Python."""
    return [sys.executable, "-m", module, *args]


def end_with_parent() -> None:
    """This process is told to end when the one that started it is gone, however that ended (Linux)."""
    import ctypes

    set_parent_death_signal = 1
    ctypes.CDLL(None).prctl(set_parent_death_signal, signal.SIGTERM)
    if os.getppid() == 1:  # it was gone already
        raise SystemExit(0)


def touch(path: Path) -> None:
    """Make an empty file, so that it is seen after a crash too."""
    path.touch()
