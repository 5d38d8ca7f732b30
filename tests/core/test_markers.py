"""Markers: labels, laboratory axes, gaps, exchanged and jumping markers, filtering, bad input."""

from dataclasses import replace

import numpy as np
import pytest
from scipy import signal

from finearc.core.errors import StreamError
from finearc.core.frames.handedness import Hand
from finearc.core.markers import stream as ms
from finearc.core.markers.axes import suggest_axes
from finearc.core.markers.labels import PELVIS, Marker, file_label
from finearc.core.markers.motion import read_markers
from finearc.core.markers.repair import MarkerFlags, drop_jumps, mend, put_back
from finearc.core.markers.smooth import cut_off_hz, residual_cut_off, smooth
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.signals.filters import low_pass

RATE = 240.0
SPOTS = {
    Marker.LEAD_ASIS: (0.09, 0.12, 1.0),
    Marker.TRAIL_ASIS: (0.09, -0.12, 1.0),
    Marker.LEAD_PSIS: (-0.09, 0.04, 1.0),
    Marker.TRAIL_PSIS: (-0.09, -0.04, 1.0),
    Marker.C7: (-0.05, 0.0, 1.5),
    Marker.CLUB_GRIP: (0.3, 0.0, 0.9),
}


def body(n=480, turn_deg=60.0):
    """A pelvis that turns and sways smoothly (n, k, 3), with C7 and a grip."""
    t = np.arange(n) / RATE
    phase = np.sin(np.pi * t / t[-1])
    angle = np.deg2rad(turn_deg) * phase
    out = np.empty((n, len(SPOTS), 3))
    for k, spot in enumerate(SPOTS.values()):
        x, y, z = spot
        out[:, k, 0] = x * np.cos(angle) - y * np.sin(angle)
        out[:, k, 1] = x * np.sin(angle) + y * np.cos(angle) + 0.05 * phase
        out[:, k, 2] = z
    return t, list(SPOTS), out


def stream(points=None, labels=None, **options):
    _, markers, known = body()
    points = known if points is None else points
    labels = tuple(m.value for m in markers) if labels is None else labels
    return MarkerStream(np.arange(len(points)) / options.pop("rate", RATE), labels, points, "trial.c3d", **options)


def test_left_and_right_are_the_players_own_sides():
    assert file_label(Marker.LEAD_ASIS, Hand.RIGHT) == "LASI"
    assert file_label(Marker.LEAD_ASIS, Hand.LEFT) == "RASI"
    assert file_label(Marker.C7, Hand.LEFT) == "C7"
    assert file_label(Marker.CLUB_GRIP, Hand.LEFT) == "CGRP"


def test_labels_match_in_any_case_and_behind_a_subjects_name():
    found = ms.resolve(stream(labels=("anna:lasi", "anna:RASI", "Lpsi", "RPSI", "C7", "CGRP")), Hand.RIGHT)
    assert found[Marker.LEAD_ASIS] == 0
    assert found[Marker.LEAD_PSIS] == 2


def test_a_mapping_names_the_files_own_labels():
    labels = ("L.ASIS", "R.ASIS", "L.PSIS", "R.PSIS", "CV7", "G")
    names = {"LASI": "L.ASIS", "RASI": "R.ASIS", "C7": "CV7"}
    found = ms.resolve(stream(labels=labels, names=names), Hand.RIGHT)
    assert set(found) == {Marker.LEAD_ASIS, Marker.TRAIL_ASIS, Marker.C7}


@pytest.mark.parametrize(
    ("axes", "hand", "good"),
    [
        (BayAxes(), Hand.RIGHT, True),
        (BayAxes("-y", "+x", "+z"), Hand.RIGHT, True),
        (BayAxes(target="-y"), Hand.LEFT, True),
        (BayAxes(), Hand.LEFT, False),
        (BayAxes("+x", "+x", "+z"), Hand.RIGHT, False),
        (BayAxes("+x", "-y", "+z"), Hand.RIGHT, False),
    ],
)
def test_the_bays_directions_must_fit_the_hand(axes, hand, good):
    if good:
        wanted = 1 if hand is Hand.RIGHT else -1
        assert np.linalg.det(ms.bay_from_lab(axes, hand, "f")) == pytest.approx(wanted)
    else:
        with pytest.raises(StreamError, match="axes or hand wrong"):
            ms.bay_from_lab(axes, hand, "f")


