"""Players drawn at random: skilled ones, and ones with known differences put into an otherwise skilled swing.

Synthetic throughout: how much players differ from each other is a house value, not a finding about golfers.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import TypeVar

import numpy as np

from finearc.golfer import bodies as bd, style as st
from finearc.golfer.style import SwingStyle

BETWEEN_PLAYERS = 1.2
"""How much players differ, against the scatter of one player's swings."""
HEIGHT_M, HEIGHT_SD_M = 1.77, 0.07
Part = TypeVar("Part")

INJECTED: Mapping[str, SwingStyle] = {
    "palm_grip": st.PALM_GRIP,
    "takeaway_dip": st.DIP,
    "takeaway_extension": st.TAKEAWAY_EXTENSION,
    "over_extended_top": st.OVER_EXTENDED,
    "over_flexed_top": st.OVER_FLEXED,
    "over_extended_and_hinged_top": st.OVER_HINGED,
    "long_backswing": st.LONG,
    "short_backswing": st.SHORT,
    "early_release": st.EARLY_RELEASE,
    "flip": st.FLIP,
    "rough_trace": st.ROUGH,
    "face_open_top": bd.with_body(bd.SKILLED, face_top_deg=15.0),
    "face_shut_top": bd.with_body(bd.SKILLED, face_top_deg=76.0),
    "path_across": bd.with_body(bd.SKILLED, path_deg=-10.0),
    "hands_out": bd.with_body(bd.SKILLED, takeaway_in_deg=10.0),
    "open_shoulders_at_address": bd.with_body(bd.OPEN_AT_ADDRESS),
    "weight_on_heels": bd.with_body(bd.ON_HEELS),
    "pelvis_level_at_address": bd.with_body(bd.LEVEL_PELVIS),
    "short_early_turn": bd.with_body(bd.SHORT_EARLY_TURN),
    "slide_away": bd.with_body(bd.SLIDE_AWAY),
    "pelvis_slide": bd.with_body(bd.PELVIS_SLIDE),
    "early_extension": bd.with_body(bd.EARLY_EXTENSION),
    "reverse_lean": bd.with_body(bd.REVERSE_LEAN),
    "stands_up": bd.with_body(bd.STANDING_UP),
    "dips": bd.with_body(bd.DIPPING),
    "out_of_sequence": bd.with_body(bd.OUT_OF_SEQUENCE),
    "lead_leg_sag": bd.with_body(bd.LEG_SAG),
    "late_pressure_return": bd.with_body(bd.LATE_RETURN),
    "no_trail_load": bd.with_body(bd.NO_LOAD),
    "pressure_stays_back": bd.with_body(bd.REVERSE_PRESSURE),
}
"""A swing that shows the named difference, in an otherwise skilled player."""

_S = bd.SKILLED
MORE: Mapping[str, SwingStyle] = {
    "held_off": SwingStyle(extension=(22, 22, 22, 21, 13, -10, -22, -8)),
    "uneven_tempo": SwingStyle(backswing_s=1.25),
    "open_pelvis_at_address": bd.with_body(replace(_S, pelvis_turn=(-15, 20, 34, 45, 44, 23, -13, -41, -58, -98))),
    "pelvis_over_tilted_at_address": bd.with_body(replace(_S, pelvis_bend=(34, 34, 34, 34, 34, 34, 34, 30, 20, 4))),
    "pelvis_under_turn": bd.with_body(replace(_S, pelvis_turn=(0, 18, 22, 26, 27, 12, -16, -41, -58, -98))),
    "pelvis_over_turn": bd.with_body(replace(_S, pelvis_turn=(0, 30, 44, 56, 56, 32, -8, -41, -58, -98))),
    "elbows_apart": bd.with_body(replace(_S, elbow=(13, 30, 45, 60, 60, 45, 20, 5, 7, 95))),
    "hands_in": bd.with_body(
        replace(_S, thorax_posture=(34.5, 20, 27, 34.5, 34.5, 35.5, 36.5, 35, 28, 3)), takeaway_in_deg=90.0
    ),
    "shaft_off_line": bd.with_body(_S, takeaway_in_deg=20.0),
    "pelvis_closed_at_impact": bd.with_body(replace(_S, pelvis_turn=(0, 26, 36, 45, 44, 32, 8, -18, -40, -92))),
    "pressure_too_far": bd.with_body(bd.FAR_FORWARD),
    "uneven_balance": bd.with_body(replace(_S, sway=tuple(x + 6.0 for x in _S.sway))),
    "no_push_off": bd.with_body(bd.REVERSE_PRESSURE),
}
"""The same for the findings that are not put in when players are drawn."""


@dataclass(frozen=True)
class Drawn:
    """A player: how they swing on average, and their height (m). ``injected``: difference to its size, 1 as in
    ``INJECTED``."""

    style: SwingStyle
    height_m: float
    injected: Mapping[str, float]


def skilled(rng: np.random.Generator) -> Drawn:
    """A skilled player who differs from others as ``BETWEEN_PLAYERS`` says."""
    height = float(np.clip(rng.normal(HEIGHT_M, HEIGHT_SD_M), 1.60, 1.95))
    return Drawn(SwingStyle().scattered(rng, BETWEEN_PLAYERS, rng), round(height, 3), {})


def with_differences(player: Drawn, sizes: Mapping[str, float]) -> Drawn:
    """The same player with known differences added, each of a given size."""
    style = player.style
    for name, size in sizes.items():
        style = _moved(style, {**INJECTED, **MORE}[name], SwingStyle(), size)
    return replace(player, style=style, injected=dict(sizes))


def _moved(base: Part, toward: Part, origin: Part, size: float) -> Part:
    """``base`` plus ``size`` times the way from ``origin`` to ``toward``, field by field."""
    changed: dict[str, object] = {}
    for f in fields(base):  # type: ignore[arg-type]
        a, b, o = (getattr(x, f.name) for x in (base, toward, origin))
        if is_dataclass(a):
            changed[f.name] = _moved(a, b, o, size)
        elif isinstance(a, tuple):
            changed[f.name] = tuple(x + size * (y - z) for x, y, z in zip(a, b, o, strict=True))
        elif not isinstance(a, bool):
            changed[f.name] = a + size * (b - o)
    return replace(base, **changed)  # type: ignore[type-var]
