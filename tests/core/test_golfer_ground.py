"""The model player stands on the ground as bodies do: weight, centre of mass, inverted pendulum; and the mat shows it."""

from dataclasses import fields

import numpy as np
import pytest

from finearc.golfer.arm import STEP_S
from finearc.golfer.ground import G_M_S2, asked_for
from finearc.golfer.mass import body_mass_kg, centre_of_mass
from finearc.golfer.mat import MatQuirks, mat_log
from finearc.golfer.scenarios import SCENARIOS, play
from finearc.golfer.trunk import DOFS

GROUND = ("good-load", "late-return", "no-load", "reverse-pressure", "far-forward", "on-heels", "sway-outside")


@pytest.fixture(scope="module", params=GROUND)
def recording(request):
    return play(request.param, 3, sources=("pressure",))


def at(recording, event, swing=0):
    return round(1000 * recording.truth.swings[swing].times_s[event])


def test_masses_add_up_to_the_whole_body():
    """After Winter (fractions from memory): the parts are 1.000 of the whole, so a body at one point stays there."""
    from dataclasses import replace as changed

    r = play("good-load", 3, sources=("pressure",))
    here = np.array([0.1, -0.2, 0.9])
    there = np.tile(here, (len(r.truth.time_s), 1))

    def limb(x):
        return changed(x, top_m=there, middle_m=there, end_m=there)

    def foot(x):
        return changed(x, ankle_m=there - x.r_foot @ np.array([0.06, 0.0, -0.03]))

    b = r.body
    point = changed(
        b, lead_arm=limb(b.lead_arm), trail_arm=limb(b.trail_arm), lead_leg=limb(b.lead_leg), trail_leg=limb(b.trail_leg),
        lead_foot=foot(b.lead_foot), trail_foot=foot(b.trail_foot), head_m=there, lead_wrist_m=there, trail_wrist_m=there,
    )  # fmt: skip
    assert centre_of_mass(r.truth, point) == pytest.approx(there, abs=1e-9)


def test_a_swinging_mass_asks_for_the_pressure_of_an_inverted_pendulum():
    """y = A cos(w t) at height z: CoP = y - z y''/g = A cos(w t) (1 + z w²/g), by hand; slow enough not to be smoothed."""
    t = np.arange(0.0, 40.0, STEP_S)
    w, z = 2 * np.pi * 0.2, 0.95
    com = np.column_stack([0.0 * t, 0.03 * np.cos(w * t), 0.0 * t + z])
    place, lifted = asked_for(com)
    inner = slice(5000, -5000)
    damped = np.exp(-0.5 * (w * 0.12) ** 2)  # what the smoothing takes off
    assert place[inner, 1] == pytest.approx(damped * com[inner, 1] * (1 + z * w * w / G_M_S2), abs=2e-4)
    assert lifted == pytest.approx(1.0, abs=1e-6)


def test_a_lifted_mass_asks_for_more_than_its_weight():
    t = np.arange(0.0, 20.0, STEP_S)
    com = np.column_stack([0.0 * t, 0.0 * t, 0.9 + 0.02 * np.sin(2 * np.pi * 0.5 * t)])
    lifted = asked_for(com)[1]
    peak = 1 + 0.02 * np.pi**2 / G_M_S2 * np.exp(-0.5 * (np.pi * 0.07) ** 2)
    assert lifted[5000:-5000].max() == pytest.approx(peak, abs=1e-3)


def test_standing_still_the_pressure_is_under_the_centre_of_mass(recording):
    """At address nothing moves, so statics hold: within the sole's and the model's soft limits, 1 cm."""
    k = at(recording, "address") - 600
    com = centre_of_mass(recording.truth, recording.body)[k]
    assert recording.ground.pressure_m[k] == pytest.approx(com[:2], abs=0.01)
    assert recording.ground.force_n[k].sum() == pytest.approx(recording.ground.weight_n, rel=0.01)


