"""Which distances a lesson's putts are made from, how many of each, and which is putted next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from finearc.core.events.swings import Shot
from finearc.core.judging.putt_row import FOOT_M
from finearc.services.errors import Refused
from finearc.services.records import COUNTING, Lesson, Swing
from finearc.wording import tr

EACH = 5
METRES, FEET = "m", "ft"
USUAL = {METRES: (3.0, 6.0, 9.0), FEET: (10.0 * FOOT_M, 20.0 * FOOT_M, 30.0 * FOOT_M)}
"""The distances that are tested, in m (common practice)."""
MOST_DISTANCES, MOST_EACH, FARTHEST_M, NEAREST_M = 8, 30, 60.0, 0.3
SAME_M = 0.051
"""Distances closer than this are the same."""


@dataclass(frozen=True)
class PuttPlan:
    """``distances_m`` in their order, ``each`` so many putts; told in ``unit`` m or ft; ``next_m``: from where the
    putts that come now are made."""

    distances_m: tuple[float, ...] = USUAL[METRES]
    each: int = EACH
    unit: str = METRES
    next_m: float | None = None

    @property
    def feet(self) -> bool:
        return self.unit == FEET

    def kept(self) -> dict[str, Any]:
        """As it is kept with the lesson."""
        return {
            "distances_m": list(self.distances_m),
            "each": self.each,
            "unit": self.unit,
            "next_m": self.next_m,
        }


def plan_of(lesson: Lesson) -> PuttPlan:
    """The plan of a lesson; the usual one where none was made."""
    return plan_from(lesson.putt_plan or {})


def plan_from(kept: Mapping[str, Any]) -> PuttPlan:
    """A plan as ``PuttPlan.kept`` gave it. Raises ``ValueError`` for what it cannot have given."""
    next_m = kept.get("next_m")
    plan = PuttPlan(
        tuple(float(d) for d in kept.get("distances_m", USUAL[METRES])),
        int(kept.get("each", EACH)),
        str(kept.get("unit", METRES)),
        None if next_m is None else float(next_m),
    )
    far = [*plan.distances_m, *([] if plan.next_m is None else [plan.next_m])]
    fits = 1 <= len(plan.distances_m) <= MOST_DISTANCES and 1 <= plan.each <= MOST_EACH and plan.unit in USUAL
    if not fits or not all(NEAREST_M <= d <= FARTHEST_M for d in far):
        raise ValueError("no plan of distances")
    return plan


def set_plan(
    lesson: Lesson,
    distances_m: Sequence[float] | None = None,
    each: int | None = None,
    unit: str | None = None,
    next_m: float | None = None,
) -> None:
    """Plan otherwise; what is not given stays. Another unit brings its usual distances where none are given. Raises
    ``Refused``."""
    held = plan_of(lesson)
    if distances_m is None:
        distances_m = held.distances_m if unit in (None, held.unit) else USUAL[unit or METRES]
    chosen = tuple(sorted({round(d, 3) for d in distances_m}))
    if not 1 <= len(chosen) <= MOST_DISTANCES or not all(NEAREST_M <= d <= FARTHEST_M for d in chosen):
        raise Refused(
            tr(
                "a plan has one to {most_distances} distances of {nearest_m:g} to {farthest_m:g} m",
                most_distances=MOST_DISTANCES,
                nearest_m=NEAREST_M,
                farthest_m=FARTHEST_M,
            ),
            tr("Choose distances that fit the green"),
        )
    goes = next_m if next_m is not None else held.next_m
    known = goes if goes is not None and any(abs(d - goes) < SAME_M for d in chosen) else None
    if next_m is not None and known is None:
        raise Refused(
            tr("{next_m:g} m is not among the planned distances", next_m=next_m), tr("Add it to the plan first")
        )
    plan = PuttPlan(chosen, held.each if each is None else each, unit or held.unit, known)
    lesson.putt_plan = plan.kept()


def place_of(distances_m: Sequence[float], distance_m: float) -> int | None:
    """Which of the distances a putt belongs to, or None."""
    return next((k for k, d in enumerate(distances_m) if abs(d - distance_m) < SAME_M), None)


def next_distance(lesson: Lesson, swings: Sequence[Swing]) -> float:
    """From how far, m, a putt that comes now is made: from where it was said, for as long as putts are owed there; then
    from the first distance that owes some; where none does, from where it was said, else from the last one."""
    plan = plan_of(lesson)
    made = [s.distance_m for s in swings if s.distance_m is not None and s.shot == Shot.PUTT and s.kind in COUNTING]
    owes = [d for d in plan.distances_m if sum(abs(m - d) < SAME_M for m in made) < plan.each]
    said = plan.next_m
    if said is not None and (not owes or any(abs(d - said) < SAME_M for d in owes)):
        return said
    return owes[0] if owes else plan.distances_m[-1]