def test_directions_are_read_off_the_player():
    _, _, points = body()
    turned = points[:, :, [1, 0, 2]] * [1, -1, 1]  # the laboratory's x is our y, its y our -x
    assert suggest_axes(stream(points=turned), Hand.RIGHT) == BayAxes("-y", "+x", "+z")
    assert suggest_axes(stream(labels=tuple("abcdef")), Hand.RIGHT) is None


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"labels": ("LASI", "LASI", "LPSI", "RPSI", "C7", "CGRP")}, 'two markers are called "LASI"'),
        ({"points": np.zeros((2, 6, 3))}, "2 frames"),
        ({"points": np.zeros((480, 6, 3))}, "all points are zero"),
        ({"points": body()[2] * 1000}, "unit of length is wrong"),
        ({"points": body()[2] / 1000}, "unit of length is wrong"),
        ({"points": body()[2] * [1, -1, 1]}, "mirrored"),
        ({"labels": ("a", "b", "c", "d", "e", "f")}, "none of the known markers"),
        ({"names": {"LASI": "HIP"}}, 'no marker is called "HIP"'),
        ({"names": {"LASI": "RASI"}}, "is named for both"),
        ({"rate": 30.0}, "30 frames a second"),
    ],
)
def test_bad_input_says_what_and_what_to_do(change, words):
    with pytest.raises(StreamError, match=words) as error:
        read_markers(stream(**change), Hand.RIGHT)
    assert "trial.c3d" in str(error.value)


def test_time_that_goes_back_is_refused_with_its_frame():
    bad = stream()
    time_s = bad.time_s.copy()
    time_s[100] = time_s[98]
    with pytest.raises(StreamError, match="frame 101"):
        read_markers(replace(bad, time_s=time_s), Hand.RIGHT)


def test_a_missing_marker_is_named():
    motion = read_markers(stream(labels=("LASI", "RASI", "LPSI", "X", "C7", "CGRP")), Hand.RIGHT)
    assert "RPSI is not in trial.c3d" in motion.lacking(PELVIS)


def test_a_left_handers_capture_becomes_its_mirror_image():
    _, markers, points = body()
    left = points * [1, -1, 1]  # the mirrored player in the same laboratory: ball +x, target now -y
    labels = tuple(file_label(m, Hand.LEFT) for m in markers)
    right = read_markers(stream(), Hand.RIGHT)
    twin = read_markers(stream(points=left, labels=labels, axes=BayAxes(target="-y")), Hand.LEFT)
    for marker in markers:
        assert twin.raw(marker) == pytest.approx(right.raw(marker), abs=1e-12)


def hidden(points, k, a, b):
    out = points.copy()
    out[a:b, k] = np.nan
    return out


def test_a_gap_of_any_length_is_given_back_by_its_segment():
    t, markers, true = body()
    points = hidden(true, 0, 100, 200)
    flags = mend(markers, points, t)
    assert np.abs(points - true).max() < 1e-4
    assert flags.rigid[0][0] is Marker.LEAD_ASIS
    assert flags.rigid[0][1] == pytest.approx(100 / RATE, abs=0.01)


def test_a_short_gap_outside_a_segment_is_drawn_by_a_spline():
    t, markers, true = body()
    points = hidden(true, 4, 200, 220)
    flags = mend(markers, points, t)
    assert np.abs(points - true).max() < 5e-4
    assert flags.spline[0][0] is Marker.C7


def test_a_long_gap_outside_a_segment_stays_open_and_is_said():
    t, markers, true = body()
    points = hidden(true, 4, 200, 260)
    flags = mend(markers, points, t)
    assert np.isnan(points[200:260, 4]).all()
    marker, start, end = flags.open_gaps[0]
    assert marker is Marker.C7
    assert (start, end) == pytest.approx((200 / RATE, 260 / RATE), abs=0.01)


def test_two_markers_of_a_segment_hidden_at_once_are_not_invented():
    t, markers, true = body()
    points = hidden(hidden(true, 0, 100, 160), 1, 120, 180)
    mend(markers, points, t)
    assert np.isnan(points[130, 0]).all()
    assert np.isnan(points[130, 1]).all()


