"""Putts before and after: compared at the distances that both groups have."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import Protocol

from finearc.core.comparing.levelled import Levelled, levelled
from finearc.core.events.swings import Shot
from finearc.core.judging.putt_row import distance_words
from finearc.wording import mark, tr, trn

NONE_SHARED = mark(" No distance has putts before and after: putt from the same ones.")


class Putted(Protocol):
    """Whatever is known to be a putt, and from how far."""

    @property
    def shot(self) -> str: ...

    @property
    def distance_m(self) -> float | None: ...


def level_of(swing: Putted) -> float | None:
    """The distance of a putt, to 0.1 m: 10 feet and 3 m are one; None of another swing, and where it is not noted."""
    putted = swing.shot == Shot.PUTT and swing.distance_m is not None
    return round(swing.distance_m or 0.0, 1) if putted else None


def at_shared_distances(
    before: Sequence[float], after: Sequence[float], first: Sequence[Putted], second: Sequence[Putted]
) -> Levelled:
    """Values of both groups as if all were from the middle of the distances they share; ``first`` and ``second`` are
    whose they are. Of other swings all as they are."""
    return levelled(before, after, [level_of(s) for s in first], [level_of(s) for s in second])


def distances_said(found: Levelled, first: Sequence[Putted], second: Sequence[Putted], *, feet: bool) -> str:
    """What is to be said of it; empty where all is from one distance, or no putt."""
    every = {level_of(s) for s in (*first, *second)}
    if every <= {None} or len(every) == 1 or not first or not second:
        return ""
    if not found.shared:
        return tr(NONE_SHARED)
    shared = listed((d for d in found.shared if isinstance(d, float)), feet=feet)
    out = (
        tr(" At {shared}, what the distance does taken off.", shared=shared)
        if len(found.shared) > 1
        else tr(" At {shared} alone.", shared=shared)
    )
    others = len(first) + len(second) - len(found.first) - len(found.second)
    return (
        trn("{out} {count} other putt left out.", "{out} {count} other putts left out.", others, out=out)
        if others
        else out
    )


def listed(distances_m: Iterable[float], *, feet: bool = False) -> str:
    """``3, 6 and 9 m``."""
    words = [distance_words(d, feet=feet) for d in sorted(distances_m)]
    unit = words[0].rpartition(" ")[2] if words else ""
    numbers = [w.rpartition(" ")[0] for w in words]
    return f"{' and '.join([', '.join(numbers[:-1]), numbers[-1]]) if len(numbers) > 1 else ''.join(numbers)} {unit}"


def commonest(distances: Iterable[float | None]) -> float | None:
    """The distance that most were putted from, the shorter of two; None where none is noted."""
    counted = Counter(d for d in distances if d is not None)
    return min(counted, key=lambda d: (-counted[d], d)) if counted else None
