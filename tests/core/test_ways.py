"""Which way a value differs, in words: never a sign, and never *more* of what is less."""

from __future__ import annotations

import pytest

from finearc.core.metrics.registry import ALL, BY_ID
from finearc.core.metrics.words import change_in_words, way_in_words


@pytest.mark.parametrize(
    ("metric", "value_si", "words"),
    [
        ("lead_wrist_extension", 0.2, "11° more extended"),
        ("lead_wrist_extension", -0.2, "11° more flexed"),
        ("lead_share", 0.24, "24 % more on the lead foot"),
        ("lead_share", -0.24, "24 % less on the lead foot"),
        ("stance_position", -0.1, "10 % less of the way to the lead foot"),
        ("posture_from_ground", -0.2, "11° more bent over"),
    ],
)
def test_a_change_says_its_way(metric, value_si, words):
    assert change_in_words(BY_ID[metric], value_si) == words


@pytest.mark.parametrize("metric", ALL, ids=lambda m: m.id)
def test_two_ways_are_never_said_alike(metric):
    for plain in (False, True):
        if metric.plain_positive if plain else metric.positive:
            assert way_in_words(metric, 1.0, plain=plain) != way_in_words(metric, -1.0, plain=plain)
