"""Values in words: a direction instead of a sign, a moment by its name."""

from __future__ import annotations

from finearc.core.metrics.definition import Metric, Moment, Unit
from finearc.wording import manner, mark, number, tr

SYMBOL = {
    Unit.DEG: "°",
    Unit.CM: " cm",
    Unit.PERCENT: " %",
    Unit.SECONDS: " s",
    Unit.DEG_PER_S: "°/s",
    Unit.RATIO: "",
    Unit.CM_PER_S: " cm/s",
    Unit.CM2: " cm²",
    Unit.M: " m",
}


CM_PER_INCH, FOOT_M = 2.54, 0.3048
"""Exactly: international yard and pound agreement of 1959."""
IN_INCHES = {
    Unit.CM: (CM_PER_INCH, mark(" in")),
    Unit.CM_PER_S: (CM_PER_INCH, mark(" in/s")),
    Unit.CM2: (CM_PER_INCH**2, mark(" sq in")),
}
"""How many of a unit an inch's holds, and its symbol."""


def sized(unit: Unit, value: float, decimals: int) -> str:
    """A size in a metric's unit as the reader's units write it: ``12°``, ``3.1 in``."""
    if manner().lengths == "in" and unit in IN_INCHES:
        per, symbol = IN_INCHES[unit]
        return number(value / per, max(decimals, 1)) + tr(symbol)
    if manner().distances == "ft" and unit is Unit.M:
        return number(value / FOOT_M, decimals) + tr(" ft")
    return number(value, decimals) + SYMBOL[unit]


def amount(metric: Metric, value_si: float) -> str:
    """Size with its unit, no sign: ``12°``."""
    size = abs(metric.at_edge(value_si))
    if metric.told_to is not None and size > metric.told_to:
        return tr("over {size}", size=sized(metric.unit, metric.told_to, metric.decimals))
    return sized(metric.unit, size, metric.decimals)


def direction(metric: Metric, value_si: float, *, plain: bool) -> str:
    """Which way the value points: ``extended`` or ``cupped``."""
    if value_si >= 0:
        return metric.plain_positive if plain else metric.positive
    return metric.plain_negative if plain else metric.negative


def in_words(metric: Metric, value_si: float, *, plain: bool = False) -> str:
    """``12° extended``, ``0° `` reads ``0° extended`` or flat; a ratio reads ``3.0 to 1``."""
    return f"{amount(metric, value_si)} {direction(metric, value_si, plain=plain)}".strip()


def change_in_words(metric: Metric, value_si: float, *, plain: bool = False) -> str:
    """A change: ``12° more extended``, ``24 % less on the lead foot`` where both ways have one word, or in the metric's
    own words for a gain or a loss."""
    if metric.changes is not None:
        return f"{amount(metric, value_si)} {metric.changes[0 if value_si >= 0 else 1]}"
    way = way_in_words(metric, value_si, plain=plain)
    return f"{amount(metric, value_si)} {way}" if direction(metric, value_si, plain=plain) else amount(metric, value_si)


def way_in_words(metric: Metric, value_si: float, *, plain: bool = False) -> str:
    """``more extended``, ``less on the lead foot``."""
    word, other = (direction(metric, v, plain=plain) for v in (value_si, -1.0 if value_si >= 0 else 1.0))
    return f"{tr('less') if value_si < 0 and word == other else tr('more')} {word}".strip()


def at_moment(metric: Metric, moment: str, value_si: float, *, plain: bool = False) -> str:
    """A value in words: a change where the moment is one (``address..top``)."""
    return (change_in_words if Moment(moment).is_change else in_words)(metric, value_si, plain=plain)


OTHER_MOMENTS = {"swing": mark("whole swing"), "impact+0.1s": mark("0.1 s after impact")}
"""Moments that are no checkpoints."""


def moment_parts(key: str) -> list[str]:
    """The names of a moment's ends, as they are kept."""
    return [OTHER_MOMENTS.get(part, part.replace("_", " ")) for part in key.split("..")]


def moment_words(key: str) -> str:
    """``address..shaft_level_back`` as *address to shaft level back*: the one name of a moment on screen, page and in
    sentences (``moment`` in the front end's words.ts says the same)."""
    return tr(" to ").join(tr(part) for part in moment_parts(key))


def place_words(key: str) -> str:
    """Where a value stands, to be put behind its name: `` at top``, `` address to top``, nothing for a whole swing."""
    if key == "swing":
        return ""
    return f" {moment_words(key)}" if ".." in key else tr(" at {moment_words}", moment_words=moment_words(key))


def spread_in_words(metric: Metric, value_si: float) -> str:
    """An uncertainty with its unit, one more decimal where it would round to nothing: ``0.3°``."""
    size = abs(metric.at_edge(value_si))
    decimals = metric.decimals + (1 if size < 0.95 * 10.0**-metric.decimals else 0)
    return sized(metric.unit, size, decimals)
