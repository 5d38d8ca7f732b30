"""What goes wrong on demand goes wrong by as much as was asked for."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import trapezoid
from scipy.spatial.transform import Rotation

from finearc.core.live.sequence import Samples
from finearc.core.signals.streams import GRAVITY_M_S2
from finearc.devices.simulated.faults import FrameFaults, Slipping, UnknownFault, read_faults

RATE_HZ = 200.0


def faulty(**faults):
    return FrameFaults(faults, RATE_HZ, np.random.default_rng(3))


def frames(count=2000, size=4, width=6):
    """Samples that say their own number."""
    for first in range(0, count * size, size):
        number = np.arange(first, first + size)
        yield Samples(first, (number * 5000).astype(np.int64), np.tile(number[:, None].astype(float), width))


def test_so_much_is_lost_and_in_bursts_that_long():
    fault = faulty(loss=0.05, burst=40.0)
    arrived = np.concatenate([p.values[:, 0] for f in frames() for p in fault.lost(f)])
    assert 1.0 - len(arrived) / 8000 == pytest.approx(0.05, abs=0.012)
    gaps = np.diff(arrived)[np.diff(arrived) > 1] - 1
    assert np.median(gaps) == 8.0  # 40 ms at 200 Hz


def test_a_frame_may_follow_its_next():
    fault = faulty(reorder=0.2)
    order = [p.first for f in frames(500) for p in fault.reordered(f)]
    late = np.mean(np.diff(order) < 0)
    assert 0.1 < late < 0.25
    assert sorted(order) == list(range(0, order[-1] + 1, 4)) or max(order) - order[-1] == 4


@pytest.mark.parametrize("name", ["double", "late"])
def test_frames_come_twice_or_late_as_often_as_asked(name):
    fault = faulty(double=0.3, late=30.0)
    if name == "double":
        assert np.mean([fault.twice() for _ in range(4000)]) == pytest.approx(0.3, abs=0.03)
    else:
        late_s = np.array([fault.late_s() for _ in range(4000)])
        assert 0.0 <= late_s.min() < 0.001
        assert 0.029 < late_s.max() <= 0.030


def test_rates_are_clipped_and_accelerations_are_not():
    loud = Samples(0, np.arange(4), np.tile([1.0, 2.0, 3.0, 40.0, -50.0, 6.0], (4, 1)))
    np.testing.assert_array_equal(faulty(clip=35.0).spoiled("imu", loud).values, [[1, 2, 3, 35, -35, 6]] * 4)


def test_dead_cells_stay_the_same_ones_and_hidden_markers_are_not_numbers():
    fault = faulty(dead=3, hidden=0.25)
    dead = [np.flatnonzero(fault.spoiled("pressure", f).values[1] == 0) for f in list(frames(5, width=40))[1:]]
    assert all(len(d) == 3 and set(d) == set(dead[0]) for d in dead)
    seen = np.concatenate([fault.spoiled("markers", f).values for f in frames(800, width=30)])
    hidden = np.isnan(seen).reshape(len(seen), 10, 3)
    assert hidden.all(axis=2).mean() == hidden.any(axis=2).mean() == pytest.approx(0.25, abs=0.03)


def test_a_sensor_that_slips_feels_gravity_turned_and_its_own_turn():
    """At rest: the rates add up to the angle, and gravity ends turned by as much the other way, in any frames."""
    slips = Slipping(25.0, RATE_HZ)
    still = np.tile([0.0, 0.6 * GRAVITY_M_S2, 0.8 * GRAVITY_M_S2, 0.0, 0.0, 0.0], (200, 1))
    np.testing.assert_array_equal(slips.turned(still), still)
    slips.going = True
    felt = np.concatenate([slips.turned(still[a:b]) for a, b in ((0, 7), (7, 8), (8, 200))])
    turned_deg = np.rad2deg(trapezoid(felt[:, 3], dx=1.0 / RATE_HZ))
    assert turned_deg == pytest.approx(25.0, abs=0.3)
    expected = Rotation.from_euler("x", -25.0, degrees=True).apply(still[0, :3])
    np.testing.assert_allclose(felt[-1, :3], expected, atol=1e-9)
    np.testing.assert_allclose(np.linalg.norm(felt[:, :3], axis=1), GRAVITY_M_S2)


@pytest.mark.parametrize("given", ["slipp=20", "loss", "loss=much"])
def test_a_fault_that_is_none_is_refused_with_those_known(given):
    with pytest.raises(UnknownFault, match=rf'"{given}" is none.*slip: degrees'):
        read_faults([given])
