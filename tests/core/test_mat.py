"""A mat's recording: what is refused, what is mended, and sums over cells against plain sums."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings, strategies as st

from finearc.core.errors import StreamError
from finearc.core.pressure.clean import NEVER_EMPTY, read_mat
from finearc.core.pressure.stream import MatGrid, MatStream, UnusableMat, check_grid, check_stream
from finearc.golfer.scenarios import play
from finearc.services.modelled import mat_of

GRID = MatGrid(12, 20, (0.01, 0.02), (-0.05, -0.19))


def frames(n=60, kpa=40.0):
    """Two blocks of pressure on a small mat, a little different in every cell and frame; the first ten frames are
    empty."""
    p = np.zeros((n, 12, 20), dtype=np.float32)
    p[10:, 2:10, 3:7] = kpa
    p[10:, 2:10, 13:17] = kpa
    p = p.reshape(n, -1)
    return p * (1.0 + 0.0002 * np.arange(240) + 0.0005 * np.arange(n)[:, None]).astype(np.float32)


def stream(p=None, **changes):
    p = frames() if p is None else p
    return replace(MatStream(np.arange(len(p)) / 100.0, p, GRID, "mat.csv"), **changes)


@pytest.fixture(scope="module")
def recording():
    return play("good-load", 3, sources=("pressure",))


def test_cells_lie_where_the_grid_says():
    places = GRID.places_m
    assert places[0] == pytest.approx([-0.05, -0.19])
    assert places[1] == pytest.approx([-0.05, -0.17])  # the next column, 2 cm toward the target
    assert places[20] == pytest.approx([-0.04, -0.19])  # the next row, 1 cm toward the ball
    turned = replace(GRID, row_axis="-y", column_axis="+x")
    assert turned.places_m[20] == pytest.approx([-0.05, -0.20])


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"row_axis": "+z"}, "row_axis"),
        ({"column_axis": "-x"}, "one axis"),
        ({"cell_m": (0.01, 0.5)}, "columns"),
        ({"cell_m": (0.0, 0.01)}, "rows"),
    ],
)
def test_a_grid_that_cannot_be_is_refused(changes, says):
    with pytest.raises(StreamError, match=says):
        check_grid(replace(GRID, **changes), "mat.csv")


def test_wrong_number_of_cells_says_how_many_are_needed():
    with pytest.raises(StreamError, match="230 cells a frame, 12 rows of 20 need 240"):
        check_stream(stream(frames()[:, :230]))


def test_not_a_number_names_the_row():
    p = frames()
    p[7, 5] = np.nan
    with pytest.raises(StreamError, match="row 9: not a number"):
        check_stream(stream(p))


def test_a_clock_that_runs_backward_names_the_row():
    time_s = np.arange(60) / 100.0
    time_s[30:] -= 0.2
    with pytest.raises(StreamError, match=r"row 32: the clock runs backward, from 0\.290 to 0\.100"):
        check_stream(stream(time_s=time_s))


@pytest.mark.parametrize("rate", [20.0, 2000.0])
def test_a_rate_no_mat_has_is_refused(rate):
    with pytest.raises(StreamError, match="frames a second"):
        check_stream(stream(time_s=np.arange(60) / rate))


def test_too_few_frames_are_refused():
    with pytest.raises(StreamError, match="9 frames"):
        check_stream(stream(frames(9)))


def test_an_empty_mat_is_refused(recording):
    empty = play("mat-empty", 3, sources=("pressure",))
    with pytest.raises(UnusableMat, match="the mat is empty"):
        read_mat(mat_of(empty))


def test_a_mat_saturated_everywhere_is_refused():
    with pytest.raises(UnusableMat, match="saturated everywhere"):
        read_mat(mat_of(play("mat-saturated", 3, sources=("pressure",))))


def test_a_few_saturated_cells_are_flagged():
    mat = read_mat(mat_of(play("mat-low", 3, sources=("pressure",))))
    assert 0.005 < mat.flags.saturated_share < 0.1
    assert any("saturated" in s for s in mat.flags.sentences())


def test_nothing_is_saturated_in_a_sound_recording(recording):
    assert read_mat(mat_of(recording)).flags.saturated_share == 0.0


def test_a_known_limit_finds_what_stands_at_it():
    p = frames()
    p[20:, 2 * 20 + 3 : 2 * 20 + 5] = 80.0
    p[30, 100] = 90.0  # one cell higher: the maximum alone would not tell
    assert read_mat(stream(p, limit_kpa=80.0)).flags.saturated_share > 0


def test_the_zero_of_each_cell_is_taken_while_the_mat_is_empty():
    offset = np.linspace(0.1, 2.0, 240).astype(np.float32)
    rng = np.random.default_rng(1)
    mat = read_mat(stream(frames() + offset + rng.normal(0, 0.01, (60, 240)).astype(np.float32)))
    assert mat.zero_kpa == pytest.approx(offset, abs=0.02)
    assert mat.flags.baseline == ""


def test_without_an_empty_moment_the_zero_is_that_of_the_cells_around():
    rng = np.random.default_rng(2)
    noisy = frames()[10:] + np.float32(0.8) + rng.normal(0, 0.02, (50, 240)).astype(np.float32)
    mat = read_mat(stream(noisy))
    assert mat.zero_kpa == pytest.approx(np.full(240, 0.8), abs=0.02)
    assert mat.flags.baseline == NEVER_EMPTY


def test_dead_cells_are_those_of_the_model(recording):
    mat = read_mat(mat_of(recording))
    assert set(np.flatnonzero(mat.dead)) == set(recording.mat.dead)
    assert mat.flags.dead == len(recording.mat.dead)


def test_a_mat_without_noise_has_no_dead_cells_around_its_soles():
    """Cells beside a sole that never change are unloaded, not dead."""
    from finearc.golfer.mat import MatQuirks, mat_log

    r = play("good-load", 3, sources=("pressure",))
    clean = MatQuirks(noise_kpa=0.0, offset_kpa=0.0, dead_share=0.0)
    log = mat_log(r.ground, 0.001, clean, np.random.default_rng(1))
    mat = read_mat(replace(mat_of(r), pressure_kpa=log.pressure_kpa.reshape(len(log.time_s), -1)))
    assert mat.flags.dead == 0
    middle = int(np.argmax(mat.ever_kpa))
    log.pressure_kpa.reshape(len(log.time_s), -1)[:, middle] = 0.0
    again = read_mat(replace(mat_of(r), pressure_kpa=log.pressure_kpa.reshape(len(log.time_s), -1)))
    assert np.flatnonzero(again.dead).tolist() == [middle]


def test_a_stuck_cell_is_dead_too():
    rng = np.random.default_rng(3)
    p = frames() + rng.normal(1.0, 0.05, (60, 240)).astype(np.float32)
    p[:, 85] = 33.0
    assert np.flatnonzero(read_mat(stream(p)).dead).tolist() == [85]


def test_cells_that_read_far_below_zero_are_not_used():
    p = frames()
    p[25, 65] = -20.0
    mat = read_mat(stream(p))
    assert mat.flags.negative == 1
    assert any("Negative pressure in 1 cell" in s for s in mat.flags.sentences())
    assert mat.most_kpa(slice(20, 60))[65] == pytest.approx(41.5, abs=4.0)  # from its neighbours


@given(st.floats(-3, 3), st.floats(-3, 3), st.floats(5, 40), st.sets(st.integers(40, 200), min_size=1, max_size=9))
@settings(max_examples=30, deadline=None)
def test_a_dead_cell_on_a_plane_gets_the_planes_value(a, b, c, gone):
    """A plane bends nowhere, so the fill must be exact, whatever cells are dead (worked by hand)."""
    rows, columns = np.divmod(np.arange(240), 20)
    plane = 60.0 + a * rows + b * columns + c
    mat = read_mat(stream())
    dead = np.zeros(240, dtype=bool)
    dead[list(gone)] = True
    assert replace(mat, dead=dead).mended(np.where(dead, 0.0, plane)) == pytest.approx(plane, abs=1e-6)


def test_sums_are_plain_sums_where_no_cell_is_dead():
    rng = np.random.default_rng(5)
    p = frames() + rng.uniform(0.0, 0.5, (60, 240)).astype(np.float32)
    mat = read_mat(stream(p))
    wanted = rng.normal(size=(240, 3))
    plain = (p.astype(float) - mat.zero_kpa) @ wanted
    assert not mat.dead.any()
    assert mat.sums(wanted, slice(5, 50)) == pytest.approx(plain[5:50], rel=1e-4, abs=0.05)


def test_sums_with_dead_cells_are_sums_of_the_mended_picture():
    rng = np.random.default_rng(6)
    p = frames() + rng.uniform(0.0, 0.5, (60, 240)).astype(np.float32)
    p[:, [66, 67, 150]] = 0.0
    mat = read_mat(stream(p))
    wanted = rng.normal(size=(240, 2))
    for k in (15, 40):
        mended = mat.mended(p[k].astype(float) - mat.zero_kpa)
        assert mat.sums(wanted, slice(k, k + 1))[0] == pytest.approx(mended @ wanted, rel=1e-4, abs=0.05)


def test_pictures_show_only_what_is_asked_for_and_never_below_zero():
    mat = read_mat(stream())
    shown = np.zeros(240, dtype=bool)
    shown[60:80] = True
    order = np.arange(240)[::-1]
    pictures = mat.pictures(np.array([5, 30]), order, shown)
    assert pictures.min() == 0.0
    assert np.flatnonzero(pictures[1]).tolist() == sorted(239 - k for k in range(60, 80) if frames()[30, k] > 0)


def test_a_jump_of_the_clock_is_a_gap_and_cuts_the_course():
    mat = read_mat(mat_of(play("mat-jump", 3, sources=("pressure",))))
    ((start, end),) = mat.flags.gaps
    assert end - start == pytest.approx(0.51, abs=0.02)
    assert np.flatnonzero(~mat.valid).size == 2
    assert any("gap in the mat's clock" in s for s in mat.flags.sentences())
