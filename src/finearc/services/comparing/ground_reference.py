"""Skilled courses of the pressure to lay over a player's: synthetic, from the golfer model, one for each school."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from finearc.core.typing import Array
from finearc.golfer import bodies as bd
from finearc.golfer.ground import Ground
from finearc.golfer.scenarios import Recording, Scenario, play_story
from finearc.golfer.truth import true_angles, true_travel

BODIES = {"front_foot": bd.SKILLED, "reverse": bd.REVERSE_PRESSURE}
PHASES = np.round(np.arange(-1.2, 1.8001, 0.025), 3)


@dataclass(frozen=True)
class Reference:
    """``phase`` (n,): -1 takeaway, 0 top, 1 impact, then on as fast as the downswing; courses (n,) in %, deg or cm."""

    school: str
    phase: Array
    courses: Mapping[str, Array]


def _times(recording: Recording) -> Array:
    at = recording.truth.swings[0].times_s
    takeaway, top, impact = at["takeaway"], at["top"], at["impact"]
    back, down = top - takeaway, impact - top
    return np.asarray(np.where(PHASES < 0, top + PHASES * back, top + PHASES * down))


def _stance(ground: Ground) -> Array:
    lead, trail = (s.heel_m + 0.5 * s.length_m * s.ahead for s in ground.soles)
    line = lead - trail
    return np.asarray((ground.pressure_m - trail) @ line / (line @ line))


@lru_cache(maxsize=1)
def references() -> tuple[Reference, ...]:
    """One skilled swing of each pressure school, without scatter."""
    out = []
    for school, body in BODIES.items():
        story = Scenario((bd.with_body(body),), "reference", scatter=0.0)
        recording = play_story(story, 11, sources=("pressure",))
        ground, whole = recording.ground, recording.body
        assert ground is not None
        assert whole is not None
        travel = true_travel(recording.truth, whole, recording.truth.swings[0])
        at = _times(recording)
        courses = {
            "stance_position": 100.0 * _stance(ground),
            "lead_heel_toe": 100.0 * ground.along[:, 0],
            "trail_heel_toe": 100.0 * ground.along[:, 1],
            "vertical_force": 100.0 * ground.force_n.sum(axis=1) / ground.weight_n,
            "pelvis_turn": np.rad2deg(true_angles(recording.truth, whole)["pelvis_turn"]),
            "pelvis_sway": 100.0 * travel["pelvis_sway"],
        }
        time_s = recording.truth.time_s
        out.append(Reference(school, PHASES, {k: np.interp(at, time_s, v) for k, v in courses.items()}))
    return tuple(out)
