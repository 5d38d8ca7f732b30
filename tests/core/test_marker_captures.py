"""Marker captures that are less than complete: what is still measured, what is absent, and why."""

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.errors import FineArcError, MissingStream, NoSwingFound
from finearc.core.events.model import Checkpoint
from finearc.core.frames.handedness import Hand
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.metrics import registry as m
from finearc.core.sources.markers import MARKERS
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

CLUB = ("CGRP", "CSHF", "CHEL", "CTOE", "CFAC")
PELVIS = ("LASI", "RASI", "LPSI", "RPSI")
THORAX = ("C7", "T10", "CLAV", "STRN")
ARMS = ("LSHO", "RSHO", "LELB", "LELM", "LWRA", "LWRB", "LFIN")


@pytest.fixture(scope="module")
def data():
    return capture_of(play("free-pelvis", 8, sources=("markers",)))


def only(data, labels, **changes):
    """The capture with these markers alone."""
    s = data.streams[MARKERS]
    keep = [k for k, label in enumerate(s.labels) if label in labels]
    markers = MarkerStream(s.time_s, tuple(s.labels[k] for k in keep), s.points_m[:, keep], s.source, s.axes)
    return replace(data.with_stream(MARKERS, markers), **changes)


def hidden(data, labels, start_s, end_s):
    """The capture with some markers unseen for a while."""
    s = data.streams[MARKERS]
    points = s.points_m.copy()
    rows = (s.time_s >= start_s) & (s.time_s <= end_s)
    for label in labels:
        points[rows, s.labels.index(label)] = np.nan
    return data.with_stream(MARKERS, replace(s, points_m=points))


def values(swing):
    return {(v.metric, v.moment.key): v for v in swing.reading.measured}


def test_swings_are_found_without_being_told(data):
    found = an.analyse(replace(data, swings=None))
    assert len(found.swings) == len(data.swings)
    for swing, (start, end) in zip(found.swings, data.swings, strict=True):
        assert start < swing.reading.events[Checkpoint.IMPACT].time_s < end


@pytest.mark.parametrize(
    ("labels", "top", "measured", "absent"),
    [
        (PELVIS, "marker-pelvis-reversal", m.PELVIS_TURN, m.THORAX_TURN),
        (PELVIS + THORAX, "marker-upper-body-reversal", m.SEPARATION, m.LEAD_KNEE_FLEXION),
        (THORAX + ARMS, "marker-forearm-reversal", m.LEAD_WRIST_EXTENSION, m.PELVIS_SWAY),
        (PELVIS + CLUB, "marker-club-reversal", m.CLUB_PATH, m.LAG),
    ],
)
def test_it_goes_as_far_as_the_markers_go(data, labels, top, measured, absent):
    swing = an.analyse(only(data, labels)).swings[0]
    assert swing.reading.events[Checkpoint.TOP].method == top
    assert measured in {k[0] for k in values(swing)}
    assert absent not in {k[0] for k in values(swing)}
    assert "marker" in swing.missing[absent.id]


def test_a_top_seen_by_the_pelvis_alone_is_uncertain_and_says_so(data):
    pelvis = an.analyse(only(data, PELVIS)).swings[0].reading.events[Checkpoint.TOP]
    club = an.analyse(data).swings[0].reading.events[Checkpoint.TOP]
    assert pelvis.uncertainty_s > 10 * club.uncertainty_s
    assert abs(pelvis.time_s - club.time_s) <= 3 * pelvis.uncertainty_s


def test_without_a_club_the_hands_return_stands_for_impact(data):
    labels = [x for x in data.streams[MARKERS].labels if x not in CLUB]
    swing = an.analyse(only(data, labels)).swings[0]
    impact = swing.reading.events[Checkpoint.IMPACT]
    assert impact.method == "hands-return"
    true = an.analyse(data).swings[0].reading.events[Checkpoint.IMPACT]
    assert abs(impact.time_s - true.time_s) <= 3 * impact.uncertainty_s
    assert "CHEL" in swing.missing["club_path"]


