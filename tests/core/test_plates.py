"""Force plates: centre of pressure by hand, against a C3D library of others, and as a mat would have said it."""

from pathlib import Path

import ezc3d
import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.markers.stream import BayAxes, bay_from_lab
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.pressure.plates import ForcePlate, PlateStream, centre_of_pressure, read_plates
from finearc.core.sources.ground import MAT, PLATES
from finearc.core.sources.ground_view import view_swing
from finearc.core.sources.markers import MARKERS
from finearc.formats import plates_c3d
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

WALK = Path(__file__).resolve().parents[1] / "data" / "gait-c3d" / "walk.c3d"
SQUARE = np.array([[0.25, 0.25, 0.0], [-0.25, 0.25, 0.0], [-0.25, -0.25, 0.0], [0.25, -0.25, 0.0]])


def pressed_at(x, y, newton, corners=SQUARE, origin=(0.0, 0.0, 0.0)):
    """A plate pressed at (x, y) in its own axes: force along its z, moment about the point below its middle."""
    x, y, newton = (np.atleast_1d(np.asarray(v, dtype=float)) for v in (x, y, newton))
    force = np.column_stack([np.zeros_like(newton), np.zeros_like(newton), newton])
    arm = np.column_stack([x, y, np.zeros_like(x)]) - np.asarray(origin)
    return ForcePlate(force, np.cross(arm, force), corners, np.asarray(origin, dtype=float))


def test_where_a_plate_is_pressed_worked_by_hand():
    """700 N at 8 cm and -5 cm: M_x = y F = -35 N m, M_y = -x F = -56 N m."""
    plate = pressed_at(0.08, -0.05, 700.0)
    assert plate.moment_nm[0] == pytest.approx([-35.0, -56.0, 0.0])
    assert centre_of_pressure(plate)[0] == pytest.approx([0.08, -0.05, 0.0])


def test_an_empty_plate_has_no_centre():
    assert np.isnan(centre_of_pressure(pressed_at(0.1, 0.1, 2.0))).all()


def test_a_plate_that_lies_turned_gives_places_of_the_laboratory():
    """Corners listed so that the plate's x is the laboratory's y: pressed at x = 0.1 it is pressed at y = 0.1."""
    turned = SQUARE @ np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]) + [1.0, 2.0, 0.0]
    assert centre_of_pressure(pressed_at(0.1, 0.0, 500.0, turned))[0] == pytest.approx([1.0, 2.1, 0.0])


def test_the_given_point_need_not_lie_in_the_surface():
    plate = pressed_at(0.08, -0.05, 700.0)
    lower = ForcePlate(plate.force_n, plate.moment_nm - np.cross([0.0, 0.0, -0.04], plate.force_n), SQUARE, np.zeros(3))
    raised = ForcePlate(lower.force_n, lower.moment_nm, SQUARE, np.array([0.0, 0.0, -0.04]))
    assert centre_of_pressure(raised)[0] == pytest.approx([0.08, -0.05, 0.0])


def test_a_walking_recording_agrees_with_a_library_of_others_to_a_hundredth_of_a_millimetre():
    ours = plates_c3d.read_plates(WALK.name, WALK.read_bytes())
    theirs = ezc3d.c3d(str(WALK), extract_forceplat_data=True)["data"]["platform"]
    assert len(ours.plates) == len(theirs) == 2
    for plate, other in zip(ours.plates, theirs, strict=True):
        away = 1000.0 * centre_of_pressure(plate) - other["center_of_pressure"].T
        carries = np.isfinite(away).all(axis=1)
        assert carries.sum() > 2000
        assert np.abs(away[carries]).max() < 0.01


def test_a_file_without_plates_has_none():
    marker_set = capture_of(play("free-pelvis", 3, sources=("markers",))).streams[MARKERS]
    from finearc.formats.c3d_file import c3d_bytes

    assert (
        plates_c3d.read_plates(
            "markers.c3d", c3d_bytes(marker_set.labels, marker_set.points_m[:50], marker_set.rate_hz)
        )
        is None
    )


def two_plates(recording, rate_hz=1000.0):
    """The model's ground as two plates beside each other, middle line between the feet."""
    g = recording.ground
    step = round(1000 / rate_hz)
    time_s = recording.truth.time_s[::step]
    plates = []
    for foot, sign in ((0, 1.0), (1, -1.0)):
        middle = np.array([0.05, sign * 0.3, 0.0])
        corners = SQUARE * [1.0, 1.0, 0.0] + middle
        local = g.feet_m[::step, foot] - middle[:2]
        plates.append(pressed_at(local[:, 0], local[:, 1], g.force_n[::step, foot], corners))
    return PlateStream(time_s, tuple(plates[::-1]), "trial.c3d")  # listed trail first: the order must not matter


@pytest.fixture(scope="module")
def on_plates():
    recording = play("good-load", 6, sources=("markers", "pressure"))
    data = capture_of(recording)

    return recording, an.read(data.with_stream(MAT, None).with_stream(PLATES, two_plates(recording))).swings


def test_plates_give_shares_but_no_feet(on_plates):
    recording, swings = on_plates
    known = {(v.metric, v.moment.key): v for v in swings[0].measured}
    truth = recording.truth.swings[0]
    for event in ("top", "impact"):
        true = recording.ground.lead_share[round(1000 * swings[0].events[event].time_s)]
        assert known[m.LEAD_SHARE, event].value == pytest.approx(true, abs=0.006)
        assert known[m.LEAD_SHARE, event].source is Source.PLATES
        assert known[m.STANCE_POSITION, event].value == pytest.approx(true, abs=0.05)
    assert (m.LEAD_HEEL_TOE, "top") not in known
    assert known[m.RETURN_TIME, "top"].value < 0
    assert truth.times_s["top"] == pytest.approx(swings[0].events["top"].time_s, abs=0.02)


def test_what_plates_cannot_say_has_a_reason(on_plates):
    _, swings = on_plates
    missing = an.judge_swing(
        swings[0], an.in_force(an.library.ranges().ranges, an.library.situation("7-iron", "full", "adult", {}))
    ).missing
    assert "force plates do not see the soles" in missing["lead_heel_toe"]


def test_one_plate_alone_says_nothing_of_two_feet():
    recording = play("good-load", 6, sources=("markers", "pressure"))
    both = two_plates(recording)
    one = PlateStream(both.time_s, both.plates[:1], "trial.c3d")
    assert read_plates(one, bay_from_lab(BayAxes(), Hand.RIGHT, "trial.c3d")) is None


def test_a_left_handers_lead_plate_is_the_one_nearer_the_target():
    recording = play("good-load", 6, sources=("markers", "pressure"))
    stream = two_plates(recording)
    right = read_plates(stream, bay_from_lab(BayAxes(), Hand.RIGHT, "x"))
    left = read_plates(stream, bay_from_lab(BayAxes(target="-y"), Hand.LEFT, "x"))
    assert right.load_n[:, 0] == pytest.approx(left.load_n[:, 1])
    assert right.places_m[-1, 0, 1] == pytest.approx(-left.places_m[-1, 1, 1])


def test_no_view_where_nothing_was_recorded():
    recording = play("good-load", 6, sources=("markers", "pressure"))
    motion = read_plates(two_plates(recording), bay_from_lab(BayAxes(), Hand.RIGHT, "x"))
    assert view_swing(motion, (1000.0, 1003.0)) is None
