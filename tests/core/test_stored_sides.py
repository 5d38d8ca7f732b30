"""What two sides of the record have to have in common."""

from __future__ import annotations

from dataclasses import replace
from uuid import uuid4

import pytest

from finearc.core.comparing.seen import SwingSeen
from finearc.golfer.scenarios import play
from finearc.services.comparing.around import Around
from finearc.services.comparing.sides import Asked, StoredSide
from finearc.services.comparing.stored import compared
from finearc.services.errors import Refused
from finearc.services.judging.analysis import read
from finearc.services.modelled import capture_of

AROUND = Around("7-iron", "full", "right", frozenset(), frozenset({"one"}))


@pytest.fixture(scope="module")
def swings():
    return [SwingSeen.of(r) for r in read(capture_of(play("hold-then-flex", 8))).swings]


def side(seen, **more):
    return StoredSide(Asked("swing", str(uuid4())), replace(AROUND, **more), [seen])


def test_a_putt_is_not_laid_over_a_drive(swings):
    assert compared(side(swings[0]), side(swings[1])).metrics
    with pytest.raises(Refused, match="one is a putt"):
        compared(side(swings[0], shot="putt"), side(swings[1]))
    assert compared(side(swings[0], shot="putt"), side(swings[1], shot="putt")).metrics


def test_nothing_in_common_is_refused(swings):
    empty = replace(swings[1], measured=[])
    with pytest.raises(Refused, match="no measure in common"):
        compared(side(swings[0]), side(empty))
