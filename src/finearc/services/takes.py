"""Takes: one fit of the devices, its raw streams, its calibration and its swings."""

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
from finearc.services import analysis as an
from finearc.services.errors import Refused
from finearc.services.ground import ground_result, pack_ground
from finearc.services.house import fix_version
from finearc.services.ports import ColumnCodec, Unit
from finearc.services.raw import POSES, Delivery, append, data_of, delivery_of
from finearc.services.records import Lesson, Player, Swing, Take
from finearc.services.result import finding_result, metric_result, swing_result, trace_columns
from finearc.services.stored import (
    events_of,
    figure_columns,
    figure_result,
    measured_of,
    pack_traces,
    pack_values,
    unpack_traces,
)
from finearc.services.terms import Terms, barred_by, terms_of


def open_take(
    unit: Unit, lesson: Lesson, player: Player, source: str, *, glove: bool = False, scenario: str = "", seed: int = 0
) -> Take:
    """A new fit; from here on swings are not compared silently with those before."""
    number = 1 + len(unit.find(Take, lesson_id=lesson.id))
    take = Take(unit.academy_id, lesson.id, number, source, player.handedness, glove, scenario=scenario, seed=seed)
    unit.add(take)
    if lesson.status == "planned":
        lesson.status = "running"
    unit.flush()
    return take


def import_capture(
    unit: Unit,
    codec: ColumnCodec,
    lesson: Lesson,
    data: an.CaptureData,
    *,
    source: str = "bundle",
    kinds: Sequence[str] | None = None,
    glove: bool = False,
    key: str = "",
) -> Take:
    """Keep a whole capture with its swings, analysed: the path of a dropped bundle and of the demo.

    Raises a ``FineArcError`` before anything is kept when it cannot be analysed."""
    player = unit.get(Player, lesson.player_id)
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
    take = open_take(unit, lesson, player, source, glove=glove)
    take.poses = [[p.kind, p.start_s, p.end_s] for p in data.poses]
    if data.functional is not None:
        f = data.functional
        take.functional = {k: list(getattr(f, k)) for k in ("straight", "raised", "flexion", "deviation")}
    take.uprights = [list(w) for w in data.uprights]
    take.bow = list(data.bow) if data.bow else None
    append(unit, codec, take, delivery_of(data), key or f"import-{take.id}")
    keep_calibration(take, reading)
    lesson.club = data.club
    keep_setup(unit, take, reading)
    _keep_swings(unit, lesson, player, take, reading, data.club, kinds, data.shot.value)
    return take


