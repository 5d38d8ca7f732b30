"""What is first in a lesson against the player's last lesson with the same club: did it really change?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

import numpy as np

from finearc.core.comparing.change import MOST_MORE, Change, ChangeVerdict, compare
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import at_moment, place_words
from finearc.services.comparing.by_distance import at_shared_distances
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.lesson.summary import counting_swings
from finearc.services.lesson.wording import leading
from finearc.services.people.clock import clock_of
from finearc.services.ports import UnitOfWork, ValueRow
from finearc.services.records import Lesson, Priority, Swing
from finearc.wording import day_words, tr, trn

BACK = 12
"""So many lessons are looked back for one with the club (house value)."""


@dataclass(frozen=True)
class Since:
    """``change``: from the last lesson to this one, in the metric's unit."""

    lesson_id: UUID
    last_id: UUID
    on: date
    metric: Metric
    moment: str
    change: Change

    def line(self, *, plain: bool) -> str:
        """All of it in one sentence."""
        per = PER_SI[self.metric.unit]

        def said(value: float) -> str:
            return at_moment(self.metric, self.moment, value / per, plain=plain)

        name = (self.metric.plain_label if plain else self.metric.label).lower()
        place = place_words(self.moment).replace(tr(" at top"), tr(" at the top"))
        since = tr("Since {day}", day=day_words(self.on, "short"))
        then, now = said(self.change.before.median), said(self.change.after.median)
        verdict = self.change.verdict
        if verdict is ChangeVerdict.CHANGED:
            return tr(
                "{since}, {name}{place} really changed: from {then} to {now}.",
                since=since,
                name=name,
                place=place,
                then=then,
                now=now,
            )
        if verdict is ChangeVerdict.UNCHANGED:
            return tr("{since}, {name}{place} is the same: {now}.", since=since, name=name, place=place, now=now)
        if verdict is ChangeVerdict.TOO_FEW:
            return tr(
                "{since}, {name}{place}: {then} then, {now} now. Three swings in each lesson tell more.",
                since=since,
                name=name,
                place=place,
                then=then,
                now=now,
            )
        more = self.change.more_swings or 0
        if more > MOST_MORE:
            return tr(
                "{since}, {name}{place} cannot be told from scatter: {then} then, {now} now.",
                since=since,
                name=name,
                place=place,
                then=then,
                now=now,
            )
        swings = trn("{count} more swing", "{count} more swings", more)
        return tr(
            "{since}, {name}{place}: {then} then, {now} now. Too early to tell; about {swings}.",
            since=since,
            name=name,
            place=place,
            then=then,
            now=now,
            swings=swings,
        )


def since_last(uow: UnitOfWork, lesson: Lesson) -> Since | None:
    """Of what was first in the last lesson's plan, else in this one's; None where there is none of either."""
    here = counting_swings(uow.find(Swing, lesson_id=lesson.id), lesson.club)
    last, there = _last(uow, lesson) if here else (None, [])
    if last is None:
        return None
    key = _first(uow, last) or _first(uow, lesson)
    if key is None:
        return None
    rows = {r.swing_id: r for r in uow.swings.values([s.id for s in (*there, *here)], [key])}
    there, here = ([s for s in side if s.id in rows] for side in (there, here))
    if not here or not there:
        return None
    metric = BY_ID[key[0]]
    on = last.starts_at.astimezone(clock_of(uow)).date()
    then, now = ([(s, rows[s.id]) for s in side] for side in (there, here))
    return Since(lesson.id, last.id, on, metric, key[1], _change(metric, then, now))


def _last(uow: UnitOfWork, lesson: Lesson) -> tuple[Lesson | None, list[Swing]]:
    """The newest earlier lesson with swings of the club that count."""
    for last in uow.find(
        Lesson, player_id=lesson.player_id, starts_at__until=lesson.starts_at, order="-starts_at", most=BACK
    ):
        swings = counting_swings(uow.find(Swing, lesson_id=last.id), lesson.club)
        if swings:
            return last, swings
    return None, []


def _first(uow: UnitOfWork, lesson: Lesson) -> tuple[str, str] | None:
    """Metric and moment of the first priority that a finding speaks of."""
    rule_set = rule_set_of(uow, lesson)
    for p in uow.find(Priority, lesson_id=lesson.id, order="rank"):
        rule = rule_set.rule(p.finding) if p.finding else None
        if rule is not None:
            return leading(rule.when, rule_set.ranges)
    return None


Valued = Sequence[tuple[Swing, ValueRow]]


def _change(metric: Metric, before: Valued, after: Valued) -> Change:
    """Putts at the distances that both lessons have."""
    per = PER_SI[metric.unit]
    parts = [max(r.calibration_part for _, r in side) for side in (before, after)]
    own = max(max(0.0, r.uncertainty**2 - r.calibration_part**2) ** 0.5 for _, r in (*before, *after))
    values = [[per * r.value for _, r in side] for side in (before, after)]
    whose = [[s for s, _ in side] for side in (before, after)]
    same = at_shared_distances(values[0], values[1], whose[0], whose[1])
    calibration = per * float(np.hypot(parts[0], parts[1]))
    return compare(same.before, same.after, metric.smallest_relevant, calibration, per * own)
