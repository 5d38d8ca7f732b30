"""Reading what somebody sends in a process of its own, with limits on memory, time and what comes out.

The limits keep one file from taking the machine; they are no sandbox against a reader that is taken over."""

from __future__ import annotations

import multiprocessing
import os
import pickle
import resource
import tempfile
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from finearc.core.errors import FineArcError

Answer = TypeVar("Answer")


@dataclass
class TooMuchWork(FineArcError):
    """A file took more than any session of its kind needs."""

    file: str
    what: str
    code = "too_much_work"

    def __str__(self) -> str:
        return f"{self.file}: reading it takes more {self.what} than is allowed. Split the session, or export it again."


@dataclass(frozen=True)
class Limits:
    """Of one reading. ``memory``: bytes beyond those that the empty process has; ``cpu_s`` and ``wall_s``: seconds;
    ``output``: bytes of what was read."""

    memory: int = 2_000_000_000
    cpu_s: int = 90
    wall_s: float = 180.0
    output: int = 2_000_000_000


class BoundedProcess:
    """Does a piece of reading in a fresh process, forked from this one, which has loaded the readers. Only for a worker
    process: one in which other threads run must not be forked."""

    def __init__(self, limits: Limits | None = None) -> None:
        self._limits = limits or Limits()
        self._context = multiprocessing.get_context("fork")

    def read(self, work: Callable[..., Answer], name: str, content: bytes, *more: Any) -> Answer:
        """``work(name, content, *more)`` in a process of its own. Raises what it raises, and ``TooMuchWork``."""
        with tempfile.TemporaryDirectory(prefix="finearc-read-") as folder:
            sent = Path(folder) / "sent"
            sent.write_bytes(content)
            said, says = self._context.Pipe(duplex=False)
            reader = self._context.Process(target=_read, args=(says, folder, self._limits, work, name, more))
            reader.start()
            says.close()
            try:
                answer: Answer = self._answer(said, Path(folder) / "read", name)
                return answer
            finally:
                said.close()
                reader.kill()
                reader.join()

    def _answer(self, said: Connection, read: Path, name: str) -> Any:
        if not said.poll(self._limits.wall_s):
            raise TooMuchWork(name, "time")
        try:
            kind, error = said.recv()
        except EOFError:  # it was ended: by the limit on its time, or because the machine's memory was full
            raise TooMuchWork(name, "time or memory") from None
        if kind == "error":
            raise error
        if kind != "read":
            raise TooMuchWork(name, kind)
        with read.open("rb") as file:
            return pickle.load(file)


def _read(
    says: Connection, folder: str, limits: Limits, work: Callable[..., Any], name: str, more: tuple[Any, ...]
) -> None:
    """In the process of its own."""
    _bound(limits)
    tempfile.tempdir = folder  # what it leaves behind when it is ended goes with its folder
    try:
        answer = work(name, (Path(folder) / "sent").read_bytes(), *more)
        with (Path(folder) / "read").open("wb") as file:
            pickle.dump(answer, file, protocol=5)
        told: tuple[str, Any] = ("read", None)
    except MemoryError:
        told = ("memory", None)
    except OSError as error:  # EFBIG: the file that it writes has reached its limit
        told = ("room", None) if error.errno == 27 else ("error", error)
    except Exception as error:
        told = ("error", error)
    with suppress(Exception):
        says.send(told)
    os._exit(0)


def _bound(limits: Limits) -> None:
    has = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (has + limits.memory, has + limits.memory))
    resource.setrlimit(resource.RLIMIT_CPU, (limits.cpu_s, limits.cpu_s + 5))
    resource.setrlimit(resource.RLIMIT_FSIZE, (limits.output, limits.output))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


class InThisProcess:
    """The same without limits: for tests of what is read."""

    def read(self, work: Callable[..., Answer], name: str, content: bytes, *more: Any) -> Answer:
        return work(name, content, *more)
