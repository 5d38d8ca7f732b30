"""Feet on the mat against the golfer model's own soles, and what is said when they stand wrong."""

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.errors import StreamError
from finearc.core.frames.handedness import Hand
from finearc.core.pressure.clean import read_mat
from finearc.core.pressure.feet import Feet, Foot, check_feet, find_feet
from finearc.core.pressure.stream import MatStream, UnusableMat
from finearc.golfer import bodies as bd
from finearc.golfer.scenarios import Scenario, play, play_story
from finearc.services.modelled import mat_of


def windows(recording):
    """Address and the whole first swing, samples of the mat."""
    at = recording.truth.swings[0].times_s
    t = recording.mat.time_s
    a, b, c, d = np.searchsorted(t, [at["address"] - 0.1, at["address"] + 0.1, at["address"] - 0.3, at["impact"] + 0.4])
    return slice(int(a), int(b)), slice(int(c), int(d))


def story(mat, height_m=1.78, **options):
    return play_story(
        Scenario((bd.with_body(bd.SKILLED),), "one swing", mat=mat),
        4,
        sources=("pressure",),
        height_m=height_m,
        **options,
    )


CASES = {
    "usual": {},
    "tall": {"height_m": 1.95},
    "small": {"height_m": 1.50},
    "narrow shoes": {"mat": {"shoe": 0.82}},
    "wide shoes": {"mat": {"shoe": 1.2}},
    "fine cells": {"mat": {"rows": 50, "columns": 88, "cell_m": 0.008}},
    "coarse cells": {"mat": {"rows": 22, "columns": 38, "cell_m": 0.020, "origin_m": (-0.15, -0.37)}},
    "50 Hz": {"mat": {"rate_hz": 50.0}},
}


@pytest.fixture(scope="module", params=CASES, ids=lambda c: c.replace(" ", "-"))
def case(request):
    options = dict(CASES[request.param])
    recording = story(options.pop("mat", {}), **options)
    return recording, find_feet(read_mat(mat_of(recording)), *windows(recording))


def test_heel_and_toe_are_found(case):
    recording, feet = case
    for foot, sole in zip(feet.both, recording.ground.soles, strict=True):
        coarse = recording.mat.quirks.cell_m / 0.0125
        assert np.linalg.norm(foot.heel_m - sole.heel_m) < 0.007 * max(coarse, 1.0)
        assert np.linalg.norm(foot.toe_m - (sole.heel_m + sole.length_m * sole.ahead)) < 0.007 * max(coarse, 1.0)


def test_flare_is_found_within_its_stated_uncertainty(case):
    recording, feet = case
    for foot, sole in zip(feet.both, recording.ground.soles, strict=True):
        true = np.arctan2(sole.ahead[1], sole.ahead[0])
        assert abs(np.rad2deg(foot.heading() - true)) < 2.5


def test_stance_width_is_that_of_the_ankles(case):
    recording, feet = case
    assert feet.stance_width_m == pytest.approx(2 * recording.truth.anatomy.half_stance, abs=0.012)


def test_no_foot_is_off_a_mat_that_is_large_enough(case, request):
    """The tall player stands across the ends of this mat."""
    _, feet = case
    assert any(f.partly_off for f in feet.both) == (request.node.callspec.params["case"] == "tall")


def test_width_tells_narrow_from_wide_shoes():
    narrow, wide = (
        find_feet(read_mat(mat_of(r)), *windows(r)).lead.width_m for r in (story({"shoe": 0.82}), story({"shoe": 1.2}))
    )
    assert wide - narrow > 0.02


def test_a_left_hander_has_the_same_feet():
    right, left = (story({}, hand=hand) for hand in (Hand.RIGHT, Hand.LEFT))
    one, other = (find_feet(read_mat(mat_of(r)), *windows(r)) for r in (right, left))
    for a, b in zip(one.both, other.both, strict=True):
        assert a.heel_m == pytest.approx(b.heel_m, abs=1e-6)
        assert a.toe_m == pytest.approx(b.toe_m, abs=1e-6)
    assert one.split_m == pytest.approx(other.split_m, abs=1e-6)


def test_exchanged_axes_are_said():
    recording = story({})
    mat = mat_of(recording)
    wrong = replace(mat, grid=replace(mat.grid, row_axis="+y", column_axis="+x", origin_m=(-0.35, -0.15)))
    with pytest.raises(UnusableMat, match=r"row_axis, column_axis: .*exchanged"):
        find_feet(read_mat(wrong), *windows(recording))


