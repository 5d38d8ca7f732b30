"""A player's rounds: what the clips logged, and how the course compares."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel

from finearc.api.models.base import In
from finearc.services.course.round_result import ComparedResult

MotionKindName = Literal["shot", "practice", "putt", "other"]


class RoundBrief(BaseModel):
    """A round in a list, with how many of each kind were found."""

    id: UUID
    played_at: datetime
    name: str
    shots: int
    practice: int
    putts: int
    other: int


class MotionOut(BaseModel):
    """One motion of a club, numbered as in the round. ``found``: what it was taken for and how sure, 0 to 1; ``kind``:
    that, or what a person said. Seconds on the clips' clock, ``at`` by the day's; degrees; None of what nobody swung.
    ``length_deg``: shaft elevation at the top, + short of level; ``sides``: of a shot, whether it is on the second side
    of each comparison (late, under pressure, after a bad result), as far as that is known; ``since_practice_s``: how
    long before a shot the last practice swing was."""

    number: int
    club: str
    at: datetime
    kind: MotionKindName
    found: MotionKindName
    confidence: float
    stroke: Literal["full", "pitch", "chip", "putt"] | None
    struck: bool
    length_deg: float | None
    uncertainty_deg: float | None
    swept_deg: float | None
    back_s: float | None
    down_s: float | None
    tempo: float | None
    peak_deg_s: float | None
    smoothness: float | None
    since_practice_s: float | None
    hole: int | None
    pressure: int | None
    result: str
    sides: dict[str, bool]


class OwnBandOut(BaseModel):
    """The player's own middle 80 % of ``n`` full swings with a club in the bay, deg, + short of level: a range of kind
    *own*. ``kept_at``: when it was kept, with the latest round that was brought."""

    club: str
    low_deg: float
    middle_deg: float
    high_deg: float
    n: int
    kept_at: datetime | None


class LengthenOut(BaseModel):
    """What tends to make a backswing longer or shorter, and what to mind."""

    way: Literal["longer", "shorter"]
    what: str
    caution: str


class RoundOut(BaseModel):
    """One round."""

    brief: RoundBrief
    player_id: UUID
    player_name: str
    handedness: Literal["right", "left"]
    motions: list[MotionOut]
    compared: list[ComparedResult]
    bands: list[OwnBandOut]
    ways: list[LengthenOut]
    notes: list[str]


class MotionPatch(In):
    """What a motion was; null takes back what was said."""

    kind: MotionKindName | None


class HandedOut(BaseModel):
    """A log that clips have handed over in a bay, and that is nobody's yet."""

    key: str
    bay: str
    device: str
    clubs: list[str]
    samples: int
    began: datetime
    ended: datetime
