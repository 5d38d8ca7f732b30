"""Two sides of the record compared: one measure whole, the values of all, and whether any of it is real."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.comparing.change import LEAST, LEVEL, MOST_MORE, Change, ChangeVerdict, compare, holm
from finearc.core.comparing.compared import MetricCompared, ValueCompared, compare_courses, compare_values
from finearc.core.comparing.curves import Stretch, compare_curves, where
from finearc.core.comparing.drawn import Laid, laid
from finearc.core.comparing.seen import courses
from finearc.core.comparing.traces import top_node
from finearc.core.comparing.words import BEYOND
from finearc.core.events.model import Checkpoint
from finearc.core.metrics.definition import PER_SI, Measured, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import amount
from finearc.core.typing import Array
from finearc.services.comparing.around import notes, one_calibration
from finearc.services.comparing.sides import StoredSide
from finearc.services.errors import Refused
from finearc.wording import tr, trn

Key = tuple[Metric, str]


@dataclass(frozen=True)
class ValueRow:
    """One value of both sides. ``change``: whether the groups really differ, None where one is no group; ``real``: the
    same after so many looks."""

    value: ValueCompared
    change: Change | None
    real: bool


@dataclass(frozen=True)
class Compared:
    """``metrics``: what both sides have, in the catalogue's order; ``chosen``: the measure shown whole, at the moment
    that ``change`` is about; ``drawn`` is None where its course cannot be laid over; ``band``: lower and upper limit at
    its nodes, where one side is a band."""

    first: StoredSide
    second: StoredSide
    notes: Sequence[str]
    metrics: Mapping[Metric, Sequence[ValueRow]]
    chosen: MetricCompared
    moment: str
    drawn: Laid | None
    band: tuple[Array, Array] | None = None

    @property
    def row(self) -> ValueRow | None:
        """The value that is asked about first."""
        return next((r for r in self.metrics[self.chosen.metric] if r.value.moment.key == self.moment), None)


def compared(first: StoredSide, second: StoredSide, metric: str = "", moment: str = "") -> Compared:
    """``metric`` and ``moment``: what is asked about first; else what the second look at a block was for, else what
    differs most. Raises ``Refused``."""
    if ("putt" in first.around.shot) != ("putt" in second.around.shot):
        raise Refused(tr("one is a putt and the other is not"), tr("Compare putts with putts"))
    same = one_calibration(first.around, second.around)
    values = compare_values(first.seen, second.seen, one_calibration=same)
    if not values:
        raise Refused(
            tr("the two have no measure in common"), tr("Choose two that were measured with the same sensors")
        )
    key = _asked_first(first, second, values, metric, moment)
    chosen = compare_courses(key[0], values[key[0]], first.seen, second.seen, one_calibration=same)
    drawn = _drawn(first, second, chosen, key[1])
    return Compared(
        first,
        second,
        notes(first.around, second.around, same=same) + _not_used(first, second),
        _rows(first, second, values, key, same=same),
        chosen,
        key[1],
        drawn,
        _band(first, second, chosen.metric, drawn),
    )


def _band(first: StoredSide, second: StoredSide, metric: Metric, drawn: Laid | None) -> tuple[Array, Array] | None:
    edges = first.edges or second.edges
    if edges is None or drawn is None:
        return None
    low, high = (courses(metric, side) for side in edges)
    found = laid(low, high, drawn.top, 0.0)
    return None if found is None else (found.first.mean, found.second.mean)


def _not_used(first: StoredSide, second: StoredSide) -> list[str]:
    numbers = sorted({n for side in (first, second) for n in side.left_out})
    if not numbers:
        return []
    which = (
        tr("Swing {numbers} is", numbers=numbers[0])
        if len(numbers) == 1
        else tr("{numbers} swings are", numbers=len(numbers))
    )
    return [tr("{which} left out: a sensor may have moved.", which=which)]


def _asked_first(
    first: StoredSide,
    second: StoredSide,
    values: Mapping[Metric, Sequence[ValueCompared]],
    metric: str,
    moment: str,
) -> Key:
    about = first.about or second.about
    wanted = [(metric, moment)] + ([about] if about is not None else [])
    for name, at in wanted:
        if name in BY_ID and BY_ID[name] in values:
            keys = [v.moment.key for v in values[BY_ID[name]]]
            return BY_ID[name], at if at in keys or not keys else _clearest(values[BY_ID[name]])
    most = max(values, key=lambda m: max((_clear(v) for v in values[m]), default=0.0))
    return most, _clearest(values[most])


def _clear(v: ValueCompared) -> float:
    """How far beyond its uncertainty a difference is."""
    return abs(v.difference) / max(v.uncertainty, 1e-9)


def _clearest(values: Sequence[ValueCompared]) -> str:
    return max(values, key=_clear).moment.key if values else ""


def _rows(
    first: StoredSide,
    second: StoredSide,
    values: Mapping[Metric, Sequence[ValueCompared]],
    asked: Key,
    *,
    same: bool,
) -> dict[Metric, list[ValueRow]]:
    """The value asked about is tested by itself, the rest corrected for having looked at all of it; where one side is
    no group nothing is tested."""
    if min(len(first.seen), len(second.seen)) < LEAST or first.edges or second.edges:
        return {m: [ValueRow(v, None, False) for v in of] for m, of in values.items()}
    sides = [_by_key(side) for side in (first, second)]
    changes = {
        (m, v.moment.key): _change(m, sides[0][m, v.moment.key], sides[1][m, v.moment.key], same=same)
        for m, of in values.items()
        for v in of
    }
    others = [k for k, c in changes.items() if k != asked and c.p is not None]
    adjusted = dict(zip(others, holm([changes[k].p or 0.0 for k in others]), strict=True))
    return {
        m: [
            ValueRow(v, c, c.changed and adjusted.get((m, v.moment.key), 0.0) < LEVEL)
            for v in of
            for c in [changes[m, v.moment.key]]
        ]
        for m, of in values.items()
    }


def _by_key(side: StoredSide) -> dict[Key, list[Measured]]:
    found: dict[Key, list[Measured]] = {}
    for seen in side.seen:
        for v in seen.measured:
            found.setdefault((v.metric, v.moment.key), []).append(v)
    return found


def _change(metric: Metric, here: Sequence[Measured], there: Sequence[Measured], *, same: bool) -> Change:
    """From the second side to the first, in the measure's unit."""
    per = PER_SI[metric.unit]
    parts = [max((v.calibration_part for v in side), default=0.0) for side in (here, there)]
    calibration = 0.0 if same else float(np.hypot(parts[0], parts[1]))
    own = max((max(0.0, v.uncertainty**2 - v.calibration_part**2) ** 0.5 for v in (*here, *there)), default=0.0)
    before, after = ([per * v.value for v in side] for side in (there, here))
    return compare(before, after, metric.smallest_relevant, per * calibration, per * own)


