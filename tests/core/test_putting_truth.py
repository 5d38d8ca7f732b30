"""Every measure of a putt against the model's truth, worked out by other code on noise-free angles and points."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from validation import putting as check

from finearc.core.metrics import registry as m
from finearc.core.sources.putts import values_of, with_growth
from finearc.golfer.poses import PoseErrors
from finearc.golfer.putting.logs import true_points
from finearc.golfer.putting.scenarios import PUTTING

STROKE, TURN, BALL = "takeaway..impact", "transition", "impact"


@cache
def putts():
    story = replace(PUTTING["putt-transition"], poses=PoseErrors(), face_grip_bias_deg=2.5)
    return check.reads(story, 31, ("wrist", "trail", "markers"))


@cache
def courses(number, side):
    """Times from takeaway to impact, s, and the arm's true angles less their address, deg."""
    read = putts()[number]
    arm, times, t = read.truth.arms[side], read.putt.times_s, read.truth.time_s
    inside = (t >= times["takeaway"]) & (t <= times["impact"])
    hand = Rotation.from_matrix(arm.r_bay_from_hand)
    k = int(np.flatnonzero(inside)[0])
    turned = (hand[k].inv() * hand[inside]).as_quat()
    roll = -2.0 * np.arctan2(turned[:, 0] * np.sign(turned[:, 3]), np.abs(turned[:, 3]))
    out = {"extension": arm.extension[inside], "deviation": arm.deviation[inside], "roll": roll}
    return t[inside], {name: np.rad2deg(v - v[0]) for name, v in out.items()}


def of_wrist(side, name, what):
    """A wrist's figure of every putt, by the definition."""
    out = []
    for number, read in enumerate(putts()):
        t, angles = courses(number, side)
        values, times = angles[name], read.putt.times_s
        if what == "range":
            out.append(np.ptp(values))
        elif what in (TURN, BALL):
            out.append(np.interp(times[what], t, values))
        elif what == "rate":
            before = t > times["impact"] - 0.02
            out.append(np.mean(np.abs(np.gradient(values[before], t[before]))))
        else:
            beyond = np.flatnonzero(np.abs(values) > 0.5)
            held = [k for k in beyond if k + 50 <= len(values) and (np.abs(values[k : k + 50]) > 0.5).all()]
            out.append(t[held[0]] - times["takeaway"] if held else np.nan)
    return np.array(out)


def share(side):
    out = []
    for number, read in enumerate(putts()):
        t, angles = courses(number, side)
        path = sum(np.abs(np.gradient(angles[name], t)) for name in ("extension", "deviation"))
        near = np.abs(t - read.putt.times_s["transition"]) <= 0.1
        out.append(100.0 * path[near].sum() / path.sum())
    return np.array(out)


def seen(metric, moment):
    values = [read.values.get((metric.id, moment)) for read in putts()]
    return np.array([np.nan if v is None else metric.at_edge(v.value) for v in values])


def close(metric, moment, true, within):
    """The root mean square of what is seen less what is true."""
    found = seen(metric, moment)
    both = np.isfinite(found) & np.isfinite(true)
    assert both.sum() >= 0.8 * np.isfinite(true).sum() > 0
    assert np.sqrt(np.mean((found - true)[both] ** 2)) <= within


WRISTS = {
    "lead": (
        (m.EXTENSION_RANGE, m.EXTENSION_AT, m.EXTENSION_RATE, m.EXTENSION_ONSET),
        (m.DEVIATION_RANGE, m.DEVIATION_AT, m.DEVIATION_RATE, m.DEVIATION_ONSET),
        (m.ROLL_RANGE, m.ROLL_AT, m.ROLL_RATE, m.ROLL_ONSET),
    ),
    "trail": (
        (m.TRAIL_EXTENSION_RANGE, m.TRAIL_EXTENSION_AT, m.TRAIL_EXTENSION_RATE, m.TRAIL_EXTENSION_ONSET),
        (m.TRAIL_DEVIATION_RANGE, m.TRAIL_DEVIATION_AT, m.TRAIL_DEVIATION_RATE, m.TRAIL_DEVIATION_ONSET),
        (m.TRAIL_ROLL_RANGE, m.TRAIL_ROLL_AT, m.TRAIL_ROLL_RATE, m.TRAIL_ROLL_ONSET),
    ),
}


@pytest.mark.parametrize("side", WRISTS)
@pytest.mark.parametrize(("number", "name"), list(enumerate(("extension", "deviation", "roll"))))
def test_a_wrist_is_measured_as_it_moved(side, number, name):
    ranges, at, rate, onset = WRISTS[side][number]
    close(ranges, STROKE, of_wrist(side, name, "range"), 0.2)
    close(at, TURN, of_wrist(side, name, TURN), 0.3)  # a few ms of the reversal at up to 60 deg/s
    close(at, BALL, of_wrist(side, name, BALL), 0.2)
    close(rate, BALL, of_wrist(side, name, "rate"), 4.0)
    close(onset, STROKE, of_wrist(side, name, "onset"), 0.03)


