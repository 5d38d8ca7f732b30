"""Makes the poses that drills are drawn from, out of a skilled swing of the golfer model: ``python -m tools.poses``."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

from finearc.core.sources.figure import figure_of
from finearc.golfer.scenarios import play
from finearc.services.judging.analysis import read
from finearc.services.modelled import capture_of

TARGET = Path(__file__).parents[1] / "web" / "src" / "shared" / "figure" / "poses.json"
SCENARIO, SEED, HEIGHT_M = "hold-then-flex", 5, 1.78
MOMENTS = ("address", "shaft_level_back", "arm_level_back", "top", "arm_level_down", "impact", "finish")
MM = 1000.0


def poses() -> dict[str, Any]:
    """Joints by checkpoint, mm, bay axes of a right-hander; the places' origin on the ground between the heels."""
    recording = play(SCENARIO, SEED, sources=("wrist", "body", "club", "markers"), height_m=HEIGHT_M)
    reading = read(capture_of(recording, height_m=HEIGHT_M)).swings[0]
    figure = figure_of(reading, HEIGHT_M)
    assert figure is not None
    times = {str(c): e.time_s for c, e in reading.events.items()}

    def at(name: str, moment: str) -> np.ndarray[Any, Any]:
        column = figure.points[name]
        return np.array([np.interp(times[moment], figure.time_s, column[:, k]) for k in range(3)])

    origin = (at("lead_heel", "address") + at("trail_heel", "address")) / 2 * np.array([1.0, 1.0, 0.0])
    return {
        moment: {
            name: [round(float(v) * MM) for v in at(name, moment) - origin]
            for name in sorted(figure.points)
            if np.isfinite(at(name, moment)).all()
        }
        for moment in MOMENTS
        if moment in times
    }


if __name__ == "__main__":
    TARGET.write_text(json.dumps(poses(), separators=(",", ":")) + "\n", encoding="utf-8")
