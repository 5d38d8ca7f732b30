"""How often the memory of a process that serves is searched for what nobody holds any more."""

from __future__ import annotations

import gc

YOUNG, OLDER, OLDEST = 50_000, 20, 20
"""Python's own 700, 10, 10 search the few hundred thousand objects of a loaded application several times within one
request that makes many small ones (judging 200 swings again: half of its time)."""


def settle() -> None:
    """What stands now is there to stay and is not searched again; what comes is searched less often."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNG, OLDER, OLDEST)
