"""What surrounds each side of a comparison, and what is to be said where it differs."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from finearc.services.comparing.by_distance import listed
from finearc.wording import mark, tr

OUTSIDE = mark("The band in force: a difference is how far outside it, and none inside.")
UNTIMED = mark("A mean course is kept without its times: nothing is said of later, earlier, harder or softer.")


@dataclass(frozen=True)
class Around:
    """``calibrations``: of what the side's swings were measured with; empty where there is none, as for a reference.
    ``schools``: what it was judged by, in words, by school; ``made``: what the side was made from where it is nobody's
    swings, else empty; ``distances_m``: from how far its putts were."""

    club: str
    shot: str
    hand: str
    sources: frozenset[str]
    calibrations: frozenset[object] = frozenset()
    schools: Mapping[str, str] = field(default_factory=dict)
    made: str = ""
    timed: bool = True
    distances_m: frozenset[float | None] = frozenset()


def one_calibration(first: Around, second: Around) -> bool:
    """Whether what a calibration leaves open is the same on both sides."""
    return len(first.calibrations) == 1 and first.calibrations == second.calibrations


def notes(first: Around, second: Around, *, same: bool) -> list[str]:
    """What else differs between the two, and what that means. ``same``: whether both are of one calibration."""
    said = []
    made = [side.made for side in (first, second) if side.made]
    said += made
    if not made and not same:
        many = tr("Two") if len(first.calibrations | second.calibrations) <= 2 else tr("Several")
        said.append(tr("{many_} calibrations: what each leaves open is in the uncertainty of values.", many_=many))
    if not (first.timed and second.timed) and OUTSIDE not in made:
        said.append(tr(UNTIMED))
    if first.club != second.club:
        said.append(tr("Different clubs: {club} and {club2}.", club=first.club, club2=second.club))
    if first.shot != second.shot:
        said.append(tr("Different shots: {shot} and {shot2}.", shot=first.shot, shot2=second.shot))
    if first.distances_m and second.distances_m and first.distances_m != second.distances_m:
        far = [_distances(side.distances_m) for side in (first, second)]
        said.append(
            tr("Other distances: {far}; and {far2}. A stroke grows with the distance.", far=far[0], far2=far[1])
        )
    if first.hand != second.hand:
        said.append(tr("A left-hander and a right-hander: the left-hander is mirrored."))
    if first.sources and second.sources and first.sources != second.sources:
        said.append(
            tr(
                "Different sources: {listed}; and {listed2}.",
                listed=_listed(first.sources),
                listed2=_listed(second.sources),
            )
        )
    for school in first.schools.keys() & second.schools.keys():
        if first.schools[school] != second.schools[school]:
            said.append(
                tr(
                    "Judged by different schools: {schools} and {schools2}.",
                    schools=first.schools[school],
                    schools2=second.schools[school],
                )
            )
    return said


def _distances(distances_m: frozenset[float | None]) -> str:
    noted = [d for d in distances_m if d is not None]
    parts = [listed(noted)] if noted else []
    return tr(" and ").join([*parts, *([tr("some not noted")] if None in distances_m else [])])


def _listed(sources: frozenset[str]) -> str:
    return ", ".join(sorted(sources))
