"""The first priority's measure drawn as what it is: before and after, or from where to where it moved."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Any

from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import moment_words, place_words
from finearc.reports.gauge import gauge
from finearc.reports.picture import shown_swing
from finearc.reports.voice import Voice
from finearc.services.comparing.since import since_last
from finearc.services.lesson.documents import FindingOut
from finearc.services.lesson.pages import LessonRead, SwingRead
from finearc.services.ports import UnitOfWork
from finearc.wording import day_words, tr

SEEN_IN = {
    "hinge_held": ("lead_wrist_radial_deviation", "top", "arm_level_down"),
    "lead_knee_straightening": ("lead_knee_flexion", "arm_level_down", "impact"),
    "return_time": ("stance_position", "address", "top"),
    "peak_trail_share": ("stance_position", "address", "top"),
    "trail_push_off": ("stance_position", "top", "impact"),
}
"""What a measure that is told over a stretch is seen in: another measure, and where it is drawn (house choice)."""
Named = tuple[str, float]
"""What a value is called, and the value in the measure's unit."""


@dataclass(frozen=True)
class _Told:
    """``before``: None where there is nothing before."""

    before: Named | None
    after: Named


def before_after(
    uow: UnitOfWork, read: LessonRead, counting: Sequence[SwingRead], lead: FindingOut | None, voice: Voice
) -> dict[str, Any] | None:
    """The drawing with its words; None without a priority that was measured, and for a measure that is not drawn."""
    if lead is None or not counting:
        return None
    metric = BY_ID[lead.metric]
    start, _, end = lead.moment.partition("..")
    if lead.metric in SEEN_IN:
        name, start, end = SEEN_IN[lead.metric]
        metric = BY_ID[name]
    told = _moved(uow, counting, metric, start, end) if end else _changed(uow, read, counting, metric, start)
    if told is None:
        return None
    band = (None, None) if lead.metric in SEEN_IN else _band(counting, lead)
    drawn = gauge(metric, (told.before[1] if told.before else None, told.after[1]), band)
    if not drawn:
        return None
    per = PER_SI[metric.unit]

    def words(named: Named) -> dict[str, str]:
        return {"name": named[0], "value": voice.value(metric, end or start, named[1] / per)}

    place = place_words(end or start).replace(tr(" at top"), tr(" at the top"))
    what = voice.say(f"{voice.label(metric)}{'' if end else place}")
    parts = [words(n) for n in (told.before, told.after) if n is not None]
    return {
        "svg": drawn,
        "what": what,
        "before": parts[0] if len(parts) > 1 else None,
        "after": parts[-1],
        "says": f"{what}: " + "; ".join(f"{p['name']} {p['value']}" for p in parts),
    }


def _changed(
    uow: UnitOfWork, read: LessonRead, counting: Sequence[SwingRead], metric: Metric, moment: str
) -> _Told | None:
    """By the lesson's last test, else since the last lesson, else today alone."""
    tests = [b for b in read.blocks if (b.block.metric, b.block.moment) == (metric.id, moment) and b.change is not None]
    if tests and tests[-1].change is not None and tests[-1].change.change.before.n and tests[-1].change.change.after.n:
        change = tests[-1].change.change
        return _Told((tr("Before the drill"), change.before.median), (tr("After it"), change.after.median))
    since = since_last(uow, read.head.lesson)
    if since is not None and (since.metric, since.moment) == (metric, moment):
        on = day_words(since.on)
        return _Told((on, since.change.before.median), (tr("Today"), since.change.after.median))
    now = _middle(uow, counting, metric, moment)
    return None if now is None else _Told(None, (tr("Today"), now))


def _moved(uow: UnitOfWork, counting: Sequence[SwingRead], metric: Metric, start: str, end: str) -> _Told | None:
    """A change within the swing, from where to where."""
    a, b = (_middle(uow, counting, metric, at) for at in (start, end))
    if a is None or b is None:
        return None
    return _Told(
        (tr("At {moment_words}", moment_words=moment_words(start)), a),
        (tr("At {moment_words}", moment_words=moment_words(end)), b),
    )


def _middle(uow: UnitOfWork, counting: Sequence[SwingRead], metric: Metric, moment: str) -> float | None:
    rows = uow.swings.values([s.swing.id for s in counting], [(metric.id, moment)])
    return median(PER_SI[metric.unit] * r.value for r in rows) if rows else None


def _band(counting: Sequence[SwingRead], lead: FindingOut) -> tuple[float | None, float | None]:
    """Where the value should lie, in the measure's unit; of a change, where it should end."""
    shown = shown_swing(counting, lead)
    judged = shown.judgement.judged if shown is not None and shown.judgement is not None else {}
    start, _, end = lead.moment.partition("..")
    found = judged.get((lead.metric, lead.moment))
    if found is None:
        return None, None
    at_start = judged.get((lead.metric, start)) if end else None
    if end and at_start is None:
        return None, None
    base = at_start.measured.value if at_start is not None else 0.0
    per = PER_SI[found.measured.metric.unit]
    low, high = (None if v is None else per * (base + v) for v in (found.low, found.high))
    return low, high
