"""Recordings: one fitting of the devices, its raw streams, its calibration and its swings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from finearc.core.capture import CaptureReading
from finearc.core.errors import CalibrationRefused, FineArcError
from finearc.core.events.model import Checkpoint
from finearc.core.judging.bands import band_along
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.ranges import InForce, judge
from finearc.core.kinematics.figure import figure_of
from finearc.core.kinematics.reading import SwingReading
from finearc.core.metrics.definition import PER_SI, Measured, Source
from finearc.core.metrics.registry import BY_ID
from finearc.services.capture.raw import POSES, Batch, append, batch_of, data_of
from finearc.services.errors import Refused
from finearc.services.judging import analysis as an
from finearc.services.judging.academy_rules import fix_version
from finearc.services.judging.terms import Terms, terms_of, why_not_judged
from finearc.services.ports import ColumnCodec, UnitOfWork
from finearc.services.record.ground import ground_result, pack_ground
from finearc.services.record.result import finding_result, metric_result, swing_result, trace_columns
from finearc.services.record.stored import (
    events_of,
    figure_columns,
    figure_result,
    measured_of,
    pack_traces,
    pack_values,
    unpack_traces,
)
from finearc.services.records import Lesson, Player, Recording, Swing


def open_recording(
    uow: UnitOfWork,
    lesson: Lesson,
    player: Player,
    source: str,
    *,
    glove: bool = False,
    scenario: str = "",
    seed: int = 0,
) -> Recording:
    """A new fit; from here on swings are not compared silently with those before."""
    number = 1 + len(uow.find(Recording, lesson_id=lesson.id))
    recording = Recording(
        uow.academy_id, lesson.id, number, source, player.handedness, glove, scenario=scenario, seed=seed
    )
    uow.add(recording)
    if lesson.status == "planned":
        lesson.status = "running"
    uow.flush()
    return recording


def import_capture(
    uow: UnitOfWork,
    codec: ColumnCodec,
    lesson: Lesson,
    data: an.CaptureData,
    *,
    source: str = "bundle",
    kinds: Sequence[str] | None = None,
    glove: bool = False,
    key: str = "",
) -> Recording:
    """Keep a whole capture with its swings, analysed: the path of a dropped bundle and of the demo.

    Raises a ``FineArcError`` before anything is kept when it cannot be analysed."""
    player = uow.get(Player, lesson.player_id)
    if data.handedness.value != player.handedness:
        raise Refused(
            f"the capture is of a {data.handedness.value}-handed player, {player.name or 'this player'} plays "
            f"{player.handedness}-handed",
            "Correct the hand in capture.json or in the player's page",
        )
    data = replace(data, population=player.population)
    reading = an.read(data, swings_expected=False)
    if not reading.swings and reading.setup is None and reading.calibration is None:
        an.read(data)  # says why no swing was found
    recording = open_recording(uow, lesson, player, source, glove=glove)
    recording.poses = [[p.kind, p.start_s, p.end_s] for p in data.poses]
    if data.functional is not None:
        f = data.functional
        recording.functional = {k: list(getattr(f, k)) for k in ("straight", "raised", "flexion", "deviation")}
    recording.uprights = [list(w) for w in data.uprights]
    recording.bow = list(data.bow) if data.bow else None
    append(uow, codec, recording, batch_of(data), key or f"import-{recording.id}")
    keep_calibration(recording, reading)
    lesson.club = data.club
    keep_setup(uow, recording, reading)
    _keep_swings(uow, lesson, player, recording, reading, data.club, kinds, data.shot.value)
    return recording


def keep_calibration(recording: Recording, reading: CaptureReading) -> None:
    """Store the calibration's quality and what was noticed."""
    recording.warnings = list(reading.warnings)
    calibration = reading.calibration
    setup = (recording.calibration or {}).get("setup")
    if calibration is None:
        method = next((k for k, there in _without_poses(reading).items() if there), None)
        if method is not None:
            recording.calibration = {
                "method": method,
                "sentence": ALL_WELL[method] if method == "mat" or not reading.notes else reading.notes[0],
                "notes": list(reading.notes if method == "mat" else reading.notes[1:]),
            }
            if setup:
                recording.calibration["setup"] = setup
        return
    q = calibration.quality
    recording.calibration = {
        "quality": q.score,
        "sentence": q.sentence,
        "notes": [*calibration.notes, *reading.notes],
        "method": calibration.method,
        "pose_angle_deg": float(np.rad2deg(q.pose_angle_rad)),
        "stillness_deg_s": float(np.rad2deg(q.stillness_rad_s)),
        "bias_deg_s": float(np.rad2deg(q.bias_rad_s)),
        "disagreement_deg": float(np.rad2deg(q.disagreement_rad)),
        "gravity_error": q.gravity_error_m_s2,
        "repeats": q.repeats,
        "ends_s": calibration.ends_s,
        "value_sd_deg": float(np.rad2deg(np.sqrt(np.mean(np.diag(calibration.covariance)[3:6])))),
    }
    if setup:
        recording.calibration["setup"] = setup


