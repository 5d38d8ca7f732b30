"""How long a stretch waits for streams that lag behind before it is handed over."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field

import numpy as np

LAGGARD_S = 0.5
"""So long any stream that lags behind is waited for (house value)."""
STILL_SENDS_S = 3.0
"""So long at most where it still sends: a swing a little later with its mat is better than one without it (house
value)."""
Key = tuple[str, int]


@dataclass
class Laggards:
    """``reached_s``: by device and stream the instant, s, that its samples have come to; ``heard_us``: when the last of
    them came. ``pace``: how much faster than real time passes."""

    pace: float = 1.0
    reached_s: dict[Key, float] = field(default_factory=dict)
    heard_us: dict[Key, int] = field(default_factory=dict)

    def heard(self, key: Key, time_s: float, now_us: int) -> None:
        """Samples came that reach so far."""
        self.reached_s[key], self.heard_us[key] = time_s, now_us

    def none_awaited(self, streams: Collection[Key], wanted_s: float, now_s: float, now_us: int) -> bool:
        """Whether all have come to the instant that is wanted, or have been waited for long enough. ``now_s``: the
        instant that the furthest has come to."""
        waited_s = (now_s - wanted_s) / self.pace
        behind = [key for key in streams if self.reached_s.get(key, -np.inf) < wanted_s]
        if waited_s > LAGGARD_S:
            behind = [key for key in behind if self._still_sends(key, now_us)]
        return not behind or waited_s > STILL_SENDS_S

    def _still_sends(self, key: Key, now_us: int) -> bool:
        """Whether something came of a stream just now, however old."""
        return (now_us - self.heard_us.get(key, -(2**60))) / 1e6 < LAGGARD_S * self.pace
