"""The two-pose calibration: its formula worked by hand, refusal, quality, placement, repeats, movement."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from validation.simulated import angle_errors, read, rms, session, value_errors

from finearc.core.calibration.model import PoseWindow
from finearc.core.calibration.placement import ARM_UP, CLIP_REVERSED, EXCHANGED, OTHER_ARM
from finearc.core.calibration.two_pose import calibrate, segment_axes, straight_heading
from finearc.core.errors import CalibrationRefused
from finearc.core.frames.rotations import about_z
from finearc.core.orientation.fusion import estimate_motion
from finearc.core.signals.grid import clean
from finearc.core.sources.capture import Capture, read_capture
from finearc.core.sources.inertial import INERTIAL
from finearc.golfer.poses import PoseErrors
from finearc.golfer.scenarios import play
from finearc.services.modelled import capture_of


def test_axes_from_two_up_directions_worked_by_hand():
    """u_flat = o and u_raised = o cos β + d sin β; with the sensor's axes along d, o, r and β = 60°."""
    u_flat = np.array([0.0, 1.0, 0.0])
    u_raised = np.array([np.sin(np.pi / 3), np.cos(np.pi / 3), 0.0])
    assert segment_axes(u_flat, u_raised) == pytest.approx(np.eye(3), abs=1e-12)


@pytest.mark.parametrize("seed", range(5))
def test_axes_are_found_for_any_mounting(seed):
    mount = Rotation.random(random_state=np.random.default_rng(seed)).as_matrix()
    d, o = mount[:, 0], mount[:, 1]
    beta = np.deg2rad(55)
    assert segment_axes(o, o * np.cos(beta) + d * np.sin(beta)) == pytest.approx(mount, abs=1e-9)


def test_straight_heading_undoes_a_turn_about_the_vertical():
    poses = Rotation.random(3, random_state=np.random.default_rng(3)).as_matrix()
    pairs = [(p, about_z(-0.7) @ p) for p in poses]
    assert straight_heading(pairs) == pytest.approx(0.7)


def motions(recording):
    return [estimate_motion(c) for c in clean(recording.streams[:2])]


def windows(recording):
    return [PoseWindow(kind, *w) for kind in ("flat", "raised") for w in recording.truth.windows[kind]]


def test_exact_poses_find_the_mounting_of_both_sensors():
    recordings = [session(seed, swings=1) for seed in range(3)]
    errors = [e for r in recordings for angle in angle_errors(r, read(r)).values() for e in angle]
    assert rms(np.array(errors)) < 0.7


def test_poses_too_close_are_refused_with_reason_and_retry():
    recording = play("poses-too-close", 3)
    with pytest.raises(CalibrationRefused) as caught:
        read_capture(Capture(streams={INERTIAL: recording.streams}, calibration=windows(recording)))
    assert "apart, at least 30° is needed" in str(caught.value)
    assert "again" in caught.value.advice


def test_a_moving_arm_is_refused():
    recording = play("hold-then-flex", 3)
    start = recording.truth.swings[0].times_s["top"]
    forearm, hand = motions(recording)
    bad = [PoseWindow("flat", start - 0.6, start + 0.5), *windows(recording)[1:]]
    with pytest.raises(CalibrationRefused, match="moving at"):
        calibrate(bad, forearm, hand)


def test_too_short_a_pose_and_one_outside_the_recording_are_refused():
    recording = play("hold-then-flex", 3)
    forearm, hand = motions(recording)
    flat, raised = windows(recording)
    with pytest.raises(CalibrationRefused, match="at least 1 s"):
        calibrate([replace(flat, end_s=flat.start_s + 0.4), raised], forearm, hand)
    with pytest.raises(CalibrationRefused, match="outside the recording"):
        calibrate([flat, PoseWindow("raised", 900.0, 902.0)], forearm, hand)
    with pytest.raises(CalibrationRefused, match="both needed"):
        calibrate([flat], forearm, hand)


