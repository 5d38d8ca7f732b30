"""How work says where it is, and is told to stop."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass

from finearc.core.errors import FineArcError
from finearc.services.capture.prepared import Entry
from finearc.wording import tr


@dataclass
class Cancelled(FineArcError):
    """Somebody stopped the work."""

    code = "cancelled"

    def __str__(self) -> str:
        return tr("Stopped. Nothing of it was kept.")


class Progress(ABC):
    """``prepared``: recordings that were just read, for whoever waits."""

    prepared: list[Entry]

    @abstractmethod
    def tell(self, done: int, total: int, step: str) -> None:
        """Say that ``done`` of ``total`` is behind, and what comes now. Raises ``Cancelled`` when it is to stop."""
