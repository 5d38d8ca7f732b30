"""What the player wrote down of a round, and which shot of the clips each line is about."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from finearc.core.course.kinds import MotionKind
from finearc.core.course.motions import Motion

WITHIN_S = 90.0
"""A line that was written for a shot is off by no more (house value: people write while they walk on)."""
BAD = ("bad", "poor", "miss", "lost", "out", "water", "hazard", "duff", "thin", "fat", "shank", "top", "slice", "hook")
"""What a result begins with that the player was not happy with (house list)."""
UNDER_PRESSURE = 2
"""From here on, of 0 to 3, a shot counts as under pressure."""


@dataclass(frozen=True)
class CardLine:
    """One shot as written: ``time_s`` on the clips' clock, ``pressure`` 0 to 3 by the player, None where not said."""

    time_s: float
    hole: int | None = None
    shot: int | None = None
    club: str = ""
    lie: str = ""
    result: str = ""
    pressure: int | None = None
    note: str = ""

    @property
    def bad(self) -> bool | None:
        """Whether the player was not happy with it; None where no result is written."""
        return None if not self.result else self.result.strip().lower().startswith(BAD)


def lines_of(motions: Sequence[Motion], card: Sequence[CardLine]) -> dict[int, CardLine]:
    """By the number of a motion the line that is about it: of the same club, the nearest in time; each line and each
    motion once, the nearest pairs first."""
    hit = [k for k, m in enumerate(motions) if m.named.kind in (MotionKind.SHOT, MotionKind.PUTT)]
    pairs = sorted(
        (abs(line.time_s - motions[k].at_s), k, n)
        for n, line in enumerate(card)
        for k in hit
        if abs(line.time_s - motions[k].at_s) <= WITHIN_S and line.club in ("", motions[k].club)
    )
    out: dict[int, CardLine] = {}
    used: set[int] = set()
    for _, k, n in pairs:
        if k not in out and n not in used:
            out[k] = card[n]
            used.add(n)
    return out
