"""How steady a player is in one measure, lesson by lesson."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

import numpy as np

from finearc.core.comparing.consistency import Scatter, multiple_correlation, scatter
from finearc.core.comparing.progress import Steadiness
from finearc.core.comparing.traces import SwingTrace, stretched, top_node
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.words import amount
from finearc.services.comparing.progress import Point, player_progress
from finearc.services.comparing.sides import seen_of
from finearc.services.lesson.summary import counting_swings
from finearc.services.ports import UnitOfWork
from finearc.services.record.blocks import TRACES
from finearc.services.records import Player, Swing
from finearc.wording import tr

LESSONS, SWINGS = 12, 8
"""Sequences are read of so many of the newest lessons, and of so many of each one's first swings, before anything was
tested (house values)."""


@dataclass(frozen=True)
class Steady:
    """One lesson: scatter of the value (the measure's unit), None of fewer than three swings, and how alike the
    sequences were, 1 at most, None where that cannot be said."""

    lesson_id: UUID
    on: date
    swings: int
    scatter: Scatter | None
    likeness: float | None


@dataclass(frozen=True)
class ConsistencyRead:
    metric: Metric
    moment: str
    points: Sequence[Steady]
    sentence: str


def player_consistency(
    uow: UnitOfWork, player: Player, metric: str = "", moment: str = "", club: str = ""
) -> ConsistencyRead | None:
    """Of the same measure as ``player_progress``; None where that has none. Raises ``Refused``."""
    read = player_progress(uow, player, metric, moment, club)
    if read is None:
        return None
    newest = [p.lesson_id for p in read.points[-LESSONS:]]
    alike = _likenesses(uow, read.metric, read.club, newest)
    points = [Steady(p.lesson_id, p.on, p.swings, scatter(p.values), alike.get(p.lesson_id)) for p in read.points]
    return ConsistencyRead(read.metric, read.moment, points, _sentence(read.metric, read.points, read.found.steadiness))


def _likenesses(uow: UnitOfWork, metric: Metric, club: str, lessons: Sequence[UUID]) -> Mapping[UUID, float]:
    by_lesson: dict[UUID, list[Swing]] = {}
    for swing in counting_swings(uow.find(Swing, lesson_id=list(lessons), order="number"), club) if lessons else []:
        by_lesson.setdefault(swing.lesson_id, []).append(swing)
    out = {}
    for lesson_id, swings in by_lesson.items():
        tested = min((s.captured_at for s in swings if s.kind == "test"), default=None)
        ids = [s.id for s in swings if tested is None or s.captured_at < tested][:SWINGS]
        records, blocks = uow.swings.records(ids), uow.swings.blocks(ids, TRACES)
        seen = [seen_of(records[i], blocks.get(i)) for i in ids if i in records]
        found = _likeness([c for s in seen if (c := s.course(metric)) is not None])
        if found is not None:
            out[lesson_id] = found
    return out


def _likeness(traces: Sequence[SwingTrace]) -> float | None:
    top = top_node([traces])
    courses = [c for t in traces if (c := stretched(t, top)) is not None]
    return multiple_correlation(np.stack(courses)) if courses else None


def _sentence(metric: Metric, points: Sequence[Point], found: Steadiness | None) -> str:
    """No steadier or less steady than the numbers are."""
    per = PER_SI[metric.unit]
    known = [p for p in points if p.sd is not None]
    if found is None:
        if not known or known[-1].sd is None:
            return tr("Too few swings in a lesson to tell how steady it is: three are needed.")
        return tr("Within a lesson it scatters by ±\xa0{amount}.", amount=amount(metric, known[-1].sd / per))
    now, then = (amount(metric, x / per) for x in (found.last, found.first))
    if not found.changed:
        return tr("As steady as at first, as far as can be told: ±\xa0{now} now, ±\xa0{then} then.", now=now, then=then)
    how = tr("Steadier") if found.last < found.first else tr("Less steady")
    return tr("{how} than at first: ±\xa0{now} now, ±\xa0{then} then.", how=how, now=now, then=then)
