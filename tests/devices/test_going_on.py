"""A take that goes on after a crash: what was acknowledged and not handed over stays in the journal and belongs to it."""

import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import Segment
from finearc.devices.link.declared import Place
from finearc.devices.link.messages import Clock
from finearc.devices.plan import Kept, Plan
from finearc.devices.takes import Take
from finearc.services.capture.raw import ADDRESS, POSES
from tests.devices.conftest import Told, frame, hello

BOTH = frozenset(Place("imu", s.value) for s in (Segment.LEAD_FOREARM, Segment.LEAD_HAND))
HANDED_OVER = 40
"""Samples of the hand that are in the database."""


class Nobody:
    """Keeps nothing."""

    def __getattr__(self, _):
        return lambda *_: None


def connected(bay, segment, device):
    """A device on a known clock."""
    state = bay.welcome(hello(segment, device=device), Told())
    for t0_us in (0, 1000):
        bay.hear(state, Clock(type="clock", t0_us=t0_us))
    return state


def sent(bay, device, first, after):
    for k in range(first, after, 4):
        bay.frame(device, frame(k))


def begun(bay, keeper=None):
    plan = Plan(Hand.RIGHT, BOTH, sent=frozenset({POSES, ADDRESS}), kept=Kept(0, {"hand/1/0": HANDED_OVER}))
    take = Take(bay, keeper or Nobody(), plan, lambda call, *args: None, lambda seconds, call: None)
    take.begin()
    return take


def pending(take, device="hand"):
    """Sequences that are to be handed over."""
    parts = [p for p in take._stretch.pending if p.device.id == device]
    return [p.samples.first + k for p in parts for k in range(p.samples.count)]


@pytest.fixture
def crashed(new_bay):
    """A bay whose application has ended after 100 samples of the hand."""
    bay = new_bay()
    sent(bay, connected(bay, "lead_hand", "hand"), 0, 100)
    bay.journal.flush()
    bay.close()
    return new_bay


def test_what_the_journal_had_stays_there_until_it_is_handed_over(crashed):
    bay = crashed()
    take = begun(bay)
    assert bay.journal.segment == 2
    assert pending(take) == list(range(HANDED_OVER, 100))
    for segment, device in (("lead_forearm", "forearm"), ("lead_hand", "hand")):
        state = connected(bay, segment, device)
        sent(bay, state, 100 if device == "hand" else 0, 140)
    assert take.phase == "armed"
    assert bay.needed_from == 1
    bay.let_go()
    bay.close()
    again = begun(crashed())  # it ends once more, before anything was handed over
    assert pending(again) == list(range(HANDED_OVER, 140))


def test_what_one_device_sends_while_another_is_still_away_is_not_left_out(crashed):
    bay = crashed()
    take = begun(bay)
    hand = connected(bay, "lead_hand", "hand")
    sent(bay, hand, 100, 140)
    assert take.phase == "waiting"
    sent(bay, connected(bay, "lead_forearm", "forearm"), 0, 8)
    sent(bay, hand, 140, 144)
    assert take.phase == "armed"
    assert pending(take) == list(range(HANDED_OVER, 144))
    assert pending(take, "forearm")


class Counts(Nobody):
    """Notes how far what it is given reaches."""

    def __init__(self):
        self.following = []

    def swing(self, batch, key, kept):
        self.following.append((key.startswith("idle"), kept.following["hand/1/0"]))


def test_what_is_kept_while_a_device_stays_away_does_not_grow(crashed, clock):
    bay, keeper = crashed(), Counts()
    take = begun(bay, keeper)
    hand = connected(bay, "lead_hand", "hand")
    sent(bay, hand, 100, 140)
    clock.us += 61_000_000
    sent(bay, hand, 140, 144)
    take._worker.shutdown(wait=True)
    assert keeper.following == [(True, 144)]
    assert (take.phase, pending(take)) == ("waiting", [])


def test_what_never_belonged_to_it_is_left_out(crashed):
    bay = crashed()
    take = begun(bay)
    sent(bay, connected(bay, "lead_forearm", "forearm"), 0, 8)
    other = connected(bay, "head", "other")
    sent(bay, other, 0, 20)
    other.has_clock = False  # never ready: it is not put on
    sent(bay, connected(bay, "lead_hand", "hand"), 100, 108)
    assert take.phase == "armed"
    assert pending(take, "other") == []
    assert pending(take) == list(range(HANDED_OVER, 108))
