"""A round as JSON: what ``finearc round`` prints (version 1)."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from finearc.core.comparing.change import ChangeVerdict
from finearc.core.course.compared import ALL_CLUBS, LENGTH, QUANTITIES, Compared, sentence
from finearc.core.course.kinds import MotionKind, Stroke
from finearc.core.course.motions import Motion
from finearc.services.course.round_reading import RoundRead


class Shape(BaseModel):
    model_config = ConfigDict(extra="forbid")


class SwingResult(Shape):
    """One motion of a club. ``time_s``: its takeaway; angles in deg, of swings alone; ``impact_s`` None where no strike
    was felt. ``stroke``, ``hole``, ``pressure`` and ``since_practice_s`` are additions to version 1."""

    club: str
    time_s: float
    kind: MotionKind
    confidence: float
    impact_s: float | None
    backswing_length_deg: float | None
    uncertainty_deg: float | None
    swept_deg: float | None
    tempo: float | None
    peak_turn_deg_s: float | None
    backswing_s: float | None
    downswing_s: float | None
    smoothness: float | None
    stroke: Stroke | None
    hole: int | None
    pressure: int | None
    since_practice_s: float | None


class QuantityResult(Shape):
    """One quantity of a comparison: deg for the backswing's length, s for its time, no unit for the tempo."""

    quantity: str
    difference: float | None
    ci95: list[float] | None
    verdict: ChangeVerdict
    more_shots: int | None


class ComparedResult(Shape):
    """Two groups of shots of a club, or of ``all``: ``difference`` (deg, + shorter, second less first) and
    ``verdict`` of the backswing's length."""

    club: str
    what: str
    difference: float | None
    verdict: ChangeVerdict
    sentence: str
    shots: list[int]
    quantities: list[QuantityResult]


class RoundResult(Shape):
    """The whole round."""

    format: Literal["finearc-round"] = "finearc-round"
    version: Literal[1] = 1
    swings: list[SwingResult]
    compared: list[ComparedResult]
    notes: list[str]


def round_result(read: RoundRead) -> RoundResult:
    """As it is printed."""
    swings: list[SwingResult] = []
    practised: float | None = None
    for k, motion in enumerate(read.motions):
        line = read.lines.get(k)
        since = None if practised is None or motion.named.kind is not MotionKind.SHOT else motion.at_s - practised
        swings.append(
            _swing(motion).model_copy(
                update={
                    "hole": None if line is None else line.hole,
                    "pressure": None if line is None else line.pressure,
                    "since_practice_s": None if since is None else round(since, 1),
                }
            )
        )
        if motion.named.kind is MotionKind.PRACTICE:
            practised = motion.at_s
    return RoundResult(swings=swings, compared=[compared_result(c) for c in read.compared()], notes=list(read.notes))


def _swing(motion: Motion) -> SwingResult:
    s = motion.swing
    meant = motion.named.kind is not MotionKind.OTHER and s is not None
    return SwingResult(
        club=motion.club,
        time_s=round(motion.at_s, 4),
        kind=motion.named.kind,
        confidence=round(motion.named.confidence, 3),
        impact_s=round(s.impact_s, 4) if s is not None and meant and s.impact_s is not None else None,
        backswing_length_deg=_deg(s.elevation) if s is not None and meant else None,
        uncertainty_deg=_deg(s.elevation_sd) if s is not None and meant else None,
        swept_deg=_deg(s.swept) if s is not None and meant else None,
        tempo=round(s.tempo, 3) if s is not None and meant else None,
        peak_turn_deg_s=_deg(s.peak_rad_s, 1) if s is not None and meant else None,
        backswing_s=round(s.back_s, 4) if s is not None and meant else None,
        downswing_s=round(s.down_s, 4) if s is not None and meant else None,
        smoothness=round(s.smoothness, 3) if s is not None and meant and s.smoothness is not None else None,
        stroke=motion.named.stroke,
        hole=None,
        pressure=None,
        since_practice_s=None,
    )


def _deg(rad: float, decimals: int = 2) -> float:
    return round(float(np.rad2deg(rad)), decimals)


def compared_result(found: Compared) -> ComparedResult:
    """One comparison, with its sentence."""
    main = found.main
    quantities = []
    for quantity in QUANTITIES:
        change = found.changes[quantity.id]
        scale = float(np.rad2deg(1.0)) if quantity is LENGTH else 1.0
        quantities.append(
            QuantityResult(
                quantity=quantity.id,
                difference=None if np.isnan(change.difference) else round(scale * change.difference, 4),
                ci95=None if change.ci95 is None else [round(scale * x, 4) for x in change.ci95],
                verdict=change.verdict,
                more_shots=change.more_swings,
            )
        )
    return ComparedResult(
        club=found.club,
        what=found.what.value,
        difference=quantities[0].difference,
        verdict=main.verdict,
        sentence=sentence(found, "" if found.club == ALL_CLUBS else found.club.replace("_", " ")),
        shots=[main.before.n, main.after.n],
        quantities=quantities,
    )
