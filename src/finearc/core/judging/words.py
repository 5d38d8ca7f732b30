"""Values in words: a direction instead of a sign."""

from __future__ import annotations

from finearc.core.judging.ranges import Judged
from finearc.core.metrics.definition import PER_SI, Metric, Unit

SYMBOL = {Unit.DEG: "°", Unit.CM: " cm", Unit.PERCENT: " %", Unit.SECONDS: " s", Unit.DEG_PER_S: "°/s", Unit.RATIO: ""}


def amount(metric: Metric, value_si: float) -> str:
    """Size with its unit, no sign: ``12°``."""
    size = abs(metric.at_edge(value_si))
    return f"{size:.{metric.decimals}f}{SYMBOL[metric.unit]}"


def direction(metric: Metric, value_si: float, *, plain: bool) -> str:
    """Which way the value points: ``extended`` or ``cupped``."""
    if value_si >= 0:
        return metric.plain_positive if plain else metric.positive
    return metric.plain_negative if plain else metric.negative


def in_words(metric: Metric, value_si: float, *, plain: bool = False) -> str:
    """``12° extended``, ``0° `` reads ``0° extended`` or flat; a ratio reads ``3.0 to 1``."""
    return f"{amount(metric, value_si)} {direction(metric, value_si, plain=plain)}".strip()


def change_in_words(metric: Metric, value_si: float, *, plain: bool = False) -> str:
    """A change: ``12° more extended``."""
    word = direction(metric, value_si, plain=plain)
    return f"{amount(metric, value_si)} more {word}".strip() if word else amount(metric, value_si)


def evidence_sentence(judged: Judged) -> str:
    """One line of evidence: what, where, value, band, range id."""
    m = judged.measured
    where = m.moment.key.replace("..", " to ").replace("_", " ")
    say = change_in_words if m.moment.is_change else in_words
    value = say(m.metric, m.value)
    band = ""
    if judged.range is not None:
        scale = PER_SI[m.metric.unit]
        unit = SYMBOL[m.metric.unit]
        d = m.metric.decimals
        low = "" if judged.low is None else f"{judged.low * scale:.{d}f}"
        high = "" if judged.high is None else f"{judged.high * scale:.{d}f}"
        limits = f"{low} to {high}" if low and high else (f"at least {low}" if low else f"at most {high}")
        band = f", band {limits}{unit} ({judged.range.id})"
    place = "" if m.moment.key == "swing" else f" · {where}"
    return f"{m.metric.label}{place}: {value} ± {amount(m.metric, m.uncertainty)}{band}"


def fill(template: str, judged: Judged, *, plain: bool) -> str:
    """Fill a finding's sentence from its leading evidence."""
    m = judged.measured
    plus = m.metric.plain_positive if plain else m.metric.positive
    minus = m.metric.plain_negative if plain else m.metric.negative
    return template.format(
        over=amount(m.metric, judged.distance),
        more=f"more {plus}",
        less=f"more {minus}",
        value=in_words(m.metric, m.value, plain=plain),
    )