def test_exchanged_counts_are_said():
    recording = story({})
    mat = mat_of(recording)
    wrong = replace(mat, grid=replace(mat.grid, rows=56, columns=32))
    with pytest.raises(UnusableMat, match="as 56 rows of 32, but do as 32 of 56"):
        find_feet(read_mat(wrong), *windows(recording))


@pytest.mark.parametrize("name", ["good-load", "on-heels", "sway-outside", "late-return", "reverse-pressure"])
def test_no_sound_recording_is_called_exchanged(name):
    recording = play(name, 8, sources=("pressure",))
    assert find_feet(read_mat(mat_of(recording)), *windows(recording)).both is not None


def test_one_foot_is_the_one_on_its_side():
    recording = play("one-foot", 3, sources=("pressure",))
    feet = find_feet(read_mat(mat_of(recording)), *windows(recording))
    assert feet.trail is None
    assert feet.lead.heel_m == pytest.approx(recording.ground.soles[0].heel_m, abs=0.007)
    assert feet.both is None
    assert feet.stance_width_m is None


def test_a_foot_over_the_edge_is_seen():
    recording = play("off-the-mat", 3, sources=("pressure",))
    feet = find_feet(read_mat(mat_of(recording)), *windows(recording))
    assert all(f.partly_off for f in feet.both)


def test_the_instructors_line_is_kept():
    recording = story({})
    feet = find_feet(read_mat(mat_of(recording)), *windows(recording), split_m=0.031)
    assert feet.split_m == 0.031
    assert feet.by_hand


def test_a_line_through_a_foot_gives_its_part_to_the_other_side():
    recording = story({})
    mat = read_mat(mat_of(recording))
    free = find_feet(mat, *windows(recording))
    through = find_feet(mat, *windows(recording), split_m=float(free.lead.centre_m[1]))
    assert through.lead.cells.sum() < 0.7 * free.lead.cells.sum()


def test_a_foot_across_the_line_is_said():
    from finearc.core.sources.ground_view import CROSSES, view_swing

    recording = story({})
    mat = read_mat(mat_of(recording))
    at = recording.truth.swings[0].times_s
    span = (at["address"] - 1.0, at["impact"] + 0.8)
    assert CROSSES not in view_swing(mat, span).warnings
    through = float(view_swing(mat, span).feet.lead.centre_m[1])
    assert CROSSES in view_swing(mat, span, through).warnings


def test_a_dropped_ball_is_no_part_of_a_foot():
    recording = story({})
    mat = mat_of(recording)
    p = mat.pressure_kpa.copy()
    ball = int(np.argmin(np.linalg.norm(mat.grid.places_m - np.array([0.22, 0.0]), axis=1)))
    p[len(p) // 3 :, [ball, ball + 1, ball + 56, ball + 57]] += 30.0
    with_ball = find_feet(read_mat(replace(mat, pressure_kpa=p)), *windows(recording))
    without = find_feet(read_mat(mat), *windows(recording))
    for a, b in zip(with_ball.both, without.both, strict=True):
        assert a.heel_m == pytest.approx(b.heel_m, abs=1e-9)


def test_places_along_and_aside_of_a_foot_worked_by_hand():
    """A foot from (0, 0) to (0.3, 0): the middle is half way; 2 cm toward the target is 2 cm aside."""
    foot = Foot(np.zeros(4, dtype=bool), np.zeros(2), np.array([0.3, 0.0]), 0.1, False)
    places = np.array([[0.15, 0.0], [0.3, 0.02], [0.0, -0.01]])
    assert foot.along(places) == pytest.approx([0.5, 1.0, 0.0])
    assert foot.aside(places) == pytest.approx([0.0, 0.02, -0.01])
    assert foot.heading() == 0.0


@pytest.mark.parametrize(("length", "fine"), [(0.05, False), (0.29, True), (0.6, False)])
def test_feet_no_player_has_are_refused(length, fine):
    foot = Foot(np.ones(4, dtype=bool), np.zeros(2), np.array([length, 0.0]), 0.1, False)
    if fine:
        check_feet(Feet(foot, None, 0.0), "mat.csv")
    else:
        with pytest.raises(StreamError, match="cm long"):
            check_feet(Feet(foot, None, 0.0), "mat.csv")


def test_cells_of_the_wrong_size_are_caught_by_the_feet():
    recording = story({})
    mat = mat_of(recording)
    tiny = MatStream(
        mat.time_s, mat.pressure_kpa, replace(mat.grid, cell_m=(0.004, 0.004), origin_m=(-0.05, -0.11)), "mat.csv"
    )
    with pytest.raises(StreamError, match="cm long"):
        feet = find_feet(read_mat(replace(tiny, pressure_kpa=mat.pressure_kpa * 4)), *windows(recording))
        check_feet(feet, "mat.csv")
