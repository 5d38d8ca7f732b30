"""A marker file of another laboratory, made from the golfer model: its own labels, other axes, some markers short."""

from __future__ import annotations

from finearc.catalogue.markers import other_names
from finearc.core.sources.markers import MARKERS
from finearc.core.typing import Array
from finearc.golfer.scenarios import play
from finearc.services.modelled import capture_of


def foreign(
    name: str = "standing-up", seed: int = 5, swings: int = 2, left_out: tuple[str, ...] = ("LFIN", "CFAC")
) -> tuple[list[str], Array]:
    """Labels (k) and points (n, k, 3), m: x to the target, y away from the ball, 240 Hz."""
    data = capture_of(play(name, seed, sources=("markers",)))
    m = data.streams[MARKERS]
    assert m is not None
    labels = [other_names().get(label, (label,))[0] for label in m.labels]
    keep = [k for k, label in enumerate(m.labels) if label not in left_out]
    start, end = (data.swings[0][0] - 0.5, data.swings[swings - 1][1]) if data.swings else (0.0, 99.0)
    rows = (m.time_s >= start) & (m.time_s <= end)
    points = m.points_m[rows][:, keep][:, :, [1, 0, 2]] * [1, -1, 1]
    return [labels[k] for k in keep], points
