"""The pictures and words of what goes home: measures drawn as what they are, in the player's words and lengths."""

from __future__ import annotations

import math
import re
from xml.etree import ElementTree as ET

import pytest

from finearc.core.events.model import ORDER, Checkpoint
from finearc.core.metrics.definition import Drawing
from finearc.core.metrics.registry import ALL, BY_ID
from finearc.reports.before_after import SEEN_IN
from finearc.reports.gauge import FOLDER, gauge
from finearc.reports.voice import Voice
from finearc.services.records import Player

DRAWN = [m for m in ALL if m.chart is not None or m.id == "lead_share"]


def turned(svg):
    """Degrees by which parts are turned, in their order."""
    return [float(x) for x in re.findall(r"rotate\((-?[\d.]+)\)", svg)]


@pytest.mark.parametrize("metric", DRAWN, ids=lambda m: m.id)
def test_every_measure_with_a_drawing_is_drawn_before_and_after_with_its_band(metric):
    root = ET.fromstring(gauge(metric, (30.0, 12.0), (0.0, 20.0)))
    looks = [e.attrib for e in root.iter()]
    assert sum("stroke-dasharray" in a and a.get("stroke") == "#565b58" for a in looks) == 1  # before
    assert sum(a.get("fill") == "#e6eaea" for a in looks) == 1  # the band
    assert not any(v.startswith("var(") for a in looks for v in a.values())
    alone = gauge(metric, (None, 12.0), (None, 20.0))
    assert "#e6eaea" not in alone
    assert "#565b58" not in alone.replace(gauge(metric, (None, 12.0), (None, None)), "")


def test_the_hand_turns_by_the_angle_and_its_band_is_a_sector_from_straight_on():
    """12° cupped turns the hand 12° up from the forearm's line; a band of 0° to 30° is a sector of 30°."""
    svg = gauge(BY_ID["lead_wrist_extension"], (38.0, 12.0), (0.0, 30.0))
    assert turned(svg) == [-12.0, -38.0]
    (band,) = [e for e in ET.fromstring(svg).iter("path") if e.get("fill") == "#e6eaea"]
    x0, y0, x1, y1 = (float(v) for v in re.match(r"M([-\d.]+),([-\d.]+) L([-\d.]+),([-\d.]+)", band.get("d")).groups())
    corners = [(x0, y0), (x1, y1)]
    assert [round(math.degrees(math.atan2(-y, x))) for x, y in corners] == [30, 30]
    last = re.search(r"A104,104 0 0 0 ([-\d.]+),([-\d.]+) Z", band.get("d"))
    assert last is not None
    inner = re.search(r"L([-\d.]+),([-\d.]+) A104", band.get("d"))
    assert round(math.degrees(math.atan2(-float(inner[2]), float(inner[1])))) == 0


def test_the_pressure_lies_between_the_feet_as_far_to_the_lead_one_as_it_is():
    svg = ET.fromstring(gauge(BY_ID["lead_share"], (None, 75.0), (None, None)))
    (spot,) = [e for e in svg.iter("circle")]
    assert float(spot.get("cx")) == pytest.approx(82.0 - 1.64 * 75.0)  # the lead foot stands on the left, at -82


def test_what_is_told_over_a_stretch_is_seen_in_a_measure_that_is_drawn_and_read_there():
    for told, (name, start, end) in SEEN_IN.items():
        assert BY_ID[told].chart is None
        assert BY_ID[name].chart is not None
        assert Checkpoint(start) in ORDER
        assert Checkpoint(end) in ORDER


def test_a_measure_without_a_drawing_has_none():
    assert gauge(BY_ID["tempo"], (None, 3.0), (None, None)) == ""


def test_each_shape_of_the_interface_is_used():
    used = {
        "between_feet",
        "along_lead",
        "along_trail",
        "pelvis",
        "shoulders",
        "spine",
        "joint",
        "cup",
        "hinge",
        "roll",
        "shaft",
    }
    assert {f.stem for f in FOLDER.glob("*.svg")} == used
    assert {m.chart.drawing for m in ALL if m.chart is not None} <= set(Drawing)


def test_left_and_right_are_the_players_own_and_words_the_chosen_ones():
    player = Player(None, "P", "left", words="standard")  # type: ignore[arg-type]
    voice = Voice.of(player)
    assert voice.say("Keep the lead foot flat.") == "Keep the right foot flat."
    assert voice.pick("extended", "cupped") == "extended"
    assert voice.label(BY_ID["lead_wrist_extension"]) == "Lead wrist extension"
    player.words = "plain"
    assert Voice.of(player).label(BY_ID["lead_wrist_extension"]) == "Wrist cup"
