"""Figures of the course of pressure: hand-worked courses, and real people standing on force plates against an
independent implementation of Prieto et al. 1996 (IEEE Transactions on Biomedical Engineering 43:956; formulas from
memory)."""

import itertools
from pathlib import Path

import numpy as np
import pytest
from scipy.stats import chi2

from finearc.core.pressure.plates import ForcePlate, centre_of_pressure
from finearc.core.pressure.posturography import ellipse_area, mean_speed, path_length, peak_speed

STANDING = Path(__file__).resolve().parents[1] / "data" / "jump-force" / "standing.csv"


def circle(radius=0.01, n=2001):
    phi = np.linspace(0, 2 * np.pi, n)
    return radius * np.column_stack([np.cos(phi), np.sin(phi)])


def test_the_way_around_a_circle():
    assert path_length(circle()) == pytest.approx(2 * np.pi * 0.01, rel=1e-5)
    assert mean_speed(circle(), 0.001) == pytest.approx(2 * np.pi * 0.01 / 2.0, rel=1e-5)
    assert peak_speed(circle(), 0.001) == pytest.approx(np.pi * 0.01, rel=1e-4)


def test_a_step_is_the_peak():
    places = np.zeros((50, 2))
    places[20:, 0] = 0.004
    assert path_length(places) == pytest.approx(0.004)
    assert peak_speed(places, 0.01) == pytest.approx(0.2)  # 4 mm within two steps of 10 ms


def test_a_line_has_no_area():
    x = np.linspace(0, 0.1, 100)
    assert ellipse_area(np.column_stack([x, 2 * x])) == pytest.approx(0.0, abs=1e-9)
    assert ellipse_area(np.zeros((3, 2))) == 0.0


def test_the_ellipse_of_a_normal_cloud_holds_95_percent():
    """For many samples F tends to χ²/2: area → π χ²₀.₉₅(2) σ_x σ_y, and the ellipse holds 95 % of the cloud."""
    rng = np.random.default_rng(2)
    cloud = rng.normal(size=(200_000, 2)) * [0.003, 0.007]
    area = ellipse_area(cloud)
    assert area == pytest.approx(np.pi * chi2.ppf(0.95, 2) * 0.003 * 0.007, rel=0.01)
    scale = area / (np.pi * 0.003 * 0.007)
    assert np.mean(((cloud / [0.003, 0.007]) ** 2).sum(axis=1) < scale) == pytest.approx(0.95, abs=0.003)


def test_turning_and_moving_change_nothing():
    rng = np.random.default_rng(4)
    cloud = rng.normal(size=(400, 2)) * [0.002, 0.006]
    c, s = np.cos(0.7), np.sin(0.7)
    turned = cloud @ np.array([[c, s], [-s, c]]) + [0.3, -0.2]
    assert ellipse_area(turned) == pytest.approx(ellipse_area(cloud), rel=1e-9)
    assert path_length(turned) == pytest.approx(path_length(cloud), rel=1e-9)


def standing():
    """Centre of pressure (n, 2), m, of each plate's own axes and of both side by side, 60 cm apart."""
    table = np.loadtxt(STANDING, delimiter=",", skiprows=1)
    x, y = 0.3, 0.3
    corners = np.array([[x, y, 0], [-x, y, 0], [-x, -y, 0], [x, -y, 0]])
    places, loads = [], []
    for k in (1, 7):
        plate = ForcePlate(table[:, k : k + 3], table[:, k + 3 : k + 6], corners, np.zeros(3))
        places.append(centre_of_pressure(plate)[:, :2])
        loads.append(table[:, k + 2])
    places[0] = places[0] + [0.0, 0.6]
    total = loads[0] + loads[1]
    both = (loads[0][:, None] * places[0] + loads[1][:, None] * places[1]) / total[:, None]
    return [*places, both], loads


def by_eigenvalues(places):
    """The same figures another way: the ellipse from the eigenvalues of the covariance and its semi-axes
    √(F λ), the way as a plain loop."""
    mean = places.sum(axis=0) / len(places)
    covariance = (places - mean).T @ (places - mean) / len(places)
    f = chi2.ppf(0.95, 2) / 2  # F₀.₉₅(2, ∞); for 1900 samples the same to 0.2 %
    a, b = (np.sqrt(2 * f * value) for value in np.linalg.eigvalsh(covariance))
    way = 0.0
    for one, next_one in itertools.pairwise(places):
        way += float(np.hypot(*(next_one - one)))
    return np.pi * a * b, way


@pytest.mark.parametrize("which", [0, 1, 2], ids=["left plate", "right plate", "both"])
def test_a_person_standing_still_against_an_independent_implementation(which):
    places = standing()[0][which]
    area, way = by_eigenvalues(places)
    assert ellipse_area(places) == pytest.approx(area, rel=0.003)
    assert path_length(places) == pytest.approx(way, rel=1e-9)
    assert mean_speed(places, 0.002) == pytest.approx(way / (0.002 * (len(places) - 1)), rel=1e-9)


def test_the_person_weighs_what_was_measured_beforehand_and_stands_about_evenly():
    """723 N and a left share of 0.51, measured independently beforehand."""
    _, (left, right) = standing()
    assert np.mean(left + right) == pytest.approx(723.0, abs=3.0)
    assert np.mean(left / (left + right)) == pytest.approx(0.51, abs=0.01)
