"""Swings, recordings, blocks and lessons as responses: what the services answered, in the shape that is sent."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any
from uuid import UUID

import numpy as np

from finearc.api import models as m
from finearc.api.views.ground import ground_out
from finearc.api.views.people import lesson_player_out, priority_out
from finearc.api.views.told import to_reader
from finearc.core.events.model import ORDER
from finearc.core.events.swings import Shot
from finearc.core.judging.words import trainer_band_words
from finearc.core.metrics.definition import PER_SI, Source
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import in_words
from finearc.services.capture.addresses import grip_change_of
from finearc.services.capture.calibrating import calibration_of
from finearc.services.lesson.documents import CalibrationOut
from finearc.services.lesson.marks import PUTT
from finearc.services.lesson.pages import BlockRead, JoinedRead, LessonRead, SwingPage, SwingRead, trainer_bands
from finearc.services.lesson.summary import BlockChange
from finearc.services.record.document import SwingJudgement, SwingRecord
from finearc.services.records import Block, Recording, Swing
from finearc.services.revisions import lesson_written, revision_of
from finearc.wording import anew, tr

MS = 4
"""Decimals of an instant, s."""


def swing_brief(read: SwingRead) -> m.SwingBrief:
    """A swing in the strip."""
    return m.SwingBrief(**_brief(read.swing, read.judgement, read.checkpoints))


def _brief(swing: Swing, judgement: SwingJudgement | None, checkpoints: Mapping[str, float]) -> dict[str, Any]:
    outside = {} if judgement is None else judgement.outside
    return {
        "id": swing.id,
        "number": swing.number,
        "recording_id": swing.recording_id,
        "kind": swing.kind,
        "discard_reason": swing.discard_reason,
        "club": swing.club,
        "ball_start": swing.ball_start,
        "ball_curve": swing.ball_curve,
        "strike": swing.strike,
        "sensor_moved": swing.sensor_moved,
        "grip": _grip_out(swing),
        "tags": swing.tags,
        "pattern": None if judgement is None else judgement.pattern,
        "dip": judgement is not None and judgement.dip,
        "outside": {k: [[round(a, MS), round(b, MS)] for a, b in spans] for k, spans in outside.items() if spans},
        "checkpoints": {k: round(t, MS) for k, t in checkpoints.items()},
        "block_id": swing.block_id,
        "measuring": swing.measuring,
        **_putt(swing),
    }


def _putt(swing: Swing) -> dict[str, Any]:
    """What is noted of a putt; of another swing nothing."""
    return {"putt": m.PuttOut(**{name: getattr(swing, name) for name in PUTT})} if swing.shot == Shot.PUTT else {}


def _grip_out(swing: Swing) -> m.GripOut | None:
    change = grip_change_of(swing)
    if change is None:
        return None
    said = change.question(plain=False), change.question()
    return m.GripOut(question=said[0], plain_question=said[1], answer=swing.grip_answer)


def swing_out(page: SwingPage) -> m.SwingOut:
    """One swing with everything about it."""
    swing, record = page.swing, page.record
    return m.SwingOut(
        **_brief(swing, page.judgement, page.judgement.instants),
        lesson_id=swing.lesson_id,
        start_s=swing.start_s,
        end_s=swing.end_s,
        engine=record.engine,
        benchmarks=page.judgement.benchmarks,
        events=_events(swing, record),
        absent_events=[m.AbsentEvent(name=k.value, reason=anew(why)) for k, why in record.absent.items()],
        values=dict(page.values),
        judged=list(page.judged),
        missing=_missing(record.missing),
        findings=list(page.findings),
        not_assessed=list(page.not_assessed),
        warnings=[anew(w) for w in record.warnings],
        headline=page.headline,
        bands={k: _knots(k, knots) for k, knots in page.judgement.bands.items()},
        figure=None
        if record.figure is None
        else m.FigureInfo(
            measured=list(record.figure.measured),
            faint=list(record.figure.faint),
            placed=record.figure.placed,
            note=record.figure.note,
        ),
        ground=ground_out(swing, record, page.judgement, page.recording),
        power=list(page.power),
        sources=[tr(s) for s in page.sources if s not in (Source.NOTED, Source.SEVERAL)],
        captured_at=swing.captured_at,
    )


def _knots(metric: str, knots: Sequence[tuple[float, float, float]]) -> list[list[float]]:
    per = PER_SI[BY_ID[metric].unit]
    return [[round(t, MS), round(per * low, 4), round(per * high, 4)] for t, low, high in knots]


def _missing(missing: Mapping[str, str]) -> list[m.MissingOut]:
    by_reason: dict[str, list[str]] = {}
    for metric, why in missing.items():
        if metric in BY_ID:
            by_reason.setdefault(why, []).append(metric)
    return [m.MissingOut(reason=anew(why), metrics=metrics) for why, metrics in by_reason.items()]


def _events(swing: Swing, record: SwingRecord) -> list[m.EventOut]:
    out = []
    for name in ORDER:
        e = record.checkpoints.get(name)
        if e is None:
            continue
        detected = record.detected.get(name)
        out.append(
            m.EventOut(
                name=name.value,
                time_s=round(e.time_s, 6),
                uncertainty_s=round(e.uncertainty_s, 6),
                method=e.method,
                confidence=e.confidence,
                others=[
                    m.OtherEventOut(time_s=round(o.time_s, 6), uncertainty_s=round(o.uncertainty_s, 6), method=o.method)
                    for o in e.others
                ],
                detected_s=round(detected.time_s, 6) if detected else None,
                corrected=name.value in swing.checkpoints_corrected,
            )
        )
    return out


def _calibration(recording: Recording) -> CalibrationOut | None:
    known = calibration_of(recording)
    return None if known is None else CalibrationOut.model_validate(to_reader(known.model_dump()))


def recording_out(recording: Recording) -> m.RecordingOut:
    """One recording: calibration quality and setup answer."""
    return m.RecordingOut(
        id=recording.id,
        number=recording.number,
        source=recording.source,
        glove=recording.glove,
        segments=recording.segments,
        calibration=_calibration(recording),
        warnings=[anew(w) for w in recording.warnings],
        scenario=recording.scenario,
        shot=recording.shot,
        setup=None if recording.setup is None else m.SetupOut.model_validate(to_reader(recording.setup)),
    )


def block_out(read: BlockRead) -> m.BlockOut:
    """A drill or test block."""
    block = read.block
    return m.BlockOut(
        id=block.id,
        kind="drill" if block.kind == "drill" else "test",
        finding=block.finding,
        metric=block.metric,
        moment=block.moment,
        drill=block.drill,
        club=block.club,
        running=block.ended_at is None,
        swings=read.swings,
        change=None if read.change is None else change_out(read.change, block),
    )


def change_out(b: BlockChange, block: Block) -> m.ChangeOut:
    """Before against after."""
    metric = BY_ID[block.metric]
    per, c = PER_SI[metric.unit], b.change

    def known(value: float) -> float | None:
        return None if np.isnan(value) else value

    def words(value: float) -> str:
        return "" if np.isnan(value) else in_words(metric, value / per)

    return m.ChangeOut(
        metric=block.metric,
        moment=block.moment,
        before=list(b.before),
        after=list(b.after),
        before_median=known(c.before.median),
        after_median=known(c.after.median),
        before_spread=known(c.before.sd),
        after_spread=known(c.after.sd),
        before_words=words(c.before.median),
        after_words=words(c.after.median),
        typical_error=c.typical_error,
        detectable=c.smallest_detectable,
        difference=known(c.difference),
        ci95=None if c.ci95 is None else list(c.ci95),
        smallest_relevant=c.smallest_relevant,
        verdict=c.verdict.value,
        more_swings=c.more_swings,
        changed=c.changed,
        sentence=b.sentence,
        across_calibrations=c.across_calibrations,
    )


def joined_out(read: JoinedRead) -> m.LessonJoined:
    """What came to a lesson."""
    return m.LessonJoined(
        recordings=[recording_out(r) for r in read.recordings],
        swings=[swing_brief(s) for s in read.swings],
        summaries=list(read.summaries),
        blocks=[block_out(b) for b in read.blocks],
    )


def lesson_out(read: LessonRead) -> m.LessonOut:
    """A lesson with all that its screens show."""
    head, lesson = read.head, read.head.lesson
    return m.LessonOut(
        id=lesson.id,
        player=lesson_player_out(head.player, head.limits, read.schools),
        instructor=head.instructor,
        bay=lesson.bay,
        starts_at=lesson.starts_at,
        ends_at=lesson.ends_at,
        status=lesson.status,
        club=lesson.club,
        kind=lesson.kind,
        pain=lesson.pain,
        pain_note=lesson.pain_note,
        pinned=[UUID(p) for p in lesson.pinned],
        note=lesson.note,
        next_date=lesson.next_date,
        schools=dict(read.schools),
        benchmarks=read.rule_set.ranges.version,
        planned=lesson.planned,
        last_priorities=[priority_out(p) for p in read.last_priorities],
        priorities=[priority_out(p) for p in read.priorities],
        recordings=[recording_out(r) for r in read.recordings],
        swings=[swing_brief(s) for s in read.swings],
        summaries=list(read.summaries),
        blocks=[block_out(b) for b in read.blocks],
        revision=revision_of(lesson_written(lesson, [p.priority for p in read.priorities])),
        can_undo=head.undo,
        can_redo=head.redo,
        trainer_bands={
            k: m.TrainerBandOut(words=trainer_band_words(b), plain_words=trainer_band_words(b, plain=True))
            for k, b in trainer_bands(read).items()
        },
    )
