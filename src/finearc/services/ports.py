"""What the services need from the outside."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Protocol, TypeVar
from uuid import UUID

import numpy as np

Record = TypeVar("Record")
Columns = Mapping[str, np.ndarray[Any, np.dtype[Any]]]


class UnitOfWork(Protocol):
    """A unit of work bound to one academy: no query leaves it."""

    @property
    def academy_id(self) -> UUID: ...

    def get(self, kind: type[Record], key: UUID) -> Record:
        """The record, or ``NotFound``."""
        ...

    def find(self, kind: type[Record], *, order: str = "", **equals: Any) -> list[Record]:
        """Records whose fields equal the given values, in order of a field (``-field`` descending)."""
        ...

    def add(self, record: object) -> None: ...

    def remove(self, record: object) -> None: ...

    def flush(self) -> None: ...

    def commit(self) -> None: ...

    def lock_academy(self) -> None:
        """Hold other writers of this academy off until the end of the unit."""
        ...


class ColumnCodec(Protocol):
    """Compresses named columns into bytes and back, without loss."""

    def pack(self, columns: Columns) -> bytes: ...

    def unpack(self, content: bytes) -> Columns: ...


class PageMaker(Protocol):
    """Makes the one page that goes home."""

    def html(self, page: Mapping[str, Any]) -> str: ...

    def pdf(self, page: Mapping[str, Any]) -> bytes: ...


class Hasher(Protocol):
    """Password hashes."""

    def hash(self, password: str) -> str: ...

    def verify(self, password: str, hashed: str) -> bool: ...


def one(items: Sequence[Record]) -> Record | None:
    """The only item, or None."""
    return items[0] if items else None
