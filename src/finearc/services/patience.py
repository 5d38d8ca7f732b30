"""Doing a unit of work again while something passing stands in its way."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from typing import TypeVar

import structlog

log = structlog.get_logger()
Answer = TypeVar("Answer")
IsPassing = Callable[[BaseException], bool]
"""Whether an error may be gone when the same is done again."""


def persist(
    work: Callable[[], Answer],
    passing: IsPassing,
    patience_s: float,
    waiting: Callable[[], None] = lambda: None,
    stopped: Callable[[], bool] = lambda: False,
) -> Answer:
    """Do a whole unit of work, again while its error is ``passing``, at most ``patience_s`` long; ``waiting`` is told
    before each new try. The work must be harmless when it is repeated. Raises what it raised last."""
    end, pause = time.monotonic() + patience_s, 0.05
    while True:
        try:
            return work()
        except Exception as error:
            if not passing(error) or stopped() or time.monotonic() + pause > end:
                raise
            log.warning("a unit of work is done again", kind=type(error).__name__)
            waiting()
            time.sleep(pause * random.uniform(0.5, 1.5))
            pause = min(2 * pause, 1.0)