def test_the_mean_push_is_the_weight(recording):
    """A body that starts and ends at rest gains no momentum: the mean vertical force is its weight."""
    a, b = at(recording, "address"), at(recording, "address", 1)
    assert recording.ground.force_n[a:b].sum(axis=1).mean() == pytest.approx(recording.ground.weight_n, rel=0.01)


def test_what_turning_adds_is_nothing_at_rest_and_within_reach_of_a_body(recording):
    press = recording.truth.dofs[:, DOFS.index("press")]
    assert press[at(recording, "address")] == 0.0
    assert press[-1] == 0.0
    moment = 0.01 * np.abs(press).max() * recording.ground.weight_n
    assert moment < 320.0  # N m about the line of sight: what hips and trunk can do (house value)


def test_the_pressure_never_leaves_the_soles(recording):
    g = recording.ground
    assert g.along.min() > 0.2
    assert g.along.max() < 0.8
    assert g.lead_share.min() > 0.02
    assert g.lead_share.max() < 0.98


def test_a_quiet_mat_shows_the_truth():
    """Without noise and dead cells the picture's own centre is the true one, to a fifth of a millimetre."""
    r = play("sway-outside", 3, sources=("pressure",))
    quiet = MatQuirks(noise_kpa=0.0, dead_share=0.0, offset_kpa=0.0)
    log = mat_log(r.ground, STEP_S, quiet, np.random.default_rng(1))
    p = log.pressure_kpa[100:].astype(float)
    x = quiet.origin_m[0] + quiet.cell_m * np.arange(quiet.rows)
    y = quiet.origin_m[1] + quiet.cell_m * np.arange(quiet.columns)
    total = p.sum(axis=(1, 2))
    seen = np.column_stack([p.sum(axis=2) @ x, p.sum(axis=1) @ y]) / total[:, None]
    rows = np.arange(0, len(r.ground.force_n), 10)[100:]
    assert np.abs(seen - r.ground.pressure_m[rows]).max() < 0.0002
    assert total * quiet.cell_m**2 * 1000 == pytest.approx(r.ground.force_n[rows].sum(axis=1), rel=1e-3)


def named(recording, request):
    return request.node.callspec.params["recording"]


def test_scenarios_are_what_they_are_called(recording, request):
    def shares(event):
        return [float(recording.ground.lead_share[at(recording, event, k)]) for k in range(5)]

    name, g = named(recording, request), recording.ground
    if name == "good-load":
        assert max(shares("arm_level_back")) < 0.3
        assert min(shares("impact")) > 0.72
    elif name == "no-load":
        assert min(shares("arm_level_back")) > 0.32
    elif name == "late-return":
        assert max(shares("top")) < 0.25
        assert max(shares("impact")) < 0.68
    elif name == "reverse-pressure":
        assert all(0.4 < v < 0.68 for v in shares("impact"))
    elif name == "far-forward":
        assert min(shares("impact")) > 0.9
    elif name == "on-heels":
        assert g.along[at(recording, "address")].max() < 0.35
    else:
        assert g.outward[at(recording, "arm_level_back"), 1] > 0.2


def test_a_heavier_taller_player_pushes_more():
    tall, small = (play("good-load", 3, sources=("pressure",), height_m=h).ground for h in (1.9, 1.5))
    assert tall.weight_n / small.weight_n == pytest.approx((1.9 / 1.5) ** 2)
    assert body_mass_kg(1.78) == pytest.approx(74.5, abs=0.5)
    assert tall.soles[0].length_m > small.soles[0].length_m


def test_every_quirk_of_a_mat_scenario_is_known():
    for name, story in SCENARIOS.items():
        assert set(story.mat) <= {f.name for f in fields(MatQuirks)}, name


def test_the_same_seed_gives_the_same_mat():
    one, other = (play("good-load", 5, sources=("pressure",)).mat for _ in "ab")
    assert np.array_equal(one.pressure_kpa, other.pressure_kpa)
    assert not np.array_equal(
        one.pressure_kpa, play("good-load", 6, sources=("pressure",)).mat.pressure_kpa[: len(one.time_s)]
    )
