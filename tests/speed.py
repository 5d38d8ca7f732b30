"""How fast this machine is now: devices that are played faster than real time must not outrun what hears them."""

from __future__ import annotations

import functools
import time

USUAL_S = 0.17
"""What a loop of two million steps takes on a machine on which devices can be played twenty times as fast."""
STEPS = 2_000_000


@functools.cache
def machine_share() -> float:
    """The machine's speed as a share of the usual one, at most 1: the better of three tries."""
    return min(1.0, USUAL_S / min(_loop_s() for _ in range(3)))


def _loop_s() -> float:
    begun = time.perf_counter()
    total = 0
    for k in range(STEPS):
        total += k
    return time.perf_counter() - begun
