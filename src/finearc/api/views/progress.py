"""A player's progress, as it is told."""

from __future__ import annotations

from finearc.api import models as m
from finearc.services.comparing.consistency import ConsistencyRead
from finearc.services.comparing.progress import ProgressRead
from finearc.services.comparing.since import Since

DIGITS = 4


def progress_out(read: ProgressRead) -> m.ProgressOut:
    """Points, events, and what is to be said of them."""
    found = read.found
    trend = found.trend
    return m.ProgressOut(
        metric=read.metric.id,
        moment=read.moment,
        club=read.club,
        sentence=read.sentence,
        plain_sentence=read.plain_sentence,
        verdict="one_lesson" if found.change is None else found.change.verdict.value,
        points=[
            m.ProgressPointOut(
                lesson_id=p.lesson_id,
                on=p.on,
                swings=p.swings,
                median=round(p.median, DIGITS),
                low=round(p.low, DIGITS),
                high=round(p.high, DIGITS),
                sd=_number(p.sd),
                test=_number(p.test),
                kept=p.kept,
            )
            for p in read.points
        ],
        noise=_number(found.noise),
        per_week=_number(trend.per_week) if trend is not None and trend.certain else None,
        low=_number(read.low),
        high=_number(read.high),
        events=[m.ProgressEventOut(on=e.on, kind=e.kind, says=e.says) for e in read.events],
        offered=[m.ProgressOfferOut(metric=a, moment=b, club=c) for a, b, c in read.offered],
    )


def consistency_out(read: ConsistencyRead) -> m.ConsistencyOut:
    """How steady it is, lesson by lesson."""
    return m.ConsistencyOut(
        metric=read.metric.id,
        moment=read.moment,
        sentence=read.sentence,
        points=[
            m.SteadyOut(
                lesson_id=p.lesson_id,
                on=p.on,
                swings=p.swings,
                sd=None if p.scatter is None else _number(p.scatter.sd),
                low=None if p.scatter is None else _number(p.scatter.low),
                high=None if p.scatter is None else _number(p.scatter.high),
                likeness=_number(p.likeness),
            )
            for p in read.points
        ],
    )


def since_out(found: Since) -> m.SinceOut:
    """The last lesson and this one in one sentence."""
    return m.SinceOut(
        a=f"lesson:{found.lesson_id}",
        b=f"lesson:{found.last_id}",
        metric=found.metric.id,
        moment=found.moment,
        verdict=found.change.verdict.value,
        sentence=found.line(plain=False),
        plain_sentence=found.line(plain=True),
    )


def _number(value: float | None) -> float | None:
    return None if value is None else round(value, DIGITS)
