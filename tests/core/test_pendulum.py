"""The putter against a free pendulum: a physical pendulum worked by hand, and the trade's rules about it."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import minimize

from finearc.core.putting.pendulum import Pendulum, Swing, direction_of, fit_pendulum, fit_swing
from finearc.core.putting.putter import (
    PutterTrack,
    Stroke,
    face_course,
    forgiven,
    heading,
    shaft_lean,
    smoothed,
    strike_hint,
    strike_side,
    stroke_of,
    velocity_at_ball,
)

T = np.arange(0.0, 2.2, 1 / 240)
STILL = slice(0, 48)
SPOT, GRIP = np.array([0.28, 0.06, 0.03]), np.array([-0.01, 0.09, 0.84])
TAKEAWAY, TRANSITION, IMPACT = 0.3, 1.0, 1.32


def about(point, pivot, angle):
    """A point turned about the line through the pivot along the x axis, + so that what hangs goes toward +y."""
    y, z = point[1] - pivot[0], point[2] - pivot[1]
    turned_y = pivot[0] + y * np.cos(angle) - z * np.sin(angle)
    turned_z = pivot[1] + y * np.sin(angle) + z * np.cos(angle)
    return np.column_stack([np.full_like(angle, point[0]), turned_y, turned_z])


def swung(angle, pivot=(0.09, 1.22)):
    return about(GRIP, pivot, angle), about(SPOT, pivot, angle)


@pytest.fixture(scope="module")
def angle():
    return Swing(np.deg2rad(12.0), TAKEAWAY, 0.7, 0.32).at(T)


def test_the_turn_starts_and_turns_from_rest(angle):
    rate = np.gradient(angle, T)
    assert np.abs(rate[T < TAKEAWAY]).max() == 0.0
    assert abs(np.interp(1.0, T, rate)) < 0.05  # at rest where it turns
    assert np.rad2deg(np.interp(1.0, T, angle)) == pytest.approx(-12.0, abs=0.01)
    assert np.interp(1.32, T, angle) == pytest.approx(0.0, abs=1e-4)  # back at the ball
    assert np.interp(1.32, T, rate) == pytest.approx(np.deg2rad(12.0) * np.pi / 0.64, rel=1e-3)


def test_a_true_pendulum_has_nothing_left_over_and_its_pivot_where_it_hangs(angle):
    grip, spot = swung(angle)
    found = fit_pendulum(T, grip, spot, STILL, TAKEAWAY, TRANSITION, IMPACT)
    assert found.height_m == pytest.approx(1.22, abs=1e-5)
    assert found.pivot_m[1] == pytest.approx(0.09, abs=1e-5)
    assert found.residual_m < 1e-6
    assert not found.is_unusual
    assert (found.swing.size, found.swing.back_s, found.swing.through_s) == pytest.approx(
        (np.deg2rad(12.0), 0.7, 0.32), abs=1e-5
    )


def test_a_physical_pendulum_of_small_swing_comes_through_as_a_cosine():
    """A rigid pendulum let go from 8°: θ'' = -(g / l) sin θ, l = 0.40 m, integrated by SciPy. For small angles it is a
    cosine of the period 2 π √(l / g) = 1.268 s, a quarter of which, 0.317 s, is what coming through takes."""
    quarter = 0.5 * np.pi * np.sqrt(0.40 / 9.81)
    assert quarter == pytest.approx(0.3172, abs=1e-4)
    let_go = T >= TRANSITION
    solved = solve_ivp(
        lambda _, y: [y[1], -9.81 / 0.40 * np.sin(y[0])],
        (TRANSITION, T[-1]),
        [-np.deg2rad(8.0), 0.0],
        t_eval=T[let_go],
        rtol=1e-10,
        atol=1e-12,
    )
    angle = Swing(np.deg2rad(8.0), TAKEAWAY, 0.7, 1.0).at(T)
    angle[let_go] = solved.y[0]
    grip, spot = swung(angle)
    impact = float(np.interp(0.0, angle[let_go][:100], T[let_go][:100]))
    assert impact - TRANSITION == pytest.approx(quarter, rel=0.002)  # θ²/16 of 8° makes it 0.12 % longer
    found = fit_pendulum(T, grip, spot, STILL, TAKEAWAY, TRANSITION, impact)
    assert found.swing.through_s == pytest.approx(quarter, rel=0.004)
    assert found.height_m == pytest.approx(1.22, abs=0.002)
    assert found.residual_m < 0.0002


def test_the_fit_is_the_least_squares_that_another_library_finds(angle):
    """SciPy's simplex on the same definition, from elsewhere; the handle lags by up to 2 cm."""
    grip, spot = swung(angle)
    grip[:, 1] -= 0.02 * np.clip((T - TAKEAWAY) / 0.8, 0.0, 1.0)
    found = fit_pendulum(T, grip, spot, STILL, TAKEAWAY, TRANSITION, IMPACT)
    used = (T >= TAKEAWAY) & (T <= IMPACT + 0.1)
    turn = found.swing.at(T[used])

    def missed(x):
        return sum(np.sum((seen[used] - about(seen[:48].mean(axis=0), x, turn)) ** 2) for seen in (grip, spot))

    simplex = minimize(missed, [0.3, 1.0], method="Nelder-Mead", options={"xatol": 1e-7, "fatol": 1e-14})
    assert found.pivot_m[1:] == pytest.approx(simplex.x, abs=2e-4)


