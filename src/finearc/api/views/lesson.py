"""Swings, recordings, blocks and lessons as responses."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import UUID

import numpy as np

from finearc.api import models as m
from finearc.api.views.ground import ground_out
from finearc.api.views.people import player_out, priority_out
from finearc.api.views.power import power_out
from finearc.api.views.setup import setup_out
from finearc.api.views.summary import summary_out
from finearc.api.views.values import finding_out, metric_value, not_assessed_out
from finearc.catalogue.rule_set import RuleSet
from finearc.core.events.model import ORDER
from finearc.core.judging.ranges import Verdict
from finearc.core.judging.words import in_words
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID, LEAD_WRIST_EXTENSION
from finearc.services.judging.academy_rules import rule_set_of, schools_of
from finearc.services.lesson import summary
from finearc.services.lesson.lessons import last_priorities
from finearc.services.ports import UnitOfWork
from finearc.services.record.stored import evidence_of, unpack_traces
from finearc.services.records import (
    Block,
    ChangeEntry,
    Instructor,
    Lesson,
    Player,
    Priority,
    Recording,
    Swing,
)

STRIP_VALUES = (
    ("lead_wrist_extension", "address"),
    ("lead_wrist_extension", "top"),
    ("lead_wrist_extension", "impact"),
    ("lead_wrist_radial_deviation", "address"),
    ("lead_wrist_radial_deviation", "top"),
    ("lead_wrist_radial_deviation", "impact"),
    ("lead_wrist_extension", "shaft_level_back"),
    ("shaft_elevation", "top"),
    ("hinge_held", "swing"),
    ("tempo", "swing"),
    ("takeaway_dip", "swing"),
    ("lead_wrist_extension", "address..shaft_level_back"),
    ("lead_wrist_extension", "top..impact"),
    ("hand_roll", "top"),
    ("hand_roll", "impact"),
)


NOTHING = "Nothing to change here."


def out_spans(swing: Swing) -> dict[str, list[list[float]]]:
    """Stretches of time (s) in which a trace leaves its band, per metric."""
    if not swing.traces:
        return {}
    columns = unpack_traces(swing.traces)
    spans: dict[str, list[list[float]]] = {}
    for metric in columns:
        low, high = columns.get(f"{metric}_band_low"), columns.get(f"{metric}_band_high")
        if low is None or high is None:
            continue
        with np.errstate(invalid="ignore"):
            out = (columns[metric] > high) | (columns[metric] < low)
        edges = np.flatnonzero(np.diff(np.concatenate([[False], out, [False]]).astype(np.int8))).reshape(-1, 2)
        time_s = columns["time_s"]
        spans[metric] = [[float(time_s[a]), float(time_s[b - 1])] for a, b in edges if b - a > 1]
    return spans


def swing_brief(swing: Swing) -> m.SwingBrief:
    entries = {(e["metric"], e["event"]): e for e in swing.result.get("metrics", [])}
    shown = {f"{a}@{b}": e for (a, b), e in entries.items() if (a, b) in STRIP_VALUES or e.get("range_id")}
    pattern = swing.result.get("pattern") or {}
    return m.SwingBrief(
        id=swing.id,
        number=swing.number,
        recording_id=swing.recording_id,
        kind=swing.kind,
        discard_reason=swing.discard_reason,
        club=swing.club,
        ball_start=swing.ball_start,
        ball_curve=swing.ball_curve,
        strike=swing.strike,
        sensor_moved=swing.sensor_moved,
        tags=swing.tags,
        pattern=pattern.get("pattern"),
        dip=bool(pattern.get("dip")),
        verdicts={k: e["verdict"] for k, e in shown.items()},
        values={k: e["value"] for k, e in shown.items()},
        out_spans=out_spans(swing),
        checkpoints={k: e["time_s"] for k, e in swing.result.get("events", {}).items()},
        block_id=swing.block_id,
    )


def swing_out(uow: UnitOfWork, swing: Swing) -> m.SwingOut:
    """One swing with everything about it."""
    result = swing.result
    lesson = uow.get(Lesson, swing.lesson_id)
    rule_set = rule_set_of(uow, lesson)
    findings, open_questions = rule_set.find([evidence_of(result, rule_set)])
    counting = summary.counting_swings(uow.find(Swing, lesson_id=swing.lesson_id), swing.club)
    player = uow.get(Player, lesson.player_id)
    ball = summary.flight_of(counting or [swing], player).words
    left = player.handedness == "left"
    told = [finding_out(f, rule_set.ranges, ball, left_handed=left) for f in findings]
    return m.SwingOut(
        **swing_brief(swing).model_dump(),
        lesson_id=swing.lesson_id,
        start_s=swing.start_s,
        end_s=swing.end_s,
        engine=result.get("engine", ""),
        benchmarks=result.get("benchmarks", ""),
        events=_events(swing),
        absent_events=[m.AbsentEvent(name=k, reason=v) for k, v in result.get("absent_events", {}).items()],
        metrics=[metric_value(e, rule_set.ranges) for e in result.get("metrics", [])],
        missing=[
            m.MissingOut(
                metric=e["metric"],
                label=BY_ID[e["metric"]].label,
                family=BY_ID[e["metric"]].family.value,
                reason=e["reason"],
            )
            for e in result.get("missing", [])
        ],
        findings=told,
        not_assessed=[not_assessed_out(n) for n in open_questions],
        warnings=result.get("warnings", []),
        headline=_headline(swing, told),
        figure=m.FigureInfo(**result["figure"]) if result.get("figure") else None,
        ground=ground_out(swing, uow.get(Recording, swing.recording_id)),
        power=power_out(result),
        sources=sorted({e.get("source") or "" for e in result.get("metrics", [])} - {"", "events"}),
        captured_at=swing.captured_at,
    )


def _events(swing: Swing) -> list[m.EventOut]:
    events = swing.result.get("events", {})
    out = []
    for name in ORDER:
        e = events.get(name.value)
        if e is None:
            continue
        detected = swing.events_detected.get(name.value)
        out.append(
            m.EventOut(
                name=name.value,
                **e,
                detected_s=detected["time_s"] if detected else None,
                corrected=name.value in swing.events_corrected,
            )
        )
    return out


def _headline(swing: Swing, findings: Sequence[m.FindingOut]) -> m.Headline:
    if swing.sensor_moved:
        text = "The sensor may have moved: calibrate again."
        return m.Headline(
            text=text,
            plain_text=text,
            tends="Until then this swing's angles are not judged.",
            player_text=text,
            finding=None,
            metric=LEAD_WRIST_EXTENSION.id,
            moment="address",
        )
    if findings:
        order = ("setup", "takeaway", "top", "transition", "downswing", "impact")
        roots = [f for f in findings if f.role == "root"] or list(findings)
        strong = [f for f in roots if f.severity >= 0.12]
        f = min(strong or roots, key=lambda x: (order.index(x.phase), -x.severity))
        fits = f" It fits with the ball flight: {', '.join(f.fits)}." if f.fits else ""
        return m.Headline(
            text=f.says,
            plain_text=f.plain_says,
            tends=f.tends + fits,
            player_text=f.player_says,
            finding=f.finding,
            metric=f.metric,
            moment=f.moment if ".." not in f.moment else f.moment.split("..")[1],
        )
    judged = [e for e in swing.result.get("metrics", []) if e["verdict"] != Verdict.NOT_JUDGED.value]
    text = NOTHING if judged else "The pattern is shown; no range applies here, so nothing is judged."
    return m.Headline(
        text=text,
        plain_text=text,
        tends="Keep this." if judged else "",
        player_text=text,
        finding=None,
        metric=_first_shown(swing),
        moment="top",
    )


def _first_shown(swing: Swing) -> str:
    """What to look at when nothing stands out: the wrist, else the turn of the upper body, else what there is."""
    known = {e["metric"] for e in swing.result.get("metrics", []) if e["event"] == "top"}
    wanted = (LEAD_WRIST_EXTENSION.id, "thorax_turn", "pelvis_turn", "shaft_elevation")
    return next((k for k in wanted if k in known), LEAD_WRIST_EXTENSION.id)


def recording_out(recording: Recording, rule_set: RuleSet) -> m.RecordingOut:
    c = recording.calibration
    calibration = (
        None if c is None else m.CalibrationOut(**{k: v for k, v in c.items() if k in m.CalibrationOut.model_fields})
    )
    return m.RecordingOut(
        id=recording.id,
        number=recording.number,
        source=recording.source,
        glove=recording.glove,
        segments=recording.segments,
        calibration=calibration,
        warnings=recording.warnings,
        scenario=recording.scenario,
        setup=setup_out(recording, rule_set),
    )


def block_out(lesson: Lesson, block: Block, blocks: Sequence[Block], swings: Sequence[Swing]) -> m.BlockOut:
    own = [s for s in swings if s.block_id == block.id]
    change = None
    if block.kind == "test":
        drills = [b for b in blocks if b.kind == "drill" and b.started_at <= block.started_at]
        before = summary.before_group(lesson, swings, drills[-1] if drills else block)
        change = change_out(
            summary.compare_swings(before, [s for s in own if s.kind == "test"], block.metric, block.moment), block
        )
    return m.BlockOut(
        id=block.id,
        kind="drill" if block.kind == "drill" else "test",
        finding=block.finding,
        metric=block.metric,
        moment=block.moment,
        drill=block.drill,
        club=block.club,
        running=block.ended_at is None,
        swings=len(own),
        change=change,
    )


def change_out(b: summary.BlockChange, block: Block) -> m.ChangeOut:
    metric = BY_ID[block.metric]
    per = PER_SI[metric.unit]
    c = b.change

    def words(value: float | None) -> str:
        return "" if value is None else in_words(metric, value / per)

    return m.ChangeOut(
        metric=block.metric,
        moment=block.moment,
        before=list(b.before),
        after=list(b.after),
        before_median=c.before_median if c else None,
        after_median=c.after_median if c else None,
        before_spread=c.before_spread if c else None,
        after_spread=c.after_spread if c else None,
        before_words=words(c.before_median if c else None),
        after_words=words(c.after_median if c else None),
        typical_error=c.typical_error if c else None,
        detectable=c.detectable if c else None,
        changed=bool(c and c.changed),
        sentence=b.sentence,
        across_calibrations=bool(c and c.across_calibrations),
    )


def lesson_out(uow: UnitOfWork, lesson: Lesson) -> m.LessonOut:
    """A lesson with all that its screens show."""
    player = uow.get(Player, lesson.player_id)
    swings = uow.find(Swing, lesson_id=lesson.id, order="number")
    blocks = uow.find(Block, lesson_id=lesson.id, order="started_at")
    changes = uow.find(ChangeEntry, lesson_id=lesson.id, order="sequence")
    clubs = list(dict.fromkeys([lesson.club, *(s.club for s in reversed(swings))]))
    rule_set = rule_set_of(uow, lesson)
    done = [c for c in changes if not c.undone]
    undone = [c for c in changes if c.undone]
    return m.LessonOut(
        id=lesson.id,
        player=player_out(uow, player, with_lessons=False),
        instructor=uow.get(Instructor, lesson.instructor_id).name,
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
        schools=schools_of(uow, player.schools),
        benchmarks=rule_set.ranges.version,
        planned=lesson.planned,
        last_priorities=[priority_out(p, rule_set) for p in last_priorities(uow, player.id, lesson.starts_at)],
        priorities=[priority_out(p, rule_set) for p in uow.find(Priority, lesson_id=lesson.id, order="rank")],
        recordings=[recording_out(t, rule_set) for t in uow.find(Recording, lesson_id=lesson.id, order="number")],
        swings=[swing_brief(s) for s in swings],
        summaries=[
            summary_out(
                summary.summarise(uow, lesson, swings, c), rule_set.ranges, left_handed=player.handedness == "left"
            )
            for c in clubs
        ],
        blocks=[block_out(lesson, b, blocks, swings) for b in blocks],
        can_undo=done[-1].label if done else None,
        can_redo=undone[0].label if undone else None,
    )