ALL_WELL = {
    "body_pack": "Body sensors calibrated.",
    "markers": "All markers were seen throughout.",
    "mat": "The mat reads.",
}
"""What is said of a fit without wrist poses when there is nothing to note."""


def _without_poses(reading: CaptureReading) -> dict[str, bool]:
    """What stands for a calibration where no wrist pair is worn, best first."""
    return {
        "body_pack": reading.body is not None,
        "markers": Source.MARKERS in reading.present,
        "mat": Source.MAT in reading.present,
    }


def _keep_swings(
    uow: UnitOfWork,
    lesson: Lesson,
    player: Player,
    recording: Recording,
    reading: CaptureReading,
    club: str,
    kinds: Sequence[str] | None,
    shot: str,
) -> list[Swing]:
    number = max((s.number for s in uow.find(Swing, lesson_id=lesson.id)), default=0)
    fix_version(uow, lesson)
    terms = terms_of(uow, lesson, player)
    kept = []
    for k, swing in enumerate(reading.swings):
        kind = kinds[k] if kinds else lesson.kind
        record = Swing(
            uow.academy_id,
            lesson.id,
            recording.id,
            number + k + 1,
            swing.start_s,
            swing.end_s,
            kind,
            club,
            shot,
            block_id=lesson.block_id if not kinds else None,
        )
        _store(record, swing, reading, player, terms)
        record.events_detected = record.result["events"]
        uow.add(record)
        kept.append(record)
    uow.flush()
    return kept


def _store(record: Swing, reading: SwingReading, capture: CaptureReading, player: Player, terms: Terms) -> None:
    judged = an.judge_swing(reading, terms.page(record.club, record.shot), an.why_not_judged(capture))
    findings, open_questions = terms.rule_set.find([judged.evidence])
    result = swing_result(judged, findings, open_questions).model_dump(mode="json")
    result["engine"], result["benchmarks"] = an.ENGINE, terms.rule_set.ranges.version
    result["schools"] = dict(terms.schools)
    poses = {f"{m.metric.id}@{m.moment.key}": m.calibration_part for m in reading.measured}
    for entry in result["metrics"]:
        part = poses.get(f"{entry['metric']}@{entry['event']}", 0.0)
        entry["calibration_part"] = round(part * PER_SI[BY_ID[entry["metric"]].unit], 4)
    record.result = result
    record.traces = pack_traces(trace_columns(judged))
    record.measured = pack_values(reading.measured, judged.missing)
    _store_figure(record, reading, player)
    _store_ground(record, reading, capture)
    record.sensor_moved = reading.sensor_moved


def _store_figure(record: Swing, reading: SwingReading, player: Player) -> None:
    figure = figure_of(reading, player.height_m)
    record.figure = b"" if figure is None else pack_traces(figure_columns(figure))
    record.result["figure"] = None if figure is None else figure_result(figure)


def _store_ground(record: Swing, reading: SwingReading, capture: CaptureReading) -> None:
    motion = capture.sources.ground if capture.sources is not None else None
    offset = capture.offset
    told = None if offset is None else {"shift_s": round(offset.shift_s, 4), "sd_s": round(offset.sd_s, 4)}
    record.result["ground"] = ground_result(reading, told)
    record.ground = b"" if reading.ground is None or motion is None else pack_ground(reading.ground, motion)


def reread(uow: UnitOfWork, codec: ColumnCodec, recording: Recording) -> None:
    """Measure all swings of a recording again from its raw streams, with the instructor's instants."""
    swings = uow.find(Swing, recording_id=recording.id, order="number")
    if not swings:
        return
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    corrections = {k: {Checkpoint(name): t for name, t in s.events_corrected.items()} for k, s in enumerate(swings)}
    splits = {k: s.split_m for k, s in enumerate(swings) if s.split_m is not None}
    reading = an.read(data_of(uow, codec, recording, swings), corrections, splits_m=splits)
    keep_calibration(recording, reading)
    terms = terms_of(uow, lesson, player)
    for record, swing in zip(swings, reading.swings, strict=True):
        _store(record, swing, reading, player, terms)
    uow.flush()


def reanalyse_everything(uow: UnitOfWork, codec: ColumnCodec) -> int:
    """Forget every stored result and measure again from the raw streams. Returns how many recordings."""
    recordings = uow.find(Recording)
    for recording in recordings:
        swings = uow.find(Swing, recording_id=recording.id, order="number")
        for swing in swings:
            swing.result, swing.traces = {}, b""
        reread(uow, codec, recording)
    return len(recordings)


