"""Who and what a lesson takes, what clashes with it, and the next places that are free.

An instructor, a bay, a mobile sensor set and a player can each be in one place at a time. Two lessons with markers in
one bay, one after the other, need time between them to set the cameras and markers up."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from enum import StrEnum
from itertools import islice
from typing import NamedTuple

from finearc.core.diary.spans import Span, joined

STEP = timedelta(minutes=15)
"""Free places begin at quarters of an hour (house value)."""


class Kind(StrEnum):
    """What can be in one place only."""

    INSTRUCTOR = "instructor"
    BAY = "bay"
    SENSORS = "sensors"
    PLAYER = "player"


class Resource(NamedTuple):
    """One of them, by its name or id."""

    kind: Kind
    key: str


@dataclass(frozen=True)
class Taken:
    """Time that is taken: by a lesson, or an instructor's own business. ``key`` names it; ``markers``: it needs setting
    up."""

    span: Span
    resources: frozenset[Resource]
    key: str = ""
    markers: bool = False


@dataclass(frozen=True)
class Wanted:
    """A lesson that looks for its place."""

    span: Span
    resources: frozenset[Resource]
    markers: bool = False


class Clashing(NamedTuple):
    """With what a wish clashes, and in which respect; none of them: there is no time to set up."""

    taken: Taken
    shared: frozenset[Resource]


def clashes(wanted: Wanted, taken: Iterable[Taken], setup: timedelta = timedelta()) -> list[Clashing]:
    """In order of time."""
    out = []
    for other in taken:
        shared = wanted.resources & other.resources
        if not shared:
            continue
        if wanted.span.meets(other.span):
            out.append(Clashing(other, shared))
        elif needs_setup(wanted, other, shared) and wanted.span.meets(other.span.wider(setup)):
            out.append(Clashing(other, frozenset()))
    return sorted(out, key=lambda c: c.taken.span)


def needs_setup(wanted: Wanted, other: Taken, shared: frozenset[Resource]) -> bool:
    """Whether time has to lie between the two: both with markers in one bay."""
    return wanted.markers and other.markers and any(r.kind is Kind.BAY for r in shared)


class Place(NamedTuple):
    """A free place: with whom, where, and when."""

    span: Span
    instructor: str
    bay: str


@dataclass(frozen=True)
class Search:
    """What is looked for: ``hours`` in which each instructor works, by key, in the order in which they are preferred;
    ``bays`` likewise; ``others``: player and sensor set, which have to be free too."""

    length: timedelta
    hours: Mapping[str, Sequence[Span]]
    bays: Sequence[str]
    others: frozenset[Resource] = frozenset()
    markers: bool = False
    setup: timedelta = timedelta()
    taken: Sequence[Taken] = field(default_factory=tuple)


def next_places(search: Search, after: datetime, most: int) -> list[Place]:
    """The first free places from ``after`` on, in order of time, one for each beginning: the preferred instructor and
    bay where several are free."""
    return list(islice(_places(search, after), most))


def _places(search: Search, after: datetime) -> Iterator[Place]:
    spans = joined(s for hours in search.hours.values() for s in hours)
    near = sorted(search.taken, key=lambda t: t.span)
    for span in spans:
        begins = _stepped(max(span.begins, after), span.begins)
        while begins + search.length <= span.ends:
            place = _place_at(search, Span(begins, begins + search.length), near)
            if place is not None:
                yield place
            begins += STEP


def _stepped(at: datetime, origin: datetime) -> datetime:
    """The first step of ``origin``'s hour at or after ``at``."""
    whole = origin.replace(minute=0, second=0, microsecond=0)
    steps = -(-(at - whole) // STEP)
    return whole + steps * STEP


def _place_at(search: Search, span: Span, taken: Sequence[Taken]) -> Place | None:
    near = [t for t in taken if span.wider(search.setup).meets(t.span)]
    for instructor, hours in search.hours.items():
        if not any(h.holds(span) for h in hours):
            continue
        for bay in search.bays:
            resources = search.others | {Resource(Kind.INSTRUCTOR, instructor), Resource(Kind.BAY, bay)}
            if not clashes(Wanted(span, frozenset(resources), search.markers), near, search.setup):
                return Place(span, instructor, bay)
    return None
