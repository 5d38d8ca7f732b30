"""A player's limits of movement, and the values that would ask for more of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from finearc.core.metrics.definition import Metric, Moment

ONE_SIDED = ("wrist", "forearm", "elbow", "knee", "hip", "shoulder", "ankle")
"""Areas that a player has two of; a back has no side."""


@dataclass(frozen=True)
class Limit:
    """A limit of movement: no finding or drill asks for more of it. ``side`` lead, trail, both or empty;
    ``comfortable``: how far the movement goes in comfort (rad), or None when only its being limited is known."""

    area: str
    movement: str
    side: str = ""
    comfortable: float | None = None

    def concerns(self, area: str, movement: str, side: str = "") -> bool:
        """Whether it limits this movement of this area, on this side where the area has sides."""
        if area != self.area or (movement != self.movement and "any" not in (movement, self.movement)):
            return False
        return area not in ONE_SIDED or side == "" or self.side in ("", "both", side)


@dataclass(frozen=True)
class Touch:
    """A value that asks for more of a movement when it lies outside its range on ``side`` (low or high)."""

    area: str
    movement: str
    metric: Metric
    moment: Moment
    side: str
    body_side: str = ""


def withheld_by(
    metric: Metric, moment: Moment, side: str, bound: float, limits: Sequence[Limit], touches: Sequence[Touch]
) -> Limit | None:
    """The limit because of which a value outside ``bound`` (SI) on ``side`` is not judged, or None. Where it is known
    how far the movement goes in comfort, a range that asks for no more than that still holds."""
    for touch in touches:
        if touch.metric is not metric or touch.moment != moment or touch.side != side:
            continue
        for limit in limits:
            if not limit.concerns(touch.area, touch.movement, touch.body_side):
                continue
            if limit.comfortable is None or moment.is_change or abs(bound) > limit.comfortable:
                return limit
    return None