def rejudge(uow: UnitOfWork, swing: Swing, terms: Terms) -> None:
    """New verdicts for stored values, when club, school, limits or ranges changed. No measurement changes."""
    if not swing.result:
        return
    page = terms.page(swing.club, swing.shot)
    measured = [measured_of(e) for e in swing.result["metrics"]]
    not_judged_reason = why_not_judged(swing, uow.get(Recording, swing.recording_id).warnings)
    judged = judge(measured, page, page.situation, not_judged_reason)
    parts = {(e["metric"], e["event"]): e.get("calibration_part", 0.0) for e in swing.result["metrics"]}
    entries = [metric_result(j).model_dump(mode="json") for j in judged]
    for entry in entries:
        entry["calibration_part"] = parts.get((entry["metric"], entry["event"]), 0.0)
    evidence = Evidence.of(judged, {e["metric"]: e["reason"] for e in swing.result["missing"]})
    findings, open_questions = terms.rule_set.find([evidence])
    result = dict(swing.result)
    result["metrics"] = entries
    result["findings"] = [finding_result(f).model_dump(mode="json") for f in findings]
    result["not_assessed"] = [{"finding": n.rule.id, "reason": n.reason} for n in open_questions]
    result["benchmarks"], result["schools"] = terms.rule_set.ranges.version, dict(terms.schools)
    swing.result = result
    if not not_judged_reason:
        _redraw_bands(swing, measured, page)


def rejudge_lesson(uow: UnitOfWork, lesson: Lesson) -> None:
    """All swings of a lesson under what holds for it now."""
    terms = terms_of(uow, lesson, uow.get(Player, lesson.player_id))
    for swing in uow.find(Swing, lesson_id=lesson.id):
        rejudge(uow, swing, terms)
    uow.flush()


def rejudge_player(uow: UnitOfWork, player: Player) -> None:
    """The player's lessons that are not closed; a closed one keeps what it was judged by."""
    for lesson in uow.find(Lesson, player_id=player.id):
        if lesson.status != "closed":
            rejudge_lesson(uow, lesson)


def _redraw_bands(swing: Swing, measured: Sequence[Measured], page: InForce) -> None:
    columns = {k: v for k, v in unpack_traces(swing.traces).items() if "_band_" not in k}
    values = {(m.metric.id, m.moment.key): m for m in measured}
    events = events_of(swing.result)
    for metric in [BY_ID[k] for k in columns if k in BY_ID]:
        band = band_along(metric, page, values, events, columns["time_s"])
        if band is not None:
            low, high = (b * PER_SI[metric.unit] for b in band)
            columns[f"{metric.id}_band_low"], columns[f"{metric.id}_band_high"] = low, high
    swing.traces = pack_traces(columns)


def calibrate_recording(uow: UnitOfWork, codec: ColumnCodec, recording: Recording) -> CaptureReading | None:
    """Calibrate from what the recording holds so far and look at the player standing still. A refusal is kept with
    its reason; nothing is measured from a refused calibration."""
    try:
        reading = an.read(data_of(uow, codec, recording, []), swings_expected=False)
    except CalibrationRefused as refusal:
        recording.calibration = {"refused": str(refusal)}
        recording.warnings = []
        return None
    keep_calibration(recording, reading)
    return reading


def keep_setup(uow: UnitOfWork, recording: Recording, reading: CaptureReading | None) -> None:
    """The setup check of a still player: values at address, judged; kept with the calibration."""
    if reading is None or reading.setup is None or recording.calibration is None:
        return
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    not_judged_reason = recording.warnings[0] if recording.warnings else ""
    page = terms_of(uow, lesson, player).page(lesson.club)
    judged = judge(reading.setup.measured, page, page.situation, not_judged_reason)
    calibration = dict(recording.calibration)
    calibration["setup"] = [metric_result(j).model_dump(mode="json") for j in judged]
    recording.calibration = calibration


def extend_recording(uow: UnitOfWork, codec: ColumnCodec, recording: Recording, batch: Batch, key: str) -> list[Swing]:
    """Append a stretch of a live recording and keep the swings that it completes. Of a mat on the common clock only the
    first batch, with its zero, and this one are read again: an hour of frames is a gigabyte."""
    if recording.calibration is None or "refused" in recording.calibration:
        raise Refused("the sensors are not calibrated", "Hold both poses first")
    if not append(uow, codec, recording, batch, key):
        return []
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    known = uow.find(Swing, recording_id=recording.id, order="number")
    try:
        data = data_of(
            uow, codec, recording, None, None if (recording.mat_set or {}).get("own_clock") else (POSES, key)
        )
        found = an.read(data, swings_expected=False)
    except FineArcError:
        return []
    after = max((s.end_s for s in known), default=-np.inf)
    fresh = [s for s in found.swings if s.start_s > after - 0.5 and s.events]
    spans = [(s.start_s, s.end_s) for s in known] + [(s.start_s, s.end_s) for s in fresh]
    if not fresh:
        return []
    reading = an.read(replace(data, swings=tuple(spans)), swings_expected=False)
    new = replace(reading, swings=reading.swings[len(known) :])
    recording.warnings = list(reading.warnings)
    return _keep_swings(uow, lesson, player, recording, new, lesson.club, None, "full")
