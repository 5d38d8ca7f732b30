"""Makes the shipped, synthetic cohort of skilled swings from the golfer model: ``python -m tools.cohort``."""

from __future__ import annotations

import json
from concurrent.futures import ProcessPoolExecutor
from typing import Any

import numpy as np

from finearc.catalogue.library import DATA, default_schools
from finearc.catalogue.rule_set import built_in
from finearc.core.comparing.cohort import mean_trace, normalised
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.golfer.population import skilled
from finearc.golfer.scenarios import Scenario, play_story
from finearc.services.judging.analysis import analyse
from finearc.services.modelled import capture_of

PLAYERS, SWINGS, SEED = 12, 5, 500
SOURCES = ("wrist", "body", "club", "markers", "pressure")


def player(number: int) -> list[dict[str, Any]]:
    """Five swings of one drawn player: values (SI) and traces at the places of a swing's clock, in own units."""
    drawn = skilled(np.random.default_rng(SEED + number))
    story = Scenario((drawn.style,) * SWINGS, "A skilled player.")
    recording = play_story(story, SEED + number, sources=SOURCES, height_m=drawn.height_m)
    analysis = analyse(capture_of(recording, height_m=drawn.height_m))
    out = []
    for k, swing in enumerate(analysis.swings, 1):
        events = {str(c): e.time_s for c, e in swing.reading.events.items()}
        traces = {}
        for key, values in swing.reading.traces.items():
            at = normalised(swing.reading.time_s, values * PER_SI[BY_ID[key].unit], events)
            if at is not None:
                traces[key] = at
        values = {(j.measured.metric.id, j.measured.moment.key): j.measured.value for j in swing.judged}
        out.append({"player": f"Model player {number + 1}", "swing": k, "values": values, "traces": traces})
    return out


def _number(value: float) -> float | None:
    return None if not np.isfinite(value) else round(float(value), 2)


def cohort_file() -> dict[str, Any]:
    """The content of the file."""
    with ProcessPoolExecutor(2) as pool:
        swings = [s for own in pool.map(player, range(PLAYERS)) for s in own]
    keys = sorted(built_in().needed)
    traced = sorted({k for s in swings for k in s["traces"]})
    means = {k: mean_trace([(s["player"], s["traces"][k]) for s in swings if k in s["traces"]]) for k in traced}
    return {
        "about": "Synthetic: drawn by the golfer model, not measured on people. Made by tools/cohort.py.",
        "schools": default_schools(),
        "keys": [f"{a}@{b}" for a, b in keys],
        "swings": [
            {
                "player": s["player"],
                "swing": s["swing"],
                "values": [None if k not in s["values"] else round(s["values"][k], 5) for k in keys],
            }
            for s in swings
        ],
        "traces": {
            k: {part: [_number(v) for v in getattr(t, part)] for part in ("middle", "low", "high")}
            for k, t in means.items()
        },
    }


if __name__ == "__main__":
    text = json.dumps(cohort_file(), separators=(",", ":"))
    (DATA / "synthetic-cohort.json").write_text(text + "\n", encoding="utf-8")
