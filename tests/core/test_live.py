"""A recording that goes on, read stretch by stretch, against the same recording read whole."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from finearc.core.orientation.heading import heading_mark, on_marked_heading, yaw_between
from finearc.core.sources.capture import prepare, read_prepared
from finearc.core.sources.ground import MAT
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.live import LONGEST_S, MEMORY_S, begin, go_on
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

EVERYTHING = ("wrist", "upper-arm", "club", "body", "pressure")
CALIBRATED_S = 1.0


@pytest.fixture(scope="module")
def played():
    return play("over-extended", 11, sources=EVERYTHING)


def cut(data, start_s, end_s):
    return {k: k.cut(s, start_s, end_s) for k, s in data.streams.items()}


def begun(data, until_s):
    """The recording as it stands once the poses are held."""
    first = replace(data, streams=cut(data, -np.inf, until_s), swings=())
    capture = an.capture_of(first, swings_expected=False)
    prepared = prepare(capture)
    return begin(capture, *read_prepared(prepared, {}, {}))


def stretches(recording):
    poses = max(end for spans in recording.truth.windows.values() for _, end in spans) + CALIBRATED_S
    ends = [s.end_s + 0.05 for s in recording.truth.swings]
    return poses, list(zip([poses, *ends], ends, strict=False))


@pytest.fixture(scope="module")
def both(played):
    """Swings read one after the other, and all at once."""
    data = capture_of(played)
    poses, parts = stretches(played)
    live, found = begun(data, poses), []
    for start, end in parts:
        reading, live = go_on(live, cut(data, start, end))
        found += reading.swings
    return found, an.read(replace(data, swings=None)).swings, live


def test_every_swing_is_found_once_where_it_was(both):
    alone, whole, _ = both
    assert len(alone) == len(whole) == 5
    for a, b in zip(alone, whole, strict=True):
        assert a.start_s == pytest.approx(b.start_s, abs=0.02)
        for name, event in b.events.items():
            assert a.events[name].time_s == pytest.approx(event.time_s, abs=max(0.004, event.uncertainty_s)), name


def test_values_agree_with_those_of_the_whole_to_well_within_their_uncertainty(both):
    alone, whole, _ = both
    ratios = []
    for a, b in zip(alone, whole, strict=True):
        here, there = ({(v.metric.id, v.moment.key): v for v in s.measured} for s in (a, b))
        assert len(here.keys() ^ there.keys()) <= 0.01 * len(there)
        for key in here.keys() & there.keys():
            v, w = here[key], there[key]
            ratios.append(abs(v.value - w.value) / max(w.uncertainty, 1e-9))
    assert np.percentile(ratios, 95) < 0.25
    assert np.percentile(ratios, 99) < 0.75
    assert max(ratios) < 3.0


def test_what_is_kept_does_not_grow(both, played):
    _, _, live = both
    mat = live.streams[MAT]
    assert mat.time_s[0] < 1.0, "the empty mat's zero stays"
    first, last = INERTIAL.span(live.streams[INERTIAL])
    assert last - first < MEMORY_S + 5.0 < LONGEST_S


def test_a_stretch_without_a_swing_gives_none_and_loses_none(played):
    data = capture_of(played)
    poses, parts = stretches(played)
    live = begun(data, poses)
    start, end = parts[0]
    middle = played.truth.swings[0].start_s + 0.4
    reading, live = go_on(live, cut(data, start, middle))
    assert reading.swings == ()
    reading, live = go_on(live, cut(data, middle, end))
    assert len(reading.swings) == 1
    reading, live = go_on(live, cut(data, end, end + 0.2))
    assert reading.swings == ()


def motions_of(played):
    return prepare(an.capture_of(capture_of(played))).motions.get(INERTIAL).sensors


def test_a_heading_goes_on_from_where_it_stood(played):
    hand = motions_of(played).hand
    mark = heading_mark(hand, 10.0)
    turned = replace(
        hand, q_up_from_sensor=(Rotation.from_euler("z", 1.234) * Rotation.from_quat(hand.q_up_from_sensor)).as_quat()
    )
    back = on_marked_heading(turned, mark)
    apart = Rotation.from_quat(back.q_up_from_sensor) * Rotation.from_quat(hand.q_up_from_sensor).inv()
    assert apart.magnitude().max() < 1e-6
    assert np.array_equal(back.piece, hand.piece)


def test_without_an_overlap_the_heading_counts_as_lost(played):
    hand = motions_of(played).hand
    later = replace(hand, time_s=hand.time_s + 1000.0)
    assert (on_marked_heading(later, heading_mark(hand, 10.0)).piece > hand.piece.max()).all()


@pytest.mark.parametrize("angle", [-3.0, -0.4, 0.0, 1.0, 3.1])
def test_the_turn_between_two_stretches_is_found_in_spite_of_tilts(angle):
    rng = np.random.default_rng(5)
    q = Rotation.random(40, random_state=6)
    tilted = Rotation.from_rotvec(rng.normal(0.0, 0.02, (40, 3))) * q
    found = yaw_between(q.as_quat(), (Rotation.from_euler("z", angle) * tilted).as_quat())
    assert found == pytest.approx(angle, abs=0.02)


def at_rest(data, start, mat_until):
    """What is read of the address, the mat having come so far only."""
    inertial, mat = (k.cut(data.streams[k], -np.inf, end) for k, end in ((INERTIAL, start), (MAT, mat_until)))
    late = replace(data, streams={INERTIAL: inertial, MAT: mat}, swings=())
    reading, _ = read_prepared(prepare(an.capture_of(late, swings_expected=False)), {}, {})
    return reading.setup


def test_an_address_is_read_where_every_source_has_come_to(played):
    """Live, a mat may be behind the sensors: then both are read at a moment that both have seen."""
    data = capture_of(played)
    start = played.truth.swings[0].times_s["takeaway"] - 0.1
    whole = at_rest(data, start, start)
    behind = at_rest(data, start, whole.at_s - 0.1)
    assert behind.at_s < whole.at_s - 0.1
    for setup in (whole, behind):
        assert {"lead_share", "lead_wrist_extension"} <= {v.metric.id for v in setup.measured}