def test_a_pivot_that_is_set_is_kept_and_one_that_no_player_has_is_said(angle):
    grip, spot = swung(angle)
    kept = fit_pendulum(T, grip, spot, STILL, TAKEAWAY, TRANSITION, IMPACT, np.array([0.0, 0.09, 1.40]))
    assert (kept.height_m, kept.fitted) == (1.40, False)
    assert kept.residual_m > 0.001
    sway = 0.10 * angle[:, None] / np.deg2rad(12.0) * np.array([0.0, 1.0, 0.0])  # in step with the stroke
    high = fit_pendulum(T, grip + sway, spot + sway, STILL, TAKEAWAY, TRANSITION, IMPACT)
    assert high.height_m == pytest.approx(1.22 + 0.10 / np.deg2rad(12.0), abs=0.05)
    assert high.is_unusual


def test_the_stroke_lies_in_the_plane_in_which_the_head_passes_the_ball(angle):
    way = np.deg2rad(3.0)
    turn = np.array([[np.cos(way), np.sin(way), 0], [-np.sin(way), np.cos(way), 0], [0, 0, 1.0]])
    _, spot = swung(angle)
    found = direction_of((spot - SPOT) @ turn.T, np.zeros(3), T, TRANSITION)
    assert heading(found) == pytest.approx(way, abs=1e-6)
    assert direction_of(np.zeros((len(T), 3)), np.zeros(3), T, TRANSITION) is None


def test_distances_point_to_the_target_away_from_the_player_and_up(angle):
    grip, spot = swung(angle)
    off = np.array([0.004, -0.012, 0.007])  # bay: toward the ball, toward the target, up
    late = (T > 0.95)[:, None] * off
    pendulum = Pendulum(
        np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.09, 1.22]), Swing(np.deg2rad(12.0), 0.3, 0.7, 0.32), 0.0, True
    )
    stroke = Stroke(PutterTrack(T, grip, spot + late, None, STILL), TAKEAWAY, TRANSITION, IMPACT, pendulum)
    assert stroke.apart("head", IMPACT) == pytest.approx([-0.012, 0.004, 0.007], abs=1e-4)
    assert stroke.apart("grip", IMPACT) == pytest.approx([0.0, 0.0, 0.0], abs=1e-6)
    share = np.mean((T >= TAKEAWAY) & (T <= IMPACT) & (T > 0.95)) / np.mean((T >= TAKEAWAY) & (T <= IMPACT))
    assert stroke.deviation("head") == pytest.approx(np.linalg.norm(off) * np.sqrt(share), rel=1e-3)


@pytest.mark.parametrize(
    ("out_cm", "side"),
    [(-1.0, "toe"), (-0.61, "toe"), (-0.59, "centre"), (0.0, "centre"), (0.61, "heel"), (2.0, "heel")],
)
def test_inside_the_pendulum_is_the_toe_and_outside_the_heel(out_cm, side):
    """Common practice (the sign); the width is a house value."""
    assert strike_side(out_cm / 100) == side