def _drawn(first: StoredSide, second: StoredSide, chosen: MetricCompared, moment: str) -> Laid | None:
    known = [v.uncertainty for v in chosen.values if not v.moment.is_change]
    at = [v.uncertainty for v in chosen.values if v.moment.key == moment and not v.moment.is_change]
    a, b = (courses(chosen.metric, s.seen) for s in (first, second))
    if not known or not a or not b:
        return None
    return laid(a, b, top_node((a, b)), float((at or [np.median(known)])[0]))


def question(c: Compared) -> str:
    """Whether the value asked about first really differs, in one sentence; empty where one side is no group."""
    row = c.row
    if row is None or row.change is None:
        return ""
    change, metric = row.change, c.chosen.metric
    if change.verdict is ChangeVerdict.CHANGED:
        return tr("A real difference.")
    if change.verdict is ChangeVerdict.UNCHANGED:
        least = amount(metric, change.smallest_relevant / PER_SI[metric.unit])
        return tr("No difference that matters: less than {least}.", least=least)
    if change.verdict is ChangeVerdict.TOO_FEW:
        return tr("Too early to tell: {least} swings on each side are needed.", least=LEAST)
    more = change.more_swings or 0
    if more > MOST_MORE:
        if change.across_calibrations:
            return tr("Not distinguishable across two calibrations.")
        return tr(
            "Not distinguishable from scatter: it takes more than {most_more} more swings on each side.",
            most_more=MOST_MORE,
        )
    return trn(
        "Too early to tell; about {count} more swing on each side.",
        "Too early to tell; about {count} more swings on each side.",
        more,
    )


@dataclass(frozen=True)
class CurveStretch:
    """A stretch over which the groups differ, and the checkpoints next to its ends."""

    stretch: Stretch
    start: Checkpoint
    end: Checkpoint


def curve_stretches(first: StoredSide, second: StoredSide, metric: str) -> list[CurveStretch] | None:
    """Where along the swing the groups differ; None where one has fewer than three courses. Raises ``Refused``."""
    if metric not in BY_ID:
        raise Refused(tr('there is no measure "{metric}"', metric=metric), tr("Choose one of the list"))
    if first.edges or second.edges:
        return None
    a, b = (courses(BY_ID[metric], s.seen) for s in (first, second))
    top = top_node((a, b))
    found = compare_curves(a, b, top)
    places = laid(a, b, top, 0.0) if found is not None else None
    if found is None or places is None:
        return None
    open_si = _left_open(first, second, BY_ID[metric])
    clear = [s for s in found.stretches if _beyond(places, s, open_si)]
    shared = places.first.nodes.keys() & places.second.nodes.keys()
    nodes = {k: 0.5 * (places.first.nodes[k] + places.second.nodes[k]) for k in shared}
    return [CurveStretch(s, *where(s, nodes)) for s in clear]


def _left_open(first: StoredSide, second: StoredSide, metric: Metric) -> float:
    """What two calibrations leave open of a difference, SI: scatter does not know of it."""
    if one_calibration(first.around, second.around):
        return 0.0
    parts = [
        max((v.calibration_part for x in s.seen for v in x.measured if v.metric is metric), default=0.0)
        for s in (first, second)
    ]
    return float(np.hypot(parts[0], parts[1]))


def _beyond(places: Laid, stretch: Stretch, open_si: float) -> bool:
    """Whether the difference anywhere in a stretch is more than what calibrations leave open."""
    inside = (places.node >= stretch.first) & (places.node <= stretch.last)
    return not inside.any() or bool(np.nanmax(np.abs(places.difference[inside])) > BEYOND * open_si)