def test_the_share_in_the_transition_is_that_of_the_true_path():
    close(m.TRANSITION_SHARE, STROKE, share("lead"), 8.0)  # the definition looks below 5 Hz
    close(m.TRAIL_TRANSITION_SHARE, STROKE, share("trail"), 8.0)


POINTS = (
    (m.SWEET_SPOT_ALONG, m.SWEET_SPOT_OUT, m.SWEET_SPOT_UP),
    (m.GRIP_END_ALONG, m.GRIP_END_OUT, m.GRIP_END_UP),
)


def test_the_putter_leaves_its_pendulum_by_as_much_as_it_did():
    defined = [check.defined(read) for read in putts()]
    for which, three in enumerate(POINTS):
        for axis, metric in enumerate(three):
            for k, at in enumerate((TURN, BALL)):
                close(metric, at, np.array([100 * d.apart[which, k, axis] for d in defined]), 0.05)
    for which, metric in enumerate((m.SWEET_SPOT_DEVIATION, m.GRIP_END_DEVIATION)):
        close(metric, STROKE, np.array([100 * d.deviation[which] for d in defined]), 0.05)
    close(m.PIVOT_HEIGHT, STROKE, np.array([100 * d.height_m for d in defined]), 0.5)


def at_ball(of):
    """A figure of the true points at impact, of every putt."""
    out = []
    for read in putts():
        points, t, ball = true_points(read.truth), read.truth.time_s, read.putt.times_s["impact"]
        head = (points["CHEL"] + points["CTOE"]) / 2
        k = int(np.searchsorted(t, ball))
        home = int(np.searchsorted(t, read.putt.times_s["address"]))
        out.append(of(points, head, k, home, (head[k + 1] - head[k - 1]) / (t[k + 1] - t[k - 1])))
    return np.array(out)


def test_face_path_attack_loft_and_lift_are_those_of_the_true_points():
    def face(points, head, k, *_):
        return np.rad2deg(np.arctan2(*(points["CFAC"][k] - head[k])[:2]))

    def lean(points, head, k, home, _):
        leans = [np.arctan2((head - points["CGRP"])[i, 1], -(head - points["CGRP"])[i, 2]) for i in (home, k)]
        return np.rad2deg(leans[1] - leans[0])

    close(m.PUTTER_FACE, BALL, at_ball(face), 0.5)
    close(m.PUTTER_FACE, "address", at_ball(lambda p, h, k, home, v: face(p, h, home)), 0.2)
    close(m.PUTTER_LOFT_CHANGE, BALL, at_ball(lean), 0.2)
    close(m.PUTTER_PATH, BALL, at_ball(lambda p, h, k, home, v: np.rad2deg(np.arctan2(v[0], v[1]))), 0.6)
    close(
        m.PUTTER_ATTACK, BALL, at_ball(lambda p, h, k, home, v: np.rad2deg(np.arctan2(v[2], np.hypot(v[0], v[1])))), 0.6
    )
    rise = []
    for read in putts():
        high, t, times = true_points(read.truth)["CGRP"][:, 2], read.truth.time_s, read.putt.times_s
        rise.append(100 * (np.interp(times["transition"], t, high) - np.interp(times["address"], t, high)))
    close(m.HANDLE_LIFT, "address..transition", np.array(rise), 0.05)


def test_the_growth_against_the_trend_is_that_of_the_true_ranges():
    """Three distances evenly apart, extension jumping at the last: a straight line through the other two says there
    twice the middle one less the first."""
    jumping = check.reads(replace(PUTTING["putt-jump"], poses=PoseErrors()), 31, ("wrist",))
    sizes = {d: [] for d in (3.0, 6.0, 9.0)}
    for read in jumping:
        sizes[read.putt.style.distance_m].append(np.ptp(read.angle("extension")[1]))
    near, middle, far = (np.mean(sizes[d]) for d in (3.0, 6.0, 9.0))
    told_of = with_growth([read.reading for read in jumping])
    for read, reading in zip(jumping, told_of, strict=True):
        told = values_of(reading).get((m.GROWTH_RATIO.id, STROKE))
        if read.putt.style.distance_m < 9.0:
            assert told is None
        else:
            assert told.value == pytest.approx(far / (2 * middle - near), abs=0.1)


def test_what_is_noted_stands_as_it_was_noted():
    close(m.PUTT_DISTANCE, "swing", np.array([read.putt.style.distance_m for read in putts()]), 1e-9)
    close(m.FACE_GRIP_BIAS, "address", np.full(len(putts()), 2.5), 1e-9)
