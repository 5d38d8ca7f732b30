"""What is kept of a recording's calibration, and the setup check of a still player."""

from __future__ import annotations

from typing import Any

import numpy as np

from finearc.core.errors import CalibrationRefused
from finearc.core.judging.ranges import judge
from finearc.core.metrics.definition import Source
from finearc.core.sources.capture import CaptureReading
from finearc.services.capture.raw import data_of
from finearc.services.judging import analysis as an
from finearc.services.judging.terms import terms_of
from finearc.services.lesson.documents import CalibrationOut
from finearc.services.lesson.setup_answer import setup_answer
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.records import Lesson, Player, Recording
from finearc.wording import mark, tr


def keep_calibration(recording: Recording, reading: CaptureReading) -> None:
    """Store the calibration's quality and what was noticed."""
    recording.warnings = list(reading.warnings)
    made = calibration_as_kept(reading)
    if made is not None:
        recording.calibration = made


def calibration_as_kept(reading: CaptureReading) -> dict[str, Any] | None:
    """The calibration's quality as it is stored, or None when the reading has none."""
    made = _calibration(reading)
    return None if made is None else made.model_dump(mode="json", exclude_defaults=True)


def calibration_of(recording: Recording) -> CalibrationOut | None:
    """The calibration as it is declared; None until there is one."""
    return None if recording.calibration is None else CalibrationOut.model_validate(recording.calibration)


def is_calibrated(recording: Recording) -> bool:
    """Whether swings may be measured."""
    known = calibration_of(recording)
    return known is not None and known.refused is None


def _calibration(reading: CaptureReading) -> CalibrationOut | None:
    calibration = reading.calibration
    if calibration is None:
        method = next((k for k, there in _without_poses(reading).items() if there), None)
        if method is None:
            return None
        first = method == "mat" or not reading.notes
        sentence = tr(ALL_WELL[method]) if first else reading.notes[0]
        return CalibrationOut(
            method=method, sentence=sentence, notes=list(reading.notes[0 if method == "mat" else 1 :])
        )
    q = calibration.quality
    return CalibrationOut(
        quality=q.score,
        sentence=q.sentence,
        notes=[*calibration.notes, *reading.notes],
        method=calibration.method,
        pose_angle_deg=float(np.rad2deg(q.pose_angle_rad)),
        stillness_deg_s=float(np.rad2deg(q.stillness_rad_s)),
        bias_deg_s=float(np.rad2deg(q.bias_rad_s)),
        disagreement_deg=float(np.rad2deg(q.disagreement_rad)),
        gravity_error=q.gravity_error_m_s2,
        repeats=q.repeats,
        ends_s=calibration.ends_s,
        value_sd_deg=float(np.rad2deg(np.sqrt(np.mean(np.diag(calibration.covariance)[3:6])))),
    )


ALL_WELL = {
    "body_pack": mark("Body sensors calibrated."),
    "markers": mark("All markers were seen throughout."),
    "mat": mark("The mat reads."),
}
"""What is said of a fit without wrist poses when there is nothing to note."""


def _without_poses(reading: CaptureReading) -> dict[str, bool]:
    """What stands for a calibration where no wrist pair is worn, best first."""
    return {
        "body_pack": reading.body is not None,
        "markers": Source.MARKERS in reading.present,
        "mat": Source.MAT in reading.present,
    }


def calibrate_recording(uow: UnitOfWork, codec: RawCodec, recording: Recording) -> CaptureReading | None:
    """Calibrate from what the recording holds so far and look at the player standing still. A refusal is kept with
    its reason; nothing is measured from a refused calibration."""
    try:
        reading = an.read(data_of(uow, codec, recording, []), swings_expected=False)
    except CalibrationRefused as refusal:
        recording.calibration = CalibrationOut(refused=str(refusal)).model_dump(mode="json", exclude_defaults=True)
        recording.warnings = []
        return None
    keep_calibration(recording, reading)
    return reading


def keep_setup(uow: UnitOfWork, recording: Recording, reading: CaptureReading | None) -> None:
    """The setup check of a still player: values at address, judged, and the answer they give."""
    if reading is None or reading.setup is None or recording.calibration is None:
        return
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    doubt = recording.warnings[0] if recording.warnings else ""
    terms = terms_of(uow, lesson, player)
    page = terms.page(lesson.club)
    judged = judge(reading.setup.measured, page, page.situation, doubt)
    answer = setup_answer(judged, terms.rule_set, recording.warnings)
    recording.setup = None if answer is None else answer.model_dump(mode="json")
