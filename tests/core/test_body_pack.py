"""Square upright and bow: what they fix, when they are refused, how long they hold."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from finearc.core.calibration.body_pack import FRESH_S, calibrate_body
from finearc.core.errors import CalibrationRefused
from finearc.core.kinematics.segments import turn_side_forward
from finearc.core.metrics import registry as m
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.streams import Segment
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

STEP = 0.005


def worn(mount_deg, bow_deg, heading_deg=40.0, moving_deg_s=0.0):
    """A pelvis sensor: upright for 3 s, then bowed for 3 s; its mounting and the heading of its frame are free."""
    t = np.arange(0, 6, STEP)
    mount = Rotation.from_euler("XYZ", mount_deg, degrees=True)
    lean = np.where(t < 3, 0.0, bow_deg)
    r = (
        Rotation.from_euler("Z", heading_deg, degrees=True)
        * Rotation.from_euler("Y", lean[:, None], degrees=True)
        * mount.inv()
    )
    up = r.inv().apply([0, 0, 9.81])
    gyr = np.tile(np.deg2rad([0, 0, moving_deg_s]), (len(t), 1))
    none = np.zeros(3)
    return SensorMotion(
        Segment.PELVIS, t, up, gyr, r.as_quat(), none, np.ones(len(t), bool), np.zeros(len(t), np.int64), t, up
    )


def bends(motion, calibration, at=1000):
    seat = calibration.seats[Segment.PELVIS]
    r = seat.r_bay_from_segment(Rotation.from_quat(motion.q_up_from_sensor).as_matrix(), 5.9)
    return [float(np.rad2deg(v[at])) for v in turn_side_forward(r)]


# the case worked in measures.md: mounted 30° askew, a 20° bend reads 17.5 forward and 9.8 aside without the bow
def test_a_sensor_worn_askew_is_set_right_by_the_bow():
    motion = worn((0, 0, 30), 20.5)
    calibration = calibrate_body({Segment.PELVIS: motion}, [(0.5, 2.5)], (3.5, 5.5))
    assert bends(motion, calibration) == pytest.approx((0, 0, 20.5), abs=0.05)
    askew = Rotation.from_euler("Y", 20, degrees=True)
    z30 = Rotation.from_euler("Z", 30, degrees=True)
    _, side, forward = (float(np.rad2deg(v[0])) for v in turn_side_forward((z30.inv() * askew * z30).as_matrix()[None]))
    assert forward == pytest.approx(17.5, abs=0.1)
    assert abs(side) == pytest.approx(9.8, abs=0.1)


@pytest.mark.parametrize("mount", [(0, 0, 0), (10, -35, 120), (80, 20, -60), (175, 5, 30)])
def test_any_mounting_and_any_heading_end_in_the_same_angles(mount):
    motion = worn(mount, 32.0, heading_deg=-150)
    calibration = calibrate_body({Segment.PELVIS: motion}, [(0.5, 2.5)], (3.5, 5.5))
    assert bends(motion, calibration, 100) == pytest.approx((0, 0, 0), abs=0.05)
    assert bends(motion, calibration) == pytest.approx((0, 0, 32.0), abs=0.05)
    assert np.rad2deg(calibration.bow_rad) == pytest.approx(32.0, abs=0.1)


@pytest.mark.parametrize(
    ("motion", "upright", "bow", "words"),
    [
        (worn((0, 0, 0), 15.0), (0.5, 2.5), (3.5, 5.5), "bowed by 15°, at least 20° is needed"),
        (worn((0, 0, 0), 32.0, moving_deg_s=25.0), (0.5, 2.5), (3.5, 5.5), "was moving at 25 deg/s"),
        (worn((0, 0, 0), 32.0), (0.5, 1.0), (3.5, 5.5), "held 0.5 s"),
        (worn((0, 0, 0), 32.0), (50.0, 52.0), (3.5, 5.5), "outside the recording"),
    ],
)
def test_bad_poses_are_refused_with_reason_and_retry(motion, upright, bow, words):
    with pytest.raises(CalibrationRefused, match=words):
        calibrate_body({Segment.PELVIS: motion}, [upright], bow)


def test_a_head_that_keeps_looking_ahead_in_the_bow_is_left_out_and_nothing_is_refused():
    pelvis, head = worn((0, 0, 0), 32.0), replace(worn((0, 0, 0), 5.0), segment=Segment.HEAD)
    calibration = calibrate_body({Segment.PELVIS: pelvis, Segment.HEAD: head}, [(0.5, 2.5)], (3.5, 5.5))
    assert set(calibration.seats) == {Segment.PELVIS}
    assert np.rad2deg(calibration.bow_rad) == pytest.approx(32.0, abs=0.1)


def test_without_the_bow_there_is_turn_but_no_bend():
    data = capture_of(play("free-pelvis", 3, sources=("wrist", "body")))
    swing = an.analyse(replace(data, bow=None)).swings[0]
    measured = {v.metric for v in swing.reading.measured}
    assert m.PELVIS_TURN in measured
    assert m.PELVIS_FORWARD_BEND not in measured
    assert "bow" in swing.missing["pelvis_forward_bend"]


def test_without_square_upright_nothing_is_calibrated_and_it_says_so():
    data = capture_of(play("free-pelvis", 3, sources=("wrist", "body")))
    swing = an.analyse(replace(data, uprights=(), bow=None)).swings[0]
    assert "square upright" in swing.missing["pelvis_turn"]


def test_absolute_turn_is_only_judged_after_a_fresh_square_upright():
    motion = worn((0, 0, 0), 32.0)
    calibration = calibrate_body({Segment.PELVIS: motion}, [(0.5, 2.5)], (3.5, 5.5))
    assert not calibration.is_stale(2.5 + FRESH_S - 1)
    assert calibration.is_stale(2.5 + FRESH_S + 1)
    assert calibration.square_sd_rad(600) > calibration.square_sd_rad(10)


@pytest.mark.slow
def test_late_swings_have_turn_against_address_but_no_absolute_verdict():
    from validation.body import skilled

    analysis = an.analyse(capture_of(skilled(5, ("wrist", "body"), swings=8, between_s=24.0)))
    last = {(j.measured.metric, j.measured.moment.key): j for j in analysis.swings[-1].judged}
    absolute, relative = last[m.PELVIS_TURN, "top"], last[m.PELVIS_TURN, "address..top"]
    assert absolute.verdict.value == "not_judged"
    assert "square upright" in absolute.measured.not_judged_reason
    assert relative.measured.not_judged_reason == ""
