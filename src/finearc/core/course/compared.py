"""Shots of a round in two groups: late holes against early, under pressure against not, after a bad result against not,
and the course against the range.

A driver's backswing is not a wedge's: what differs between clubs and lengths of swing is taken off first
(``comparing.levelled``), and shots of a club that only one group has are left out. No cause is claimed."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from finearc.core.comparing.change import LEAST, LEVEL, MOST_MORE, Change, ChangeVerdict, compare, holm
from finearc.core.comparing.levelled import levelled
from finearc.core.course.card import UNDER_PRESSURE
from finearc.core.course.kinds import Stroke
from finearc.wording import mark, number, tr

ALL_CLUBS = "all"


class What(StrEnum):
    """Which shots are set against which."""

    LATE = "late_holes"
    PRESSURE = "under_pressure"
    AFTER_BAD = "after_bad_result"
    COURSE = "course_against_range"


@dataclass(frozen=True)
class Shot:
    """One shot as it is compared: rad, s. ``order``: its place in the round from 0 to 1, by hole where one is known;
    None where the clip's clock is wrong. ``length_sd``, rad: how well its backswing is known; ``number``: of the
    motion."""

    club: str
    stroke: Stroke
    length: float
    length_sd: float
    back_s: float
    tempo: float
    order: float | None = None
    pressure: int | None = None
    after_bad: bool | None = None
    number: int = -1


@dataclass(frozen=True)
class Quantity:
    """One of the things that are compared: how it is read, the least that means anything (comparison's house values),
    and what more and less of it are called."""

    id: str
    read: Callable[[Shot], float]
    relevant: float
    more: str
    less: str
    shown: Callable[[float], str]


LENGTH = Quantity(
    "backswing_length",
    lambda s: s.length,
    float(np.deg2rad(2.0)),
    mark("shorter"),
    mark("longer"),
    lambda x: f"{np.rad2deg(x):.0f}°",
)
BACK = Quantity(
    "backswing_time", lambda s: s.back_s, 0.010, mark("slower"), mark("quicker"), lambda x: f"{number(x, 2)} s"
)
TEMPO = Quantity(
    "tempo", lambda s: s.tempo, 0.15, mark("a higher tempo"), mark("a lower tempo"), lambda x: number(x, 1)
)
QUANTITIES = (LENGTH, BACK, TEMPO)
"""Shaft elevation grows as the backswing gets shorter."""


@dataclass(frozen=True)
class Compared:
    """Two groups of shots of a club, or of ``all``: ``changes`` by quantity; ``alike``: so many of the second group are
    on the side of the difference from the first group's middle."""

    club: str
    what: What
    changes: dict[str, Change]
    alike: int

    @property
    def main(self) -> Change:
        """Of the backswing's length."""
        return self.changes[LENGTH.id]


def groups_of(what: What, shots: Sequence[Shot]) -> tuple[list[Shot], list[Shot]]:
    """The shots before and after, so to say; what cannot be told belongs to neither."""
    if what is What.LATE:
        told = [s for s in shots if s.order is not None]
        return [s for s in told if (s.order or 0.0) < 0.5], [s for s in told if (s.order or 0.0) >= 0.5]
    if what is What.PRESSURE:
        rated = [(s, s.pressure) for s in shots if s.pressure is not None]
        return [s for s, p in rated if p < UNDER_PRESSURE], [s for s, p in rated if p >= UNDER_PRESSURE]
    known = [s for s in shots if s.after_bad is not None]
    return [s for s in known if not s.after_bad], [s for s in known if s.after_bad]


def compare_shots(
    what: What, club: str, before: Sequence[Shot], after: Sequence[Shot], calibration_sd: float = 0.0
) -> Compared:
    """Two groups of shots. ``calibration_sd``, rad: what lies open between two ways of measuring the backswing's
    length."""
    changes, alike = {}, 0
    for quantity in QUANTITIES:
        values = [[quantity.read(s) for s in group] for group in (before, after)]
        level = levelled(*values, *([(s.club, s.stroke) for s in group] for group in (before, after)))
        own_sd = float(np.median([s.length_sd for s in (*before, *after)] or [0.0])) if quantity is LENGTH else 0.0
        sd = calibration_sd if quantity is LENGTH else 0.0
        change = compare(level.before, level.after, quantity.relevant, sd, own_sd)
        changes[quantity.id] = change
        if quantity is LENGTH and len(level.before):
            off = np.asarray(level.after) - np.median(level.before)
            alike = int(np.sum(off * np.sign(change.difference) > 0.0))
    return Compared(club, what, changes, alike)


def range_against_course(
    club: str, bay: Mapping[str, Sequence[float]], course: Sequence[Shot], calibration_sd: float
) -> Compared:
    """A club's full swings in the bay, values by quantity (rad, s), against those on the course. ``calibration_sd``,
    rad: what lies open between the bay's measurement of the backswing's length and the clip's."""
    changes, alike = {}, 0
    for quantity in QUANTITIES:
        before, after = list(bay.get(quantity.id, ())), [quantity.read(s) for s in course]
        sd = calibration_sd if quantity is LENGTH else 0.0
        change = changes[quantity.id] = compare(before, after, quantity.relevant, sd)
        if quantity is LENGTH and before:
            alike = int(np.sum((np.asarray(after) - np.median(before)) * np.sign(change.difference) > 0.0))
    return Compared(club, What.COURSE, changes, alike)


LEAST_FOR_BAND = 8
"""From fewer swings no band is made (house value: the middle 80 % then leaves out one at each end)."""


def own_band(values: Sequence[float]) -> tuple[float, float, float] | None:
    """The middle 80 % of a player's own good swings with its median: 10th, 50th and 90th percentile, in the values' own
    unit; None from too few."""
    if len(values) < LEAST_FOR_BAND:
        return None
    low, middle, high = np.percentile(np.asarray(values, dtype=float), [10.0, 50.0, 90.0])
    return float(low), float(middle), float(high)


def comparisons(shots: Sequence[Shot], beside: Sequence[Compared] = ()) -> list[Compared]:
    """Within one round: of all clubs together first, then of each club that has shots in both groups; then what is
    looked at ``beside``."""
    out: list[Compared] = []
    for what in (What.PRESSURE, What.LATE, What.AFTER_BAD):
        before, after = groups_of(what, shots)
        if not before or not after:
            continue
        out.append(compare_shots(what, ALL_CLUBS, before, after))
        for club in dict.fromkeys(s.club for s in shots):
            mine = [s for s in before if s.club == club], [s for s in after if s.club == club]
            if all(mine):
                out.append(compare_shots(what, club, *mine))
    return _sure([*out, *beside])


def _sure(found: Sequence[Compared]) -> list[Compared]:
    """So much is looked at that chance finds something sooner or later: a difference counts as one only if it stands
    after Holm's correction, over the backswing's length of all clubs together, and over all the rest."""
    cases = [(k, q.id) for k in range(len(found)) for q in QUANTITIES]
    asked = [(k, q) for k, q in cases if found[k].club == ALL_CLUBS and q == LENGTH.id]
    besides = [case for case in cases if case not in set(asked)]
    changes = [dict(c.changes) for c in found]
    for family in (asked, besides):
        tested = [(k, q, p) for k, q in family if (p := changes[k][q].p) is not None]
        for (k, q, _), p in zip(tested, holm([p for _, _, p in tested]), strict=True):
            if changes[k][q].changed and p >= LEVEL:
                changes[k][q] = replace(changes[k][q], verdict=ChangeVerdict.NOT_DISTINGUISHABLE)
    return [replace(c, changes=told) for c, told in zip(found, changes, strict=True)]


WHEN = {
    What.LATE: mark("On the late holes"),
    What.PRESSURE: mark("Under pressure"),
    What.AFTER_BAD: mark("After a bad result"),
    What.COURSE: mark("On the course"),
}


def sentence(found: Compared, club: str) -> str:
    """In words. ``club``: as a person calls it, e.g. ``7-iron``; empty for all of them."""
    when, whose = tr(WHEN[found.what]), tr("your {club} backswing", club=club) if club else tr("your backswing")
    main, back = found.main, found.changes[BACK.id]
    if main.verdict is ChangeVerdict.TOO_FEW:
        n = tr("{n} against {n2}", n=main.after.n, n2=main.before.n)
        return tr(
            "{when} {whose}: too few shots to say ({n}; at least {least} of each).",
            when=when,
            whose=whose,
            n=n,
            least=LEAST,
        )
    told = [_told(LENGTH, main)] if main.changed else []
    if back.changed:
        told.append(_told(BACK, back))
    if told:
        count = tr(", {alike} of {n} shots", alike=found.alike, n=main.after.n) if main.changed else ""
        return tr("{when} {whose} is {told}{n}.", when=when, whose=whose, told=tr(" and ").join(told), n=count)
    if main.verdict is ChangeVerdict.UNCHANGED:
        return tr("{when} {whose} is as long as otherwise.", when=when, whose=whose)
    more = main.more_swings
    wanted = (
        ""
        if more is None
        else tr(
            "; {value} more shots would settle it",
            value=tr("about {more}", more=more) if more <= MOST_MORE else tr("more than 30"),
        )
    )
    return tr("{when} {whose}: not yet distinguishable{wanted}.", when=when, whose=whose, wanted=wanted)


def _told(quantity: Quantity, change: Change) -> str:
    word = quantity.more if change.difference > 0 else quantity.less
    return tr("{much} {word}", much=quantity.shown(abs(change.difference)), word=word)
