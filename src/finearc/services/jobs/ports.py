"""What jobs need from the outside."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from concurrent.futures import Future
from contextlib import AbstractContextManager
from dataclasses import dataclass, field
from typing import Any, NamedTuple, Protocol, TypeVar
from uuid import UUID

from finearc.services.capture.prepared import Entry
from finearc.services.course.round_reading import RoundData
from finearc.services.judging.analysis import CaptureData
from finearc.services.people.bringing import Brought
from finearc.services.ports import Bounded, RawCodec, UnitOfWork

OpenUnit = Callable[[UUID], AbstractContextManager[UnitOfWork]]
Asked = TypeVar("Asked")
Answer = TypeVar("Answer")


class PlayerRead(NamedTuple):
    """What reading a capture asks of its player."""

    handedness: str
    height_m: float | None
    population: str


Reader = Callable[[str, bytes, Mapping[str, Any], PlayerRead], CaptureData]
"""A file's name and content, what the instructor chose for it and the player, as a capture."""


@dataclass(frozen=True)
class Tools:
    """What work is done with; ``readers`` by the name an import gives. ``render``: a page's content as PDF;
    ``archive``: what reads an export, by its name, its content and the codec of its raw columns; ``rounds``: a round,
    by its name and content."""

    open: OpenUnit
    codec: RawCodec
    readers: Mapping[str, Reader]
    render: Callable[[Mapping[str, Any]], bytes]
    bounded: Bounded
    archive: Callable[[str, bytes, RawCodec], Brought]
    rounds: Callable[[str, bytes], RoundData]


@dataclass(frozen=True)
class Ended:
    """How a job ended, as its worker says it. ``prepared``: a recording it has just read, so that whoever waited need
    not read it again."""

    state: str
    answer: Mapping[str, Any] | None = None
    code: str = ""
    message: str = ""
    prepared: list[Entry] = field(default_factory=list)


class Pool(Protocol):
    """Workers outside the web process. They take work in the order it comes."""

    def run(self, academy_id: UUID, job_id: UUID) -> Future[Ended]:
        """Do a job that is written down."""
        ...

    def ask(self, question: Callable[[Tools, UUID, Asked], Answer], academy_id: UUID, asked: Asked) -> Future[Answer]:
        """Answer a question that is harmless when it is asked again; it and what goes in and out can be sent to
        another process."""
        ...

    def warm(self) -> None:
        """Get ready before somebody waits."""
        ...

    def close(self) -> None: ...
