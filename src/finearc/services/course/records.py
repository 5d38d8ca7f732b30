"""What is kept of a round. The store maps these to tables."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from uuid import UUID, uuid4

from finearc.services.records import now


@dataclass(eq=False)
class Round:
    """A round that a player's clips logged: ``document`` is what was found in it (``services.course.document``),
    ``name`` that of the file. ``aside``: it was removed, and can be brought back for a day from ``aside_at`` on."""

    academy_id: UUID
    player_id: UUID
    played_at: datetime
    name: str
    document: str
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    aside: bool = False
    aside_at: datetime | None = None
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class RoundLog:
    """One club's raw log of a round, as columns."""

    academy_id: UUID
    round_id: UUID
    club: str
    columns: bytes
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class RoundCorrection:
    """What a person says that a motion of a round (its ``number`` in the document) was; what was found stays beside
    it."""

    academy_id: UUID
    round_id: UUID
    number: int
    kind: str
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class OwnRange:
    """A player's own range with a club, from good swings in the bay: the middle and the middle 80 % of ``n``, SI. Kept
    when a round is brought, so that what the round is laid over does not change with every lesson after it."""

    academy_id: UUID
    player_id: UUID
    club: str
    metric: str
    moment: str
    low: float
    middle: float
    high: float
    n: int
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)