@pytest.mark.parametrize(("change_deg", "side"), [(2.0, "heel"), (-2.0, "toe"), (0.5, "centre")])
def test_from_ulnar_to_radial_goes_with_the_heel(change_deg, side):
    """Common practice: the sign rule, as a hint."""
    assert strike_hint(np.deg2rad(change_deg), np.deg2rad(1.0)) == side


@pytest.mark.parametrize(("distance_m", "degrees"), [(3.0, 1.03), (9.0, 0.34)])
def test_a_hole_forgives_a_start_off_line_by_its_half_width_at_that_distance(distance_m, degrees):
    """Rules of Golf, definition of *hole*: 108 mm wide; atan(54 mm / d)."""
    assert np.rad2deg(forgiven(distance_m)) == pytest.approx(degrees, abs=0.005)
    assert np.tan(forgiven(3.0)) * 3.0 == pytest.approx(0.054)


def test_a_degree_of_face_moves_a_three_metre_putt_by_the_holes_radius():
    assert 3.0 * np.tan(np.deg2rad(1.0)) == pytest.approx(0.052, abs=0.0005)  # arithmetic: 52 mm, about 54
    assert np.deg2rad(1.0) < forgiven(3.0)


def test_face_path_attack_and_loft_have_their_signs():
    speed = np.array([0.05, 1.2, -0.03])  # away from the player, to the target, down
    home = np.tile(SPOT, (len(T), 1))
    spot = home + np.clip(T - 1.0, 0.0, None)[:, None] * speed
    grip = np.tile(GRIP, (len(T), 1))
    face = np.tile([np.sin(0.02), np.cos(0.02), 0.0], (len(T), 1))
    track = PutterTrack(T, grip, spot, face, STILL)
    assert face_course(track, 1.4) == pytest.approx(0.02)  # open
    assert velocity_at_ball(track, 1.4) == pytest.approx(speed, abs=1e-9)
    assert heading(velocity_at_ball(track, 1.4)) > 0.0  # in to out
    assert shaft_lean(track)[-1] > shaft_lean(track)[0]  # the head ahead of the hands: more loft
    assert face_course(PutterTrack(T, grip, spot, None, STILL), None) is None
    assert velocity_at_ball(PutterTrack(T, grip, np.full_like(spot, np.nan), None, STILL), 1.4) is None


def test_noise_of_the_cameras_moves_points_by_less_than_itself(angle):
    rng = np.random.default_rng(3)
    grip, spot = swung(angle)
    seen = [smoothed(p + rng.normal(0.0, 0.0003, p.shape), T) for p in (grip, spot)]
    stroke = stroke_of(PutterTrack(T, *seen, None, STILL), TAKEAWAY, TRANSITION, IMPACT)
    off = np.concatenate([stroke.apart(which, at) for which in ("head", "grip") for at in (TRANSITION, IMPACT)])
    assert np.sqrt(np.mean(off**2)) < 0.0003
    assert stroke.pendulum.height_m == pytest.approx(1.22, abs=0.005)


def test_a_hidden_stretch_stays_hidden_and_too_little_gives_no_pendulum(angle):
    grip, spot = swung(angle)
    grip[300:320] = np.nan
    low = smoothed(grip, T)
    assert np.isnan(low[300:320]).all()
    assert np.isfinite(low[:300]).all()
    assert fit_pendulum(T, grip, np.full_like(spot, np.nan), STILL, TAKEAWAY, TRANSITION, IMPACT) is None


def test_the_turn_is_found_from_a_rough_guess(angle):
    found = fit_swing(T, angle, TAKEAWAY + 0.03, TRANSITION - 0.02, IMPACT + 0.01)
    assert (found.size, found.start_s, found.back_s, found.through_s) == pytest.approx(
        (np.deg2rad(12.0), TAKEAWAY, 0.7, 0.32), abs=1e-5
    )


def test_a_face_that_the_strike_turns_is_read_as_it_was_before():
    turned = np.where(T < IMPACT, 0.0, 0.05)
    face = np.column_stack([np.sin(turned), np.cos(turned), np.zeros_like(T)])
    course = face_course(PutterTrack(T, np.tile(GRIP, (len(T), 1)), np.tile(SPOT, (len(T), 1)), face, STILL), IMPACT)
    assert np.abs(course[T < IMPACT]).max() < 1e-9
    assert course[T > IMPACT] == pytest.approx(0.05)
