"""How something is said to whoever reads it: language, lengths, distances, the clock."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, replace
from typing import Literal, get_args

Language = Literal["en", "es"]
Lengths = Literal["cm", "in"]
Distances = Literal["m", "ft"]
Clock = Literal["24", "12"]

LANGUAGES: tuple[Language, ...] = get_args(Language)


@dataclass(frozen=True)
class Manner:
    """``lengths``: of bodies and clubs; ``distances``: of putts and greens; ``clock``: hours to 24, or twice to 12."""

    language: Language = "en"
    lengths: Lengths = "cm"
    distances: Distances = "m"
    clock: Clock = "24"

    def with_own(self, language: str, lengths: str, distances: str, clock: str) -> Manner:
        """With the choices of somebody's own over these; an empty one chooses nothing."""
        own = {"language": language, "lengths": lengths, "distances": distances, "clock": clock}
        return replace(self, **{k: v for k, v in own.items() if v})  # type: ignore[arg-type]

    def written(self) -> str:
        """As one word: ``es-in-ft-12``."""
        return "-".join((self.language, self.lengths, self.distances, self.clock))

    @classmethod
    def read(cls, text: str) -> Manner | None:
        """What ``written`` wrote; None of anything else."""
        kinds = (Language, Lengths, Distances, Clock)
        parts = text.split("-")
        if len(parts) != len(kinds) or any(p not in get_args(kind) for p, kind in zip(parts, kinds, strict=True)):
            return None
        return cls(*parts)  # type: ignore[arg-type]


PLAIN = Manner()
"""What is kept is said like this, and said again in the reader's manner when it is shown."""
_now: ContextVar[Manner | None] = ContextVar("manner", default=None)


def manner() -> Manner:
    """How this thread or task speaks."""
    return _now.get() or PLAIN


def is_told() -> bool:
    """Whether anybody said how; nobody did where something works for itself."""
    return _now.get() is not None


@contextmanager
def spoken(how: Manner) -> Iterator[None]:
    """What is said within is said like that."""
    token = _now.set(how)
    try:
        yield
    finally:
        _now.reset(token)
