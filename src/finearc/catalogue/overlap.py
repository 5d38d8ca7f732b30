"""Two ranges that would both judge the same value are one too many."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import inf

from finearc.catalogue.schemas import Club
from finearc.core.judging.ranges import Range
from finearc.wording import tr


@dataclass(frozen=True)
class Clash:
    """Two ranges between which nothing decides."""

    first: str
    second: str
    problem: str


def check_overlaps(ranges: Sequence[Range], clubs: Mapping[str, Club]) -> Clash | None:
    """The first pair of equally specific ranges that apply to the same swings, or None."""
    by_key: dict[tuple[str, str, str, str], list[Range]] = {}
    for r in ranges:
        by_key.setdefault((r.metric.id, r.moment.key, r.shot, r.population), []).append(r)
    for same in by_key.values():
        for a, b in combinations(same, 2):
            if a.specificity == b.specificity and _meet(a, b, clubs):
                where = tr("{label} at {value}", label=a.metric.label, value=a.moment.key.replace("_", " "))
                return Clash(
                    a.id,
                    b.id,
                    tr(
                        "ranges {id} and {id2} overlap: both would judge {where} of the same swings. Give one "
                        "another club class or school, or retire one",
                        id=a.id,
                        id2=b.id,
                        where=where,
                    ),
                )
    return None


def _meet(a: Range, b: Range, clubs: Mapping[str, Club]) -> bool:
    if not _share_distances(a, b):
        return False
    if a.school is not None and b.school is not None and a.school[0] == b.school[0] and a.school[1] != b.school[1]:
        return False
    if a.club_class is None or b.club_class is None:
        return True
    return any(a.club_class in c.classes and b.club_class in c.classes for c in clubs.values())


def _share_distances(a: Range, b: Range) -> bool:
    """Whether there is a distance for which both hold."""
    least = max(a.least_m or 0.0, b.least_m or 0.0)
    most = min(inf if r.most_m is None else r.most_m for r in (a, b))
    return least < most
