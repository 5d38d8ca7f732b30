"""Two sides compared, as it is told to screens."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from finearc.api import models as m
from finearc.core.comparing.drawn import Laid, MeanCourse
from finearc.core.comparing.words import BEYOND, between, more_in_words, said
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.typing import Array
from finearc.services.comparing.choices import Choice
from finearc.services.comparing.sides import StoredSide
from finearc.services.comparing.stored import Compared, CurveStretch, ValueRow, question

DIGITS = 4


def choice_out(c: Choice) -> m.ChoiceOut:
    """Something to compare with."""
    return m.ChoiceOut(key=c.key, kind=c.kind, name=c.name, moment=c.moment, number=c.number, on=c.on, swings=c.swings)


def compare_out(c: Compared) -> m.CompareOut:
    """All of a comparison."""
    chosen = c.chosen
    return m.CompareOut(
        a=_side(c.first),
        b=_side(c.second),
        notes=list(c.notes),
        metric=chosen.metric.id,
        moment=c.moment,
        sentences=[_sentence(s) for s in said(chosen, plain=False)],
        plain_sentences=[_sentence(s) for s in said(chosen, plain=True)],
        question=question(c),
        laid=None if c.drawn is None else _laid(c.drawn, chosen.metric, c.band),
        shifts=[
            m.CompareShiftOut(
                event=s.at.value, shift_ms=round(1000.0 * s.shift_s, 1), uncertainty_ms=round(1000.0 * s.sd_s, 1)
            )
            for s in chosen.shifts
        ],
        intensity=[
            m.CompareIntensityOut(
                start=i.start.value, end=i.end.value, ratio=round(i.ratio, 3), uncertainty=round(i.sd, 3)
            )
            for i in chosen.intensity
        ],
        metrics=[
            m.CompareMetricOut(metric=metric.id, values=[_value(metric, r) for r in rows])
            for metric, rows in c.metrics.items()
        ],
    )


def _sentence(words: str) -> str:
    return f"{words[0].upper()}{words[1:]}."


def _side(side: StoredSide) -> m.CompareSideOut:
    return m.CompareSideOut(
        key=str(side.asked),
        kind=side.asked.kind,
        name=side.name,
        number=side.number,
        on=side.on,
        club=side.around.club,
        player="" if side.player is None else side.player.name,
        lesson_id=side.lesson_id,
        swings=len(side.seen),
        swing_ids=list(side.swing_ids),
    )


def _value(metric: Metric, row: ValueRow) -> m.CompareValueOut:
    v, per = row.value, PER_SI[metric.unit]
    clear = abs(v.difference) > BEYOND * v.uncertainty
    return m.CompareValueOut(
        moment=v.moment.key,
        a=round(per * v.first, DIGITS),
        b=round(per * v.second, DIGITS),
        difference=round(per * v.difference, DIGITS),
        uncertainty=round(per * v.uncertainty, DIGITS),
        words=more_in_words(metric, v.difference, plain=False) if clear else "",
        plain_words=more_in_words(metric, v.difference, plain=True) if clear else "",
        change=_change(row),
    )


def _change(row: ValueRow) -> m.CompareChangeOut | None:
    c = row.change
    if c is None or np.isnan(c.difference):
        return None
    return m.CompareChangeOut(
        difference=round(c.difference, DIGITS),
        ci95=None if c.ci95 is None else [round(x, DIGITS) for x in c.ci95],
        smallest_relevant=c.smallest_relevant,
        verdict=c.verdict.value,
        more_swings=c.more_swings,
        real=row.real,
    )


def _laid(drawn: Laid, metric: Metric, band: tuple[Array, Array] | None) -> m.LaidOut:
    per = PER_SI[metric.unit]
    return m.LaidOut(
        node=drawn.node.tolist(),
        top=drawn.top,
        a=_course(drawn.first, per),
        b=_course(drawn.second, per),
        difference=_numbers(per * drawn.difference),
        uncertainty=[round(float(x), DIGITS) for x in per * drawn.uncertainty],
        band=None if band is None else m.LaidBandOut(low=_numbers(per * band[0]), high=_numbers(per * band[1])),
    )


def _course(course: MeanCourse, per: float) -> m.MeanCourseOut:
    return m.MeanCourseOut(
        mean=_numbers(per * course.mean),
        sd=None if course.sd is None else _numbers(per * course.sd),
        nodes={k.value: round(v, 2) for k, v in course.nodes.items()},
    )


def _numbers(values: Array) -> list[float | None]:
    return [round(float(x), DIGITS) if np.isfinite(x) else None for x in values]


def curves_out(metric: str, found: Sequence[CurveStretch] | None) -> m.CurvesOut:
    """Where courses differ."""
    stretches = None if found is None else [_stretch(s) for s in found]
    return m.CurvesOut(metric=metric, stretches=stretches)


def _stretch(s: CurveStretch) -> m.CurveStretchOut:
    return m.CurveStretchOut(
        first=round(s.stretch.first, 2),
        last=round(s.stretch.last, 2),
        start=s.start.value,
        end=s.end.value,
        more=s.stretch.more,
        p=s.stretch.p,
        words=between(s.start, s.end),
    )
