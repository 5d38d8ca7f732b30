"""The ground: feet, what is said of the pressure, guess and truth, references."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from finearc.api.models.base import In

GuessSide = Literal["lead", "even", "trail", ""]
GuessFoot = Literal["toes", "middle", "heels", ""]


class FootOut(BaseModel):
    """One shoe on the mat: ends of its sole, m, x to the ball and y to the target."""

    side: Literal["lead", "trail"]
    heel: list[float]
    toe: list[float]
    width: float
    partly_off: bool


class MomentOut(BaseModel):
    """An instant of the pressure's own course."""

    name: str
    time_s: float
    uncertainty_s: float


class GuessOut(BaseModel):
    """Where the player felt the pressure at impact."""

    side: GuessSide
    foot: GuessFoot


class RealOut(BaseModel):
    """Where it was, in the same words."""

    side: Literal["lead", "even", "trail"]
    foot: Literal["toes", "middle", "heels"] | None
    lead_share: float
    heel_toe: float | None


class OffsetOut(BaseModel):
    """How the mat's clock was set, s."""

    shift_s: float
    sd_s: float


class GroundOut(BaseModel):
    """What is known about the ground in a swing beside its pictures. ``sentence``: when the pressure came back against
    the club; empty where that was not seen, with ``no_sentence`` saying why."""

    source: str
    feet: list[FootOut]
    split_m: float | None
    split_by_hand: bool
    moments: list[MomentOut]
    sentence: str
    no_sentence: str
    guess: GuessOut | None
    real: RealOut | None
    offset: OffsetOut | None
    alone: bool
    recording_shift_s: float | None
    has_own_clock: bool
    bands: list[SchoolBand]


class SchoolBand(BaseModel):
    """The band of one pressure school for the stance position at impact, %."""

    school: str
    label: str
    low: float
    high: float
    chosen: bool
    provenance: str
    note: str


class GuessIn(In):
    side: GuessSide
    foot: GuessFoot = ""


class SplitIn(In):
    """``split_m`` None finds the line between the feet again."""

    split_m: float | None = Field(default=None, ge=-2.0, le=2.0)


class MatClockIn(In):
    """``shift_s`` None estimates the mat's clock again."""

    shift_s: float | None = Field(default=None, ge=-60.0, le=60.0)


class GroundReference(BaseModel):
    """A skilled course to lay over a player's: ``phase`` is -1 at takeaway, 0 at the top, 1 at impact, and goes on as
    fast as the downswing. Synthetic: it comes from the golfer model."""

    school: str
    label: str
    phase: list[float]
    stance_position: list[float]
    lead_heel_toe: list[float]
    trail_heel_toe: list[float]
    vertical_force: list[float]
    pelvis_turn: list[float]
    pelvis_sway: list[float]
