"""Skilled swings by club and shot, and by the ways of swinging that are taught: what each differs in from a mid-iron's
full swing. House values after common practice: what practitioners set up and swing differently, not a finding about
golfers. The club stays that of a mid-iron; what is read of the club alone does not hold for another.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from finearc.core.events.swings import Shot
from finearc.golfer import bodies as bd, style as st
from finearc.golfer.style import SwingStyle
from finearc.golfer.trunk import BodyStyle

WRISTS: Mapping[str, SwingStyle] = {"hold": st.HOLD, "flat": st.FLAT, "early_flex": st.EARLY_FLEX}
PELVES: Mapping[str, tuple[float, ...]] = {
    "free": bd.SKILLED.pelvis_turn,
    "restrained": bd.RESTRAINED.pelvis_turn,
}
PRESSURES: Mapping[str, tuple[float, ...]] = {
    "front_foot": bd.SKILLED.press,
    "reverse": bd.REVERSE_PRESSURE.press,
}
"""By the ids of the schools' options."""


@dataclass(frozen=True)
class Kind:
    """How a club or a shot is swung. ``posture_deg``, ``lean_deg`` and ``forward_cm``: bent less or more, leaning away
    from the target, pelvis toward the target, all from address on; ``turn``: of pelvis and thorax, of the full;
    ``open_deg``: pelvis and thorax at address; ``wrist``: how much of the wrists' motion; ``hinge_deg``: at the top,
    more toward the thumb."""

    label: str
    shot: Shot
    backswing_s: float
    downswing_s: float
    length: float = 1.0
    through: float = 1.0
    turn: float = 1.0
    shaft_top_deg: float = 14.0
    posture_deg: float = 0.0
    lean_deg: float = 0.0
    forward_cm: float = 0.0
    open_deg: float = 0.0
    wrist: float = 1.0
    hinge_deg: float = 0.0


KINDS: Mapping[str, Kind] = {
    "driver": Kind("Driver", Shot.FULL, 0.88, 0.26, shaft_top_deg=8.0, posture_deg=-3.5, lean_deg=4.0),
    "fairway-wood": Kind("Fairway wood", Shot.FULL, 0.86, 0.265, shaft_top_deg=10.0, posture_deg=-2.0, lean_deg=2.0),
    "mid-iron": Kind("Mid-iron", Shot.FULL, 0.84, 0.27),
    "wedge": Kind(
        "Wedge", Shot.FULL, 0.80, 0.28, turn=0.92, shaft_top_deg=26.0, posture_deg=1.5, lean_deg=-1.0, forward_cm=0.8
    ),
    "pitch": Kind(
        "Pitch", Shot.PITCH, 0.66, 0.31, 0.62, 0.62, 0.62, posture_deg=1.5, lean_deg=-1.5, forward_cm=1.6, wrist=0.7
    ),
    "chip": Kind(
        "Chip",
        Shot.CHIP,
        0.52,
        0.32,
        0.34,
        0.36,
        0.34,
        posture_deg=2.0,
        lean_deg=-2.5,
        forward_cm=3.0,
        open_deg=6.0,
        wrist=0.35,
    ),
    "bunker": Kind(
        "Bunker",
        Shot.BUNKER,
        0.76,
        0.31,
        0.82,
        0.9,
        0.75,
        posture_deg=2.0,
        open_deg=10.0,
        forward_cm=1.5,
        hinge_deg=5.0,
    ),
}


def skilled_style(kind: str, wrist: str = "hold", pelvis: str = "free", pressure: str = "front_foot") -> SwingStyle:
    """One of ``KINDS`` in the named ways of ``WRISTS``, ``PELVES`` and ``PRESSURES``."""
    k, hands = KINDS[kind], WRISTS[wrist]
    body = replace(bd.SKILLED, pelvis_turn=PELVES[pelvis], press=PRESSURES[pressure])
    return replace(
        hands,
        extension=_less(hands.extension, k.wrist),
        deviation=_hinged(_less(hands.deviation, k.wrist), k.hinge_deg),
        shaft_top_deg=k.shaft_top_deg,
        backswing_s=k.backswing_s,
        downswing_s=k.downswing_s,
        length=k.length,
        through=k.through,
        body=_placed(body.shorter(k.turn, max(k.turn, k.through)), k),
    )


def _less(angles: tuple[float, ...], share: float) -> tuple[float, ...]:
    """Wrist angles at the moments with a share of their way from address."""
    return tuple(angles[0] + share * (x - angles[0]) for x in angles)


def _hinged(angles: tuple[float, ...], more_deg: float) -> tuple[float, ...]:
    """More toward the thumb from shaft level to arm level coming down."""
    more = more_deg * np.array([0.0, 0.4, 0.8, 1.0, 1.0, 0.0, 0.0, 0.0])
    return tuple(float(x) for x in np.array(angles) + more)


def _placed(body: BodyStyle, k: Kind) -> BodyStyle:
    """Set up as the kind asks for; by the finish that has gone."""
    fading = np.array([1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 0.7, 0.2])

    def more(values: tuple[float, ...], by: float) -> tuple[float, ...]:
        return tuple(float(x) for x in np.array(values) + by * fading)

    return replace(
        body,
        thorax_posture=more(body.thorax_posture, k.posture_deg),
        thorax_lean=more(body.thorax_lean, k.lean_deg),
        sway=more(body.sway, k.forward_cm),
        pelvis_turn=more(body.pelvis_turn, -k.open_deg),
        thorax_turn=more(body.thorax_turn, -k.open_deg),
    )