def keep_calibration(take: Take, reading: CaptureReading) -> None:
    """Store the calibration's quality and what was noticed."""
    take.warnings = list(reading.warnings)
    calibration = reading.calibration
    setup = (take.calibration or {}).get("setup")
    if calibration is None:
        method = next((k for k, there in _without_poses(reading).items() if there), None)
        if method is not None:
            take.calibration = {
                "method": method,
                "sentence": ALL_WELL[method] if method == "mat" or not reading.notes else reading.notes[0],
                "notes": list(reading.notes if method == "mat" else reading.notes[1:]),
            }
            if setup:
                take.calibration["setup"] = setup
        return
    q = calibration.quality
    take.calibration = {
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
        take.calibration["setup"] = setup


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
    unit: Unit,
    lesson: Lesson,
    player: Player,
    take: Take,
    reading: CaptureReading,
    club: str,
    kinds: Sequence[str] | None,
    shot: str,
) -> list[Swing]:
    number = max((s.number for s in unit.find(Swing, lesson_id=lesson.id)), default=0)
    fix_version(unit, lesson)
    terms = terms_of(unit, lesson, player)
    kept = []
    for k, swing in enumerate(reading.swings):
        kind = kinds[k] if kinds else lesson.kind
        record = Swing(
            unit.academy_id,
            lesson.id,
            take.id,
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
        unit.add(record)
        kept.append(record)
    unit.flush()
    return kept


def _store(record: Swing, reading: SwingReading, capture: CaptureReading, player: Player, terms: Terms) -> None:
    judged = an.judge_swing(reading, terms.page(record.club, record.shot), an.barred_by(capture))
    findings, open_questions = terms.book.find([judged.evidence])
    result = swing_result(judged, findings, open_questions).model_dump(mode="json")
    result["engine"], result["benchmarks"] = an.ENGINE, terms.book.ranges.version
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


def reread(unit: Unit, codec: ColumnCodec, take: Take) -> None:
    """Measure all swings of a take again from its raw streams, with the instructor's instants."""
    swings = unit.find(Swing, take_id=take.id, order="number")
    if not swings:
        return
    lesson = unit.get(Lesson, take.lesson_id)
    player = unit.get(Player, lesson.player_id)
    corrections = {k: {Checkpoint(name): t for name, t in s.events_corrected.items()} for k, s in enumerate(swings)}
    splits = {k: s.split_m for k, s in enumerate(swings) if s.split_m is not None}
    reading = an.read(data_of(unit, codec, take, swings), corrections, splits_m=splits)
    keep_calibration(take, reading)
    terms = terms_of(unit, lesson, player)
    for record, swing in zip(swings, reading.swings, strict=True):
        _store(record, swing, reading, player, terms)
    unit.flush()


def reanalyse_everything(unit: Unit, codec: ColumnCodec) -> int:
    """Forget every stored result and measure again from the raw streams. Returns how many takes."""
    takes = unit.find(Take)
    for take in takes:
        swings = unit.find(Swing, take_id=take.id, order="number")
        for swing in swings:
            swing.result, swing.traces = {}, b""
        reread(unit, codec, take)
    return len(takes)


def rejudge(unit: Unit, swing: Swing, terms: Terms) -> None:
    """New verdicts for stored values, when club, school, limits or ranges changed. No measurement changes."""
    if not swing.result:
        return
    page = terms.page(swing.club, swing.shot)
    measured = [measured_of(e) for e in swing.result["metrics"]]
    barred = barred_by(swing, unit.get(Take, swing.take_id).warnings)
    judged = judge(measured, page, page.situation, barred)
    parts = {(e["metric"], e["event"]): e.get("calibration_part", 0.0) for e in swing.result["metrics"]}
    entries = [metric_result(j).model_dump(mode="json") for j in judged]
    for entry in entries:
        entry["calibration_part"] = parts.get((entry["metric"], entry["event"]), 0.0)
    evidence = Evidence.of(judged, {e["metric"]: e["reason"] for e in swing.result["missing"]})
    findings, open_questions = terms.book.find([evidence])
    result = dict(swing.result)
    result["metrics"] = entries
    result["findings"] = [finding_result(f).model_dump(mode="json") for f in findings]
    result["not_assessed"] = [{"finding": n.rule.id, "reason": n.reason} for n in open_questions]
    result["benchmarks"], result["schools"] = terms.book.ranges.version, dict(terms.schools)
    swing.result = result
    if not barred:
        _redraw_bands(swing, measured, page)


def rejudge_lesson(unit: Unit, lesson: Lesson) -> None:
    """All swings of a lesson under what holds for it now."""
    terms = terms_of(unit, lesson, unit.get(Player, lesson.player_id))
    for swing in unit.find(Swing, lesson_id=lesson.id):
        rejudge(unit, swing, terms)
    unit.flush()


def rejudge_player(unit: Unit, player: Player) -> None:
    """The player's lessons that are not closed; a closed one keeps what it was judged by."""
    for lesson in unit.find(Lesson, player_id=player.id):
        if lesson.status != "closed":
            rejudge_lesson(unit, lesson)


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


def calibrate_take(unit: Unit, codec: ColumnCodec, take: Take) -> CaptureReading | None:
    """Calibrate from what the take holds so far and look at the player standing still. A refusal is kept with
    its reason; nothing is measured from a refused calibration."""
    try:
        reading = an.read(data_of(unit, codec, take, []), swings_expected=False)
    except CalibrationRefused as refusal:
        take.calibration = {"refused": str(refusal)}
        take.warnings = []
        return None
    keep_calibration(take, reading)
    return reading


def keep_setup(unit: Unit, take: Take, reading: CaptureReading | None) -> None:
    """The setup check of a still player: values at address, judged; kept with the calibration."""
    if reading is None or reading.setup is None or take.calibration is None:
        return
    lesson = unit.get(Lesson, take.lesson_id)
    player = unit.get(Player, lesson.player_id)
    barred = take.warnings[0] if take.warnings else ""
    page = terms_of(unit, lesson, player).page(lesson.club)
    judged = judge(reading.setup.measured, page, page.situation, barred)
    calibration = dict(take.calibration)
    calibration["setup"] = [metric_result(j).model_dump(mode="json") for j in judged]
    take.calibration = calibration


def extend_take(unit: Unit, codec: ColumnCodec, take: Take, delivery: Delivery, key: str) -> list[Swing]:
    """Append a stretch of a live take and keep the swings that it completes. Of a mat on the common clock only the
    first delivery, with its zero, and this one are read again: an hour of frames is a gigabyte."""
    if take.calibration is None or "refused" in take.calibration:
        raise Refused("the sensors are not calibrated", "Hold both poses first")
    if not append(unit, codec, take, delivery, key):
        return []
    lesson = unit.get(Lesson, take.lesson_id)
    player = unit.get(Player, lesson.player_id)
    known = unit.find(Swing, take_id=take.id, order="number")
    try:
        data = data_of(unit, codec, take, None, None if (take.mat_set or {}).get("own_clock") else (POSES, key))
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
    take.warnings = list(reading.warnings)
    return _keep_swings(unit, lesson, player, take, new, lesson.club, None, "full")
