"""A sensor on the putter's shaft alone: where it says head and handle are, against motions worked out by hand and the
golfer model's truth; and a pendulum whose pivot is set."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from validation import putting as check

from finearc.core.metrics.families import putting as pm
from finearc.core.putting.setup import Pivot, PutterGeometry, PutterSetup
from finearc.core.putting.strapdown import ShaftSensor, along_its_way, putter_track
from finearc.core.sources.putt_view import UNMEASURED
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.judging import analysis as an
from finearc.services.modelled import putting_capture_of

GRAVITY = np.array([0.0, 0.0, 9.80665])
LIE = np.deg2rad(70.0)
RATE = 200.0
BIAS = np.array([0.06, -0.04, 0.05])
"""m/s²: what a small sensor may be off by (common practice)."""


def pendulum(size=0.35, height=1.25, kept=1.0, holds=True, lie=LIE, ahead=0.0):
    """A putter that turns about a fixed level axis over its grip end: 1 s still, back for 0.7 s, through in 0.3 s and
    on, slowed at the ball to ``kept`` of its rate; then still. Worked out in closed form: angle, then places, and what
    a sensor 0.3 m below the grip end feels, bias included."""
    t = np.arange(0.0, 3.2, 1 / RATE)
    fine = np.arange(0.0, 3.2, 1e-4)
    angle = np.where(fine < 1.0, 0.0, -size * (1 - np.cos(np.pi * (fine - 1.0) / 0.7)) / 2)
    through = (fine >= 1.7) & (fine < 2.0)
    angle[through] = -size * np.cos(np.pi * (fine[through] - 1.7) / 0.6)
    after = fine >= 2.0
    top_rate = size * np.pi / 0.6 * kept
    stop_s = 0.6
    u = np.minimum(fine[after] - 2.0, stop_s)
    # comes to rest as its rate falls as a half cosine
    angle[after] = top_rate * (u + stop_s / np.pi * np.sin(np.pi * u / stop_s)) / 2
    if not holds:
        angle[after] += 0.3 * np.sin(2 * np.pi * 3.0 * (fine[after] - 2.0)) * (fine[after] - 2.0)
    shaft0 = np.array([np.cos(lie) * np.cos(ahead), -np.sin(ahead), -np.sin(lie) * np.cos(ahead)])
    grip0 = np.array([0.0, 0.0, 0.02]) - 0.86 * shaft0
    pivot = np.array([0.0, 0.0, height])
    turn = Rotation.from_rotvec(angle[:, None] * np.array([1.0, 0.0, 0.0]))
    beside = np.cross([0.0, 0.0, 1.0], shaft0) / np.linalg.norm(shaft0[:2])
    r0 = np.column_stack([shaft0, beside, np.cross(shaft0, beside)])
    place = lambda p: pivot + turn.apply(p - pivot)  # noqa: E731
    at = place(grip0 + 0.3 * shaft0)
    speed = np.gradient(at, 1e-4, axis=0)
    edges = np.column_stack([np.interp(np.append(t, t[-1] + 1 / RATE) - 0.5 / RATE, fine, c) for c in speed.T])
    force = np.diff(edges, axis=0) * RATE  # the mean over each sample's time, as a sensor's own filter gives it
    if kept < 1.0:  # no sensor logs the strike's own spike: it lies between two samples
        hit = int(np.searchsorted(t, 2.0))
        force[hit] = force[hit - 1]
    rows = np.searchsorted(fine, t).clip(0, len(fine) - 1)
    r = (turn[rows].as_matrix()) @ r0
    rate = np.gradient(angle, 1e-4)[rows]
    rates = np.einsum("nji,j->ni", r, np.array([1.0, 0.0, 0.0])) * rate[:, None]
    felt = np.einsum("nji,nj->ni", r, force + GRAVITY) + BIAS
    sensor = ShaftSensor(t, r, felt, rates)
    return sensor, place(grip0)[rows], place(np.array([0.0, 0.0, 0.02]))[rows]


ADDRESS = slice(int(0.6 * RATE), int(0.9 * RATE))


def errors_mm(sensor, grip, head, struck=False, geometry=None):
    track = putter_track(sensor, ADDRESS, 2.0, struck, geometry or PutterGeometry(0.86))
    inside = (sensor.time_s > 0.9) & (sensor.time_s < 2.1)
    return [
        1000 * np.abs(seen[inside] - true[inside]).max() for seen, true in ((track.grip_m, grip), (track.head_m, head))
    ]


@pytest.mark.parametrize("size", [0.15, 0.35])
def test_places_of_a_pendulum_are_those_of_its_closed_form_although_the_sensor_is_biased(size):
    assert max(errors_mm(*pendulum(size))) < 4.0


def test_a_strike_that_slows_the_putter_is_carried_across_by_its_rate_of_turn():
    """A head of 350 g keeps about 80 % of its speed (conservation of momentum, ball 46 g, restitution 0.7)."""
    kept = 1 - (1 + 0.7) * 0.0459 / (0.35 + 0.0459)
    assert kept == pytest.approx(0.80, abs=0.01)
    slowed = pendulum(kept=kept)
    assert max(errors_mm(*slowed, struck=True)) < 8.0
    assert max(errors_mm(*slowed, struck=False)) > 20.0  # to spread that over the stroke would be wrong


def test_a_finish_that_is_not_held_gives_no_places():
    sensor, *_ = pendulum(holds=False)
    assert putter_track(sensor, ADDRESS, 2.0, False, PutterGeometry(0.86)) is None


def test_the_sweet_spot_beside_the_shaft_lies_toward_the_toe_and_level_when_soled():
    sensor, *_ = pendulum()
    plain = putter_track(sensor, ADDRESS, 2.0, False, PutterGeometry(0.86))
    beside = putter_track(sensor, ADDRESS, 2.0, False, PutterGeometry(0.86, LIE, 0.04))
    k = ADDRESS.start + 5
    moved = (beside.head_m[k] - beside.grip_m[k]) - (plain.head_m[k] - plain.grip_m[k])
    assert moved == pytest.approx([0.04, 0.0, 0.0], abs=1e-3)


def test_a_shaft_that_leans_ahead_does_not_turn_what_is_along_the_line():
    sensor, _, head = pendulum(ahead=np.deg2rad(2.0))
    track = putter_track(sensor, ADDRESS, 2.0, False, PutterGeometry(0.86))
    turned = along_its_way(track, 1.7)
    inside = (sensor.time_s > 1.0) & (sensor.time_s < 2.0)
    assert 1000 * np.abs(track.head_m - head)[inside, 0].max() > 15.0  # as the shaft leans, six degrees off
    assert 1000 * np.abs(turned.head_m - head)[inside, 0].max() < 4.0


@cache
def read(name, sources, **putter):
    recording = play_putting(PUTTING[name], 31, sources=sources)
    data = putting_capture_of(recording)
    data = replace(data, putting=replace(data.putting, putter=PutterSetup(**putter)))
    swings = an.read(data).swings
    return [check.Read(recording.truth, p, r) for p, r in zip(recording.truth.swings, swings, strict=True)]


@pytest.mark.parametrize("name", ["putt-quiet", "putt-lifted-handle"])
def test_points_by_the_sensor_are_those_of_the_definition_within_what_is_stated(name):
    off, stated, turn_ms = [], [], []
    for putt in read(name, ("putter",), geometry=PutterGeometry(0.86)):
        truth = check.defined(putt)
        for i, three in enumerate(check.SEEN):
            for j, metric in enumerate(three):
                for k, at in enumerate(("transition", "impact")):
                    value = putt.values[(metric.id, at)]
                    off.append(value.value - truth.apart[i, k, j])
                    stated.append(value.uncertainty)
        turn_ms.append(1000 * (putt.reading.events["transition"].time_s - putt.putt.times_s["transition"]))
        height = putt.values[(pm.PIVOT_HEIGHT.id, pm.STROKE)]
        assert height.value == pytest.approx(truth.height_m, abs=2 * height.uncertainty)
    assert 1000 * np.sqrt(np.mean(np.square(off))) < 2.0  # mm
    assert np.mean(np.abs(off) < 2 * np.array(stated)) > 0.9
    assert np.abs(turn_ms).max() < 5.0


def test_without_its_length_a_sensor_gives_no_places_and_says_what_to_note():
    putt = read("putt-quiet", ("putter",))[0].reading
    assert not any(v.metric is pm.SWEET_SPOT_DEVIATION for v in putt.measured)
    assert putt.lacking[pm.SWEET_SPOT_DEVIATION] == UNMEASURED


def test_a_pivot_is_set_over_the_grip_end_and_said():
    fitted = read("putt-quiet", ("markers",))[0]
    set_high = read("putt-quiet", ("markers",), pivot=Pivot.STERNUM, pivot_height_m=1.2)[0]
    at_grip = read("putt-quiet", ("markers",), pivot=Pivot.GRIP)[0]
    key = (pm.PIVOT_HEIGHT.id, pm.STROKE)
    assert set_high.values[key].value == pytest.approx(1.2)
    assert set_high.values[key].note == "pivot set: the sternum"
    grip = fitted.truth.putter.grip_end_m[int(np.searchsorted(fitted.truth.time_s, fitted.putt.times_s["address"])), 2]
    assert at_grip.values[key].value == pytest.approx(grip, abs=0.001)
    # about its own grip end a putter cannot carry it along: the true pivot is far above
    deviation = (pm.GRIP_END_DEVIATION.id, pm.STROKE)
    assert at_grip.values[deviation].value > 5 * fitted.values[deviation].value


def test_a_pivot_without_its_height_is_fitted():
    unset = read("putt-quiet", ("markers",), pivot=Pivot.SHOULDERS)[0]
    fitted = read("putt-quiet", ("markers",))[0]
    key = (pm.PIVOT_HEIGHT.id, pm.STROKE)
    assert unset.values[key].value == fitted.values[key].value
    assert unset.values[key].note == "absolute"
