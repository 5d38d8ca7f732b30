"""What a comparison says, one sentence each, and only what is beyond its uncertainty: later or earlier, harder or
softer, more or less, smoother or rougher."""

from __future__ import annotations

import math
from collections.abc import Iterable

from finearc.core.comparing.compared import MetricCompared, Place, Smoothness
from finearc.core.comparing.traces import Intensity, Shift
from finearc.core.events.model import Checkpoint
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.words import amount, change_in_words, moment_words, place_words
from finearc.wording import mark, tr

BEYOND = 2.0
"""A difference of so many standard uncertainties is said."""
PHASE = {
    (Checkpoint.TAKEAWAY, Checkpoint.TOP): mark("in the backswing"),
    (Checkpoint.TOP, Checkpoint.IMPACT): mark("in the downswing"),
    (Checkpoint.TAKEAWAY, Checkpoint.TRANSITION): mark("in the backstroke"),
    (Checkpoint.TRANSITION, Checkpoint.IMPACT): mark("in the throughstroke"),
}


def sentences(compared: MetricCompared, *, plain: bool = False) -> list[str]:
    """What is to be said of one measure, the first side against the second, with its name."""
    name = compared.metric.plain_label if plain else compared.metric.label
    return [f"{name}: {words}." for words in said(compared, plain=plain)]


def said(compared: MetricCompared, *, plain: bool) -> list[str]:
    """The same without the measure's name."""
    found = [_timing(compared.shifts), _intensity(compared.intensity)]
    more = _place(compared.metric, compared.places, plain=plain) or _value(compared, plain=plain)
    found += [more, _smoothness(compared.smoothness)]
    return [words for words in found if words]


def checkpoint_words(name: Checkpoint) -> str:
    """``arm level back``, ``the top``."""
    return tr("the top") if name is Checkpoint.TOP else moment_words(name)


def between(start: Checkpoint, end: Checkpoint) -> str:
    """``from arm level back to the top``; ``about the top`` where both are one."""
    if start is end:
        return tr("about {checkpoint_words}", checkpoint_words=checkpoint_words(start))
    return tr(
        "from {checkpoint_words} to {checkpoint_words2}",
        checkpoint_words=checkpoint_words(start),
        checkpoint_words2=checkpoint_words(end),
    )


def _clearness(difference: float, sd: float) -> float:
    """How many of its standard uncertainties a difference is; one without any is the clearest."""
    return abs(difference) / sd if sd > 0.0 else math.inf


def _timing(shifts: Iterable[Shift]) -> str:
    clear = [s for s in shifts if abs(s.shift_s) > BEYOND * s.sd_s and round(1000.0 * s.shift_s) != 0]
    if not clear:
        return ""
    most = max(clear, key=lambda s: _clearness(s.shift_s, s.sd_s))
    way = tr("later") if most.shift_s > 0 else tr("earlier")
    return tr(
        "{value:.0f} ms {way} at {checkpoint_words}",
        value=abs(1000.0 * most.shift_s),
        way=way,
        checkpoint_words=checkpoint_words(most.at),
    )


def _intensity(found: Iterable[Intensity]) -> str:
    clear = [i for i in found if abs(i.ratio - 1.0) > BEYOND * i.sd and f"{i.ratio:.1f}" != "1.0"]
    if not clear:
        return ""
    most = max(clear, key=lambda i: _clearness(i.ratio - 1.0, i.sd))
    harder = tr("harder") if most.ratio > 1.0 else tr("softer")
    return tr(
        "{harder} {phase}, {ratio:.1f} times as fast",
        harder=harder,
        phase=PHASE[most.start, most.end],
        ratio=most.ratio,
    )


def _place(metric: Metric, places: Iterable[Place], *, plain: bool) -> str:
    clear = [p for p in places if abs(p.difference) > BEYOND * p.uncertainty]
    if not clear:
        return ""
    most = max(clear, key=lambda p: _clearness(p.difference, p.uncertainty))
    return f"{more_in_words(metric, most.difference, plain=plain)} {between(most.start, most.end)}"


def _value(compared: MetricCompared, *, plain: bool) -> str:
    """Where no phase differs as a whole: the checkpoint that does."""
    clear = [v for v in compared.values if not v.moment.is_change and abs(v.difference) > BEYOND * v.uncertainty > 0.0]
    if not clear:
        return ""
    most = max(clear, key=lambda v: abs(v.difference) / v.uncertainty)
    return f"{more_in_words(compared.metric, most.difference, plain=plain)}{place_words(most.moment.key)}"


def more_in_words(metric: Metric, difference: float, *, plain: bool) -> str:
    """A difference (SI): ``6° more cupped``, ``3 cm more``."""
    words = change_in_words(metric, difference, plain=plain)
    if words == amount(metric, difference):  # no word says which way
        words = f"{words} {tr('more') if difference > 0 else tr('less')}"
    return words


def _smoothness(found: Iterable[Smoothness]) -> str:
    clear = [s for s in found if s.differs]
    if not clear:
        return ""
    most = max(clear, key=lambda s: abs(s.first - s.second))
    smoother = tr("smoother") if most.first > most.second else tr("rougher")
    return tr("{smoother} {phase}", smoother=smoother, phase=PHASE[most.start, most.end])
