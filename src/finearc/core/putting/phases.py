"""The phases of a putt, between its checkpoints."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from finearc.core.events.model import Checkpoint
from finearc.core.putting.wrists import AROUND_S, AT_BALL_S


class PuttPhase(StrEnum):
    BACKSTROKE = "backstroke"
    TRANSITION = "transition"
    THROUGHSTROKE = "throughstroke"
    IMPACT = "impact"
    AFTER = "after"


@dataclass(frozen=True)
class Span:
    """A phase from ``start_s`` to ``end_s``, s, on the recording's clock."""

    phase: PuttPhase
    start_s: float
    end_s: float


def phases_of(at_s: Mapping[Checkpoint, float]) -> list[Span]:
    """The phases whose checkpoints (s) are known, in order: backstroke from takeaway to 0.1 s before the transition,
    transition 0.1 s to either side of it, throughstroke from there to 0.02 s before impact, impact 0.02 s to either
    side of it, and after, to the finish. One that another leaves no room is not there: a short putt's transition may
    reach up to impact."""
    takeaway, turn, ball, finish = (
        at_s.get(k) for k in (Checkpoint.TAKEAWAY, Checkpoint.TRANSITION, Checkpoint.IMPACT, Checkpoint.FINISH)
    )
    found: list[tuple[PuttPhase, float, float]] = []
    before_ball = None if ball is None else ball - AT_BALL_S
    if turn is not None:
        early, late = turn - AROUND_S, turn + AROUND_S
        if takeaway is not None:
            found.append((PuttPhase.BACKSTROKE, takeaway, early))
            early = max(early, takeaway)
        if before_ball is not None:
            late = min(late, before_ball)
        found.append((PuttPhase.TRANSITION, early, late))
        if before_ball is not None:
            found.append((PuttPhase.THROUGHSTROKE, late, before_ball))
    if ball is not None:
        found.append((PuttPhase.IMPACT, ball - AT_BALL_S, ball + AT_BALL_S))
        if finish is not None:
            found.append((PuttPhase.AFTER, ball + AT_BALL_S, finish))
    return [Span(name, start, end) for name, start, end in found if end - start > 1e-9]