def test_exchanged_markers_are_put_back():
    _, markers, true = body()
    points = true.copy()
    points[150:300, [0, 2]] = points[150:300, [2, 0]]
    pairs = put_back(markers, points, 1 / RATE)
    assert points == pytest.approx(true)
    assert set(pairs) == {(Marker.LEAD_ASIS, Marker.LEAD_PSIS)}
    assert "LASI and LPSI" in MarkerFlags(swapped=tuple(pairs)).sentences()[0]


def test_a_marker_that_comes_back_where_its_hidden_neighbour_was_last_seen_is_not_exchanged():
    """Two markers of a fast club head, 4 cm apart, hidden one after the other: each is still itself."""
    frames = np.arange(120)
    ahead = np.stack([frames * 10.0 / 240, np.zeros(120), np.zeros(120)], axis=1)
    points = np.stack([ahead, ahead + np.array([0.04, 0.0, 0.0])], axis=1)
    points[50:60, 0] = np.nan
    points[58:70, 1] = np.nan
    before = points.copy()
    assert put_back([Marker("CHEL"), Marker("CFAC")], points, 1 / 240) == []
    assert np.array_equal(points, before, equal_nan=True)


def test_markers_that_stay_what_they_are_are_left_alone():
    _, markers, true = body()
    points = true.copy()
    assert put_back(markers, points, 1 / RATE) == []
    assert drop_jumps(markers, points, 1 / RATE) == []
    assert np.array_equal(points, true)


def test_a_marker_that_jumps_for_a_frame_is_left_out_there():
    _, markers, true = body()
    points = true.copy()
    points[77, 4] += [0.15, -0.1, 0.12]
    assert drop_jumps(markers, points, 1 / RATE) == [(Marker.C7, 1)]
    assert np.isnan(points[77, 4]).all()
    assert np.isfinite(points[76, 4]).all()


def test_the_filter_has_no_lag_and_is_scipys_twice_run_butterworth():
    t = np.arange(960) / RATE
    slow = np.sin(2 * np.pi * 1.5 * t)
    assert np.abs(low_pass(slow, 18.0, RATE)[60:-60] - slow[60:-60]).max() < 2e-3
    # two passes of a second order, each with its corner raised so that both together are 3 dB down at the cut-off
    b, a = signal.butter(2, 18.0 / 0.802, fs=RATE)
    mixed = slow + 0.2 * np.sin(2 * np.pi * 40 * t)
    assert low_pass(mixed, 18.0, RATE)[120:-120] == pytest.approx(signal.filtfilt(b, a, mixed)[120:-120], abs=0.02)


def test_the_cut_off_is_where_half_the_power_is_left():
    t = np.arange(2400) / RATE
    wave = np.sin(2 * np.pi * 18.0 * t)
    kept = low_pass(wave, 18.0, RATE)[400:-400].std() / wave[400:-400].std()
    assert kept == pytest.approx(1 / np.sqrt(2), abs=0.03)


def test_the_club_is_filtered_faster_and_apart_before_and_after_the_strike():
    assert cut_off_hz(Marker.CLUB_HEEL) > cut_off_hz(Marker.LEAD_WRIST_THUMB) > cut_off_hz(Marker.LEAD_ASIS)
    n, at = 240, 120
    x = np.where(np.arange(n) < at, np.arange(n) * 0.15, at * 0.15 + (np.arange(n) - at) * 0.09)
    points = np.zeros((n, 1, 3))
    points[:, 0, 1] = x
    apart = smooth([Marker.CLUB_HEEL], points, RATE, [at])
    blurred = smooth([Marker.CLUB_HEEL], points, RATE, [])
    assert np.abs(apart - points).max() < 1e-3
    assert np.abs(blurred - points).max() > 0.01


def test_the_method_of_residuals_finds_where_the_noise_begins():
    rng = np.random.default_rng(1)
    t = np.arange(2400) / RATE
    candidates = np.arange(2.0, 40.0, 1.0)
    slow = 0.2 * np.sin(2 * np.pi * 1.0 * t) + 0.05 * np.sin(2 * np.pi * 4.0 * t)
    cut = residual_cut_off(slow + rng.normal(0, 0.0003, len(t)), RATE, candidates)
    assert 4.0 <= cut <= 16.0
    fast = slow + 0.01 * np.sin(2 * np.pi * 14.0 * t)
    assert residual_cut_off(fast + rng.normal(0, 0.0003, len(t)), RATE, candidates) > cut
