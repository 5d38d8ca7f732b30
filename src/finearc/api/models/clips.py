"""Videos of swings, as they are sent and answered."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In
from finearc.services.capture.clips import MOST_S

View = Literal["front", "line"]


class ClipPatch(In):
    """``impact_s``: where in the video the ball is struck, by its own clock; ``slower``: how many times slower than
    real it plays."""

    impact_s: float | None = Field(default=None, ge=0.0, le=MOST_S)
    slower: Literal[1, 2, 4, 8] | None = None


class ClipOut(BaseModel):
    """``swing_impact_s``: the same instant on the swing's clock, None where the swing has no impact; ``seconds`` by the
    video's own clock."""

    id: UUID
    view: View
    kind: str
    seconds: float
    rate_hz: float
    width: int
    height: int
    size: int
    sound: bool
    impact_s: float | None
    swing_impact_s: float | None
    aligned_by: Literal["sound", "click", ""]
    slower: int


class ClipsOut(BaseModel):
    """A swing's videos, the first attached first."""

    clips: list[ClipOut]
