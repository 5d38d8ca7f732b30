"""Long work as responses."""

from __future__ import annotations

from finearc.api import models as m
from finearc.core.metrics.definition import Moment
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import change_in_words, in_words, moment_words
from finearc.services.jobs.measuring import MeasuringReport, ValueChange
from finearc.services.jobs.records import Job
from finearc.wording import tr


def job_out(job: Job) -> m.JobOut:
    """A job; of an import what it kept."""
    told = {"import": ("recording_id", "swings"), "bring": ("player_id",), "round": ("round_id", "player_id")}.get(
        job.kind, ()
    )
    kept = {k: v for k, v in (job.answer or {}).items() if k in told}
    return m.JobOut.model_validate(
        {
            **{k: getattr(job, k) for k in ("id", "kind", "state", "done", "total", "step", "code", "message")},
            "name": str(job.subject.get("name", "")),
            "stopping": job.cancel_wanted and not job.ended,
            "created_at": job.created_at,
            "ended_at": job.ended_at,
            **kept,
        }
    )


def change_shown(change: ValueChange) -> m.ChangeShown:
    """A change in words."""
    metric = BY_ID[change.metric]
    say = change_in_words if Moment(change.moment).is_change else in_words
    return m.ChangeShown(
        swing_id=change.swing_id,
        label=tr("{value}, swing {number}", value=change.player or "Walk-in", number=change.number),
        metric=metric.label,
        moment=moment_words(change.moment),
        before=say(metric, change.before),
        after=say(metric, change.after),
    )


def measuring_out(
    engine: str,
    job: Job | None,
    accepting: Job | None,
    stopped: Job | None,
    report: MeasuringReport | None,
) -> m.MeasuringOut:
    """Measuring everything again."""
    job_or, accepting_or, stopped_or = (None if j is None else job_out(j) for j in (job, accepting, stopped))
    return m.MeasuringOut(
        engine=engine,
        job=job_or,
        accepting=accepting_or,
        stopped=stopped_or,
        report=report,
        largest=[] if report is None else [change_shown(c) for c in report.largest],
    )