def test_a_head_unseen_through_the_strike_gives_no_path(data):
    impact = an.analyse(data).swings[0].reading.events[Checkpoint.IMPACT].time_s
    swing = an.analyse(hidden(data, CLUB, impact - 0.15, impact + 0.12)).swings[0]
    assert m.CLUB_PATH not in {k[0] for k in values(swing)}
    assert swing.missing["club_path"]
    assert m.PELVIS_TURN in {k[0] for k in values(swing)}


def test_values_inside_an_open_gap_are_absent_and_the_others_stay(data):
    top = an.analyse(data).swings[0].reading.events[Checkpoint.TOP].time_s
    swing = an.analyse(hidden(data, PELVIS, top - 0.2, top + 0.08)).swings[0]
    found = values(swing)
    assert (m.PELVIS_SWAY, "top") not in found
    assert (m.PELVIS_SWAY, "impact") in found
    assert (m.THORAX_TURN, "top") in found
    trace, time_s = swing.reading.traces["pelvis_sway"], swing.reading.time_s
    assert np.isnan(trace[np.argmin(np.abs(time_s - top))])


def test_a_short_gap_of_one_marker_changes_next_to_nothing(data):
    top = an.analyse(data).swings[0].reading.events[Checkpoint.TOP].time_s
    whole, gappy = (values(an.analyse(d).swings[0]) for d in (data, hidden(data, ("LPSI",), top - 0.06, top + 0.06)))
    for metric in (m.PELVIS_TURN, m.PELVIS_FORWARD_BEND):
        assert np.rad2deg(abs(whole[metric, "top"].value - gappy[metric, "top"].value)) < 0.3


def test_a_marker_recording_that_covers_only_some_swings_reads_those(data):
    s = data.streams[MARKERS]
    rows = s.time_s < data.swings[1][1]
    short = replace(
        data.with_stream(MARKERS, replace(s, time_s=s.time_s[rows], points_m=s.points_m[rows])), swings=data.swings[:2]
    )
    assert len(an.analyse(short).swings) == 2
    with pytest.raises(FineArcError, match="outside the recording"):
        an.analyse(replace(short, swings=data.swings))


def test_a_player_who_seems_to_look_away_is_questioned(data):
    turned = replace(data.streams[MARKERS], axes=BayAxes("+y", "-x", "+z"))
    warnings = an.read(data.with_stream(MARKERS, turned)).warnings
    assert any("look 89° away from the ball" in w for w in warnings)
    assert not any("away from the ball" in w for w in an.read(data).warnings)


def test_the_wrong_hand_is_refused(data):
    with pytest.raises(FineArcError, match="axes or hand wrong"):
        an.read(replace(data, handedness=Hand.LEFT))


def test_nothing_at_all_names_what_could_be_given():
    with pytest.raises(MissingStream, match="or markers"):
        an.analyse(an.CaptureData({}))


def test_a_person_who_only_stands_there_has_no_swing(data):
    s = data.streams[MARKERS]
    still = replace(s, points_m=np.repeat(s.points_m[:1], len(s.time_s), axis=0))
    with pytest.raises(NoSwingFound):
        an.analyse(replace(data.with_stream(MARKERS, still), swings=None))


def test_bends_without_an_upright_pose_are_called_absolute(data):
    with_pose, without = (values(an.analyse(d).swings[0]) for d in (data, replace(data, uprights=())))
    key = (m.PELVIS_FORWARD_BEND, "address")
    assert with_pose[key].note == ""
    assert "absolute" in without[key].note
    assert np.rad2deg(without[key].value - with_pose[key].value) == pytest.approx(8.0, abs=1.0)  # the markers' own tilt


def test_notes_say_what_was_mended(data):
    notes = " ".join(an.read(data).notes)
    assert "markers were filled" in notes
    top = an.analyse(data).swings[0].reading.events[Checkpoint.TOP].time_s
    assert "left open" in " ".join(an.read(hidden(data, ("LFIN",), top, top + 0.3)).notes)
