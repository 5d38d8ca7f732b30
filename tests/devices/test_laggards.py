"""How long a stretch waits for streams that lag behind."""

import pytest

from finearc.devices.laggards import LAGGARD_S, STILL_SENDS_S, Laggards

WRIST, MAT = ("wrist", 0), ("mat", 0)
WANTED_S = 10.0


def told(wrist_s, mat_s, mat_heard_s, pace=1.0):
    """Whether nobody is waited for any more once the wrist has come so far, in seconds of the bay's clock."""
    laggards = Laggards(pace)
    laggards.heard(MAT, mat_s, round(mat_heard_s * 1e6))
    laggards.heard(WRIST, wrist_s, round(wrist_s * 1e6))
    return laggards.none_awaited({WRIST, MAT}, WANTED_S, wrist_s, round(wrist_s * 1e6))


@pytest.mark.parametrize("pace", [1.0, 8.0])
def test_a_stream_that_lags_is_waited_for_longer_while_it_sends(pace):
    soon, later, too_late = (WANTED_S + pace * s for s in (LAGGARD_S - 0.1, LAGGARD_S + 0.1, STILL_SENDS_S + 0.1))
    assert told(WANTED_S, WANTED_S, WANTED_S, pace)
    assert not told(soon, WANTED_S - 0.1, WANTED_S - 5.0 * pace, pace)
    assert told(later, WANTED_S - 0.1, WANTED_S - 5.0 * pace, pace)  # it has been silent
    assert not told(later, WANTED_S - 0.1, later - 0.1 * pace, pace)  # it sends, though late
    assert told(too_late, WANTED_S - 0.1, too_late, pace)


def test_a_stream_that_never_sent_is_not_waited_for_long():
    laggards = Laggards()
    laggards.heard(WRIST, WANTED_S + LAGGARD_S + 0.1, 0)
    assert laggards.none_awaited({WRIST, MAT}, WANTED_S, WANTED_S + LAGGARD_S + 0.1, 0)
    assert not laggards.none_awaited({WRIST, MAT}, WANTED_S, WANTED_S + LAGGARD_S - 0.1, 0)
