"""Verdicts in words: limits, evidence, and the blanks of a finding's sentences."""

from __future__ import annotations

import re
from functools import partial
from string import Formatter
from typing import TYPE_CHECKING

from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.words import (
    amount,
    at_moment,
    change_in_words,
    direction,
    in_words,
    moment_words,
    place_words,
    spread_in_words,
    way_in_words,
)
from finearc.wording import manner, tr

if TYPE_CHECKING:
    from finearc.core.judging.drills import TrainerBand
    from finearc.core.judging.ranges import Judged

PARTS = "foot|feet|knee|hip|side|arm|forearm|shoulder|hand|leg|wrist|heel|pocket"
SIDED = re.compile(rf"\b([Ll])ead ({PARTS})|\b([Tt])rail ({PARTS})")
SPANISH_PARTS = "pies?|rodilla|cadera|lado|brazo|antebrazo|hombro|mano|pierna|muñeca|talón|bolsillo|codo|dedo"
SPANISH_SIDED = re.compile(rf"\b({SPANISH_PARTS}) (delanter|traser)([oa]s?)\b", re.IGNORECASE)


def for_hand(text: str, *, left_handed: bool) -> str:
    """Lead and trail as this player's left and right: ``the lead foot`` of a right-hander is the left foot."""
    if manner().language == "es":
        return SPANISH_SIDED.sub(partial(_spanish_side, left_handed), text)

    def side(found: re.Match[str]) -> str:
        lead = found[1] is not None
        word = "left" if lead is not left_handed else "right"
        capital = (found[1] or found[3]).isupper()
        return f"{word.capitalize() if capital else word} {found[2] or found[4]}"

    return SIDED.sub(side, text)


def _spanish_side(left_handed: bool, found: re.Match[str]) -> str:
    left = (found[2].lower() == "delanter") is not left_handed
    return f"{found[1]} {'izquierd' if left else 'derech'}{found[3]}"


def limits_in_words(
    metric: Metric, low_si: float | None, high_si: float | None, *, plain: bool = False, change: bool = False
) -> str:
    """A band with directions instead of signs: ``15° to 5° bowed``, ``5° bowed to 5° cupped``, ``at least 80 %``."""
    if change and metric.changes is not None:
        return _change_limits(metric, low_si, high_si)
    if low_si is None or high_si is None:
        bound = low_si if high_si is None else high_si
        word = tr("at least") if high_si is None else tr("at most")
        return f"{word} {in_words(metric, bound or 0.0, plain=plain)}"
    if low_si < 0 < high_si:
        return tr(
            "{in_words} to {in_words2}",
            in_words=in_words(metric, low_si, plain=plain),
            in_words2=in_words(metric, high_si, plain=plain),
        )
    way = direction(metric, low_si + high_si, plain=plain)
    return tr(
        "{amount} to {amount2} {way}", amount=amount(metric, low_si), amount2=amount(metric, high_si), way=way
    ).strip()


def _change_limits(metric: Metric, low_si: float | None, high_si: float | None) -> str:
    known = [change_in_words(metric, v) for v in (low_si, high_si) if v is not None]
    if len(known) == 2:
        return tr("{known} to {known2}", known=known[0], known2=known[1])
    return f"{tr('at least') if high_si is None else tr('at most')} {known[0]}"


def trainer_band_words(band: TrainerBand, *, plain: bool = False) -> str:
    """The band of live feedback: what, within which limits, where; and whether it is told from the address."""
    metric = band.metric
    where = (
        place_words(band.end)
        if band.start == band.end
        else tr(
            ", {moment_words} to {moment_words2}",
            moment_words=moment_words(band.start),
            moment_words2=moment_words(band.end),
        )
    )
    told = (
        f"{metric.plain_label if plain else metric.label} {limits_in_words(metric, band.low, band.high, plain=plain)}"
    )
    if band.above_address is not None:
        plus = metric.plain_positive if plain else metric.positive
        told += tr(
            " and at most {amount} more {plus} than at address", amount=amount(metric, band.above_address), plus=plus
        )
    return f"{told}{where}{tr(' (relative to address)') if band.relative else ''}"


def evidence_sentence(judged: Judged, *, plain: bool = False) -> str:
    """One line of evidence: what, where, value, band, range id."""
    m = judged.measured
    value = at_moment(m.metric, m.moment.key, m.value, plain=plain)
    band = ""
    if judged.range is not None:
        limits = limits_in_words(m.metric, judged.low, judged.high, plain=plain, change=m.moment.is_change)
        band = tr(", band {limits} ({id})", limits=limits, id=judged.range.id)
    place = "" if m.moment.key == "swing" else f" · {moment_words(m.moment.key)}"
    name = m.metric.plain_label if plain else m.metric.label
    return f"{name}{place}: {value} ± {spread_in_words(m.metric, m.uncertainty)}{band}"


BLANKS = frozenset({"over", "more", "less", "past", "value", "amount"})
"""What a finding's sentence is filled with: how far beyond the band; toward more and less of the measure; the way it is
beyond; the value in words, and its size alone."""


def blanks_in(template: str) -> frozenset[str]:
    """What a sentence asks to be filled with. Raises ``ValueError`` where it asks for anything but plain names."""
    found = set()
    for _, name, spec, conversion in Formatter().parse(template):
        if name is not None:
            if spec or conversion or not name.isidentifier():
                raise ValueError(f"{{{name}}} is not one of {', '.join(sorted(BLANKS))}")
            found.add(name)
    return frozenset(found)


def _over(metric: Metric, distance_si: float) -> str:
    """How far beyond the band; never "0°", which would be no distance at all."""
    said = amount(metric, distance_si)
    if said != amount(metric, 0.0):
        return said
    return tr("less than {amount}", amount=amount(metric, 10.0 ** (-metric.decimals) / PER_SI[metric.unit]))


def fill(template: str, judged: Judged, *, plain: bool) -> str:
    """Fill a finding's sentence from its leading evidence: ``BLANKS`` says what may stand in it."""
    m = judged.measured
    more, less = (way_in_words(m.metric, sign, plain=plain) for sign in (1.0, -1.0))
    return template.format(
        over=_over(m.metric, judged.distance),
        more=more,
        less=less,
        past=more if judged.verdict.endswith("high") else less,
        value=at_moment(m.metric, m.moment.key, m.value, plain=plain),
        amount=amount(m.metric, m.value),
    )
