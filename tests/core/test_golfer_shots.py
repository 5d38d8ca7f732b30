"""Skilled swings of the golfer model by club and shot: shorter ones stay whole swings and go where they should."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest

from finearc.core.events.model import Checkpoint
from finearc.core.events.swings import Shot
from finearc.golfer.poses import PoseErrors
from finearc.golfer.scenarios import SCENARIOS, Scenario, play, play_story
from finearc.golfer.shots import KINDS, PELVES, PRESSURES, WRISTS, skilled_style
from finearc.golfer.style import SwingStyle
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of


def played(kind, **ways):
    story = Scenario((skilled_style(kind, **ways),), kind, PoseErrors(), scatter=0.0, shot=KINDS[kind].shot)
    return play_story(story, 4, sources=("wrist", "club", "markers"))


RECORDINGS = {kind: played(kind) for kind in KINDS}


def at_top(recording, values):
    return float(np.rad2deg(values[round(1000 * recording.truth.swings[0].times_s["top"])]))


def test_a_mid_iron_in_the_default_ways_is_the_skilled_swing_itself():
    assert skilled_style("mid-iron") == SwingStyle()


def test_the_less_is_asked_of_a_shot_the_shorter_it_is():
    # common practice: a chip is shorter than a pitch, a pitch than a bunker shot, that than a full swing
    order = ("chip", "pitch", "bunker", "wedge", "mid-iron")
    turns = [at_top(RECORDINGS[k], thorax(RECORDINGS[k])) for k in order]
    assert all(a < b for a, b in pairwise(turns)), turns
    lengths = [t.times_s["impact"] - t.times_s["takeaway"] for k in order for t in RECORDINGS[k].truth.swings]
    assert all(a < b for a, b in pairwise(lengths)), lengths


def thorax(recording):
    return np.deg2rad(
        recording.truth.dofs[:, 3] - recording.truth.dofs[round(1000 * recording.truth.swings[0].times_s["address"]), 3]
    )


def miss_m(recording):
    """How far from its place at address the club head is at impact."""
    truth = recording.truth
    head = truth.lead_shoulder_m + truth.arm.to_wrist(truth.r_bay_from_forearm, truth.dofs[:, 9])
    head += truth.r_bay_from_hand[:, :, 0] * truth.anatomy.hand_to_grip
    head += truth.r_bay_from_club[:, :, 0] * truth.anatomy.grip_to_head
    at = truth.swings[0].times_s
    there, here = (head[round(1000 * at[k])] for k in ("address", "impact"))
    return float(np.linalg.norm(here - there))


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_whatever_its_length_the_head_comes_back_to_the_ball(kind):
    assert miss_m(RECORDINGS[kind]) < 0.0214  # a ball's radius; a full swing misses by 1.7 cm


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_it_is_found_and_its_checkpoints_are_read(kind):
    recording = RECORDINGS[kind]
    capture = capture_of(recording)
    assert capture.shot is KINDS[kind].shot
    (swing,) = an.read(replace(capture, swings=None)).swings
    true = recording.truth.swings[0].times_s
    for name in ("top", "impact"):
        assert swing.events[Checkpoint(name)].time_s == pytest.approx(true[name], abs=0.015)


@pytest.mark.parametrize("kind", ["chip", "pitch"])
def test_the_wrists_of_a_short_shot_do_less(kind):
    truth, full = RECORDINGS[kind].truth, RECORDINGS["mid-iron"].truth
    assert np.ptp(truth.deviation) < 0.8 * np.ptp(full.deviation)


@pytest.mark.parametrize(
    ("ways", "moves"),
    [({"wrist": name}, "extension") for name in WRISTS if name != "hold"]
    + [({"pelvis": name}, "pelvis_turn") for name in PELVES if name != "free"]
    + [({"pressure": name}, "press") for name in PRESSURES if name != "front_foot"],
)
@pytest.mark.parametrize("kind", ["driver", "chip"])
def test_a_school_changes_what_it_is_about_and_nothing_else(kind, ways, moves):
    own, other = skilled_style(kind), skilled_style(kind, **ways)
    if moves == "extension":
        assert own.extension != other.extension
        assert own.body == other.body
    else:
        assert getattr(own.body, moves) != getattr(other.body, moves)
        assert replace(other.body, **{moves: getattr(own.body, moves)}) == own.body
        assert own.extension == other.extension


@pytest.mark.parametrize("name", ["pitch", "chip", "bunker"])
def test_a_short_shot_can_be_simulated_and_gets_no_range(name):
    assert SCENARIOS[name].shot is Shot(name)
    swings = an.analyse(capture_of(play(name, 3, sources=("wrist", "club")))).swings
    assert len(swings) == 5
    assert not [j for s in swings for j in s.judged if j.range is not None]
