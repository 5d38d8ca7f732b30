"""Drills: what is done about a finding, and which of them suit a player today."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from finearc.core.events.model import Checkpoint
from finearc.core.judging.limits import Limit
from finearc.core.judging.ranges import InForce
from finearc.core.metrics.definition import Family, Metric
from finearc.wording import tr, worded

PAIN_AREAS = ("back", "neck", "shoulder", "elbow", "forearm", "wrist", "hip", "knee", "ankle")


@dataclass(frozen=True)
class Ask:
    """A movement that a drill asks for; ``amount`` (rad) how much of it, None when as far as it goes. ``side`` lead,
    trail or empty for both."""

    area: str
    movement: str
    amount: float | None = None
    side: str = ""


@dataclass(frozen=True)
class TrainerBand:
    """The band (SI) of live feedback that goes with a drill: a metric between two checkpoints; ``above_address``: how
    far it may lie above its own value at address besides, where that is asked; ``from_address``: its limits are told
    from that value."""

    metric: Metric
    start: str
    end: str
    low: float | None
    high: float | None
    above_address: float | None = None
    from_address: bool = False

    @property
    def relative(self) -> bool:
        """Whether it is told from the address: the metric itself is, its limits are, or one leans on it."""
        return self.from_address or self.above_address is not None or self.metric.family is Family.TRAVEL


def band_in_force(band: TrainerBand, page: InForce) -> TrainerBand:
    """The same with the limits of the range in force where the band ends, so that what is trained is what is judged;
    its own where no range holds there."""
    if band.from_address:
        return band
    found = page.ranges.get((band.metric.id, band.end), ())
    first = next((r for r in found if not r.own_best and (r.low is not None or r.high is not None)), None)
    if first is None:
        return band
    leans = first.relative_to is not None and first.relative_to.key == Checkpoint.ADDRESS
    return replace(band, low=first.low, high=first.high, above_address=first.high_offset if leans else None)


@worded("label", "how", "feel", "caution", "aim", "dose")
@dataclass(frozen=True)
class Drill:
    """``aim`` what it is for, ``how``, ``feel`` in plain words, ``dose``, ``loads`` the areas of the body it loads,
    ``picture`` the name of what shows it."""

    id: str
    label: str
    how: str
    feel: str
    caution: str = ""
    asks: tuple[Ask, ...] = ()
    aim: str = ""
    equipment: str = ""
    dose: str = ""
    loads: tuple[str, ...] = ()
    band: TrainerBand | None = None
    own: bool = False
    picture: str = ""


@dataclass(frozen=True)
class Pain:
    """What was said about pain today. ``areas`` is empty when no area was named."""

    today: bool = False
    areas: tuple[str, ...] = ()

    @staticmethod
    def noted(answer: str, note: str) -> Pain:
        """From the answer (yes, no or empty) and the instructor's note."""
        words = note.lower()
        return Pain(answer == "yes", tuple(a for a in PAIN_AREAS if a in words))


def withheld_because(drill: Drill, limits: Sequence[Limit], pain: Pain) -> str:
    """Why a drill is not offered to this player today; empty when it may be."""
    for ask in drill.asks:
        limit = next((x for x in limits if _runs_into(ask, x)), None)
        if limit is not None:
            what = f"{limit.area} {limit.movement}".removesuffix(" any")
            if limit.comfortable is None:
                return tr(
                    "it asks for {area} {movement}, and the {what} is limited",
                    area=ask.area,
                    movement=ask.movement,
                    what=what,
                )
            return tr(
                "it asks for more {area} {movement} than the comfortable {comfortable:.0f}°",
                area=ask.area,
                movement=ask.movement,
                comfortable=np.rad2deg(limit.comfortable),
            )
    if pain.today and drill.loads:
        hurting = [a for a in drill.loads if a in pain.areas]
        if hurting:
            return tr("it loads the {hurting}, where there is pain today", hurting=hurting[0])
        if not pain.areas:
            return tr("there is pain today, and it loads the {loads}", loads=drill.loads[0])
    return ""


def _runs_into(ask: Ask, limit: Limit) -> bool:
    if not limit.concerns(ask.area, ask.movement, ask.side):
        return False
    return limit.comfortable is None or ask.amount is None or ask.amount > limit.comfortable