def test_poses_are_found_when_the_capture_does_not_name_them():
    recording = play("flip", 4)
    named = read_capture(Capture(streams={INERTIAL: recording.streams}, calibration=windows(recording)))
    found = read_capture(Capture(streams={INERTIAL: recording.streams}))
    assert len(found.swings) == len(named.swings)
    for a, b in zip(named.swings, found.swings, strict=True):
        top = [next(m.value for m in s.measured if m.moment.key == "top") for s in (a, b)]
        assert abs(top[0] - top[1]) < np.deg2rad(1.0)


def test_quality_falls_when_the_wrist_is_bent_differently_in_the_two_poses():
    good = read(session(1, swings=1)).calibration
    poor = read(session(1, swings=1, poses=PoseErrors(7.0, 2.0))).calibration
    assert good is not None
    assert poor is not None
    assert good.quality.score > 0.95 > poor.quality.score
    assert "bent differently" in poor.quality.sentence
    assert good.quality.sentence.startswith("Good")


def test_a_second_calibration_shrinks_the_uncertainty_and_says_so():
    one = read(session(7, swings=1, poses=PoseErrors(2.0, 2.0))).calibration
    two = read(session(7, swings=1, poses=PoseErrors(2.0, 2.0), pairs=2)).calibration
    assert one is not None
    assert two is not None
    assert any("second calibration shrinks it" in n for n in one.notes)
    ratio = np.sqrt(np.trace(two.covariance) / np.trace(one.covariance))
    assert ratio == pytest.approx(np.sqrt(0.5), abs=0.06)  # independent repeats: variance halves


@pytest.mark.parametrize(
    ("scenario", "warning"),
    [
        ("swapped", EXCHANGED),
        ("other-arm", OTHER_ARM),
        ("palm-up", OTHER_ARM),
        ("lowered", ARM_UP),
        ("clip-reversed", CLIP_REVERSED),
    ],
)
@pytest.mark.parametrize("seed", [11, 12])
def test_wrong_placement_is_said_before_the_first_swing(scenario, warning, seed):
    """With the recording cut before the first swing: poses and a still address only."""
    recording = play(scenario, seed, sources=("wrist", "club"))
    end = recording.truth.swings[0].times_s["takeaway"] - 0.15
    cut = [
        type(s)(s.segment, s.time_s[s.time_s < end], s.acc_m_s2[s.time_s < end], s.gyr_rad_s[s.time_s < end], s.source)
        for s in recording.streams
    ]
    reading = read_capture(Capture(streams={INERTIAL: cut}, calibration=windows(recording), swings_expected=False))
    assert reading.swings == ()
    assert warning in reading.warnings


@pytest.mark.parametrize("seed", range(6))
def test_right_placement_raises_no_warning(seed):
    recording = play("hold-then-flex", seed, sources=("wrist", "club"))
    assert read_capture(Capture(streams={INERTIAL: recording.streams}, calibration=windows(recording))).warnings == ()


def test_calibration_by_movement_reads_the_wrist_of_a_stiff_forearm():
    errors = []
    for seed in range(4):
        recording = play("stiff-forearm", seed, exact_poses=True)
        data = capture_of(recording)
        reading = read_capture(Capture(streams=data.streams, calibration=data.calibration, swings=data.swings))
        assert reading.calibration is not None
        assert reading.calibration.method == "functional"
        errors += [e for e, _ in value_errors(recording, reading)]
    assert rms(np.array(errors)) < 5.0


def test_setup_needs_only_a_still_address():
    recording = play("palm-grip", 5)
    end = recording.truth.swings[0].times_s["takeaway"] - 0.15
    cut = [
        type(s)(s.segment, s.time_s[s.time_s < end], s.acc_m_s2[s.time_s < end], s.gyr_rad_s[s.time_s < end], s.source)
        for s in recording.streams
    ]
    reading = read_capture(Capture(streams={INERTIAL: cut}, calibration=windows(recording), swings_expected=False))
    assert reading.setup is not None
    k = int(reading.setup.at_s * 1000)
    true = recording.truth.extension[k]
    value = reading.setup.measured[0]
    assert abs(value.value - true) < 3 * value.uncertainty
