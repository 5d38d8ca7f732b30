"""How different bodies swing: what each differs in from a skilled one."""

from __future__ import annotations

from dataclasses import replace

from finearc.golfer.style import SwingStyle
from finearc.golfer.trunk import BodyStyle

SKILLED = BodyStyle()
SHORT_EARLY_TURN = replace(
    SKILLED,
    pelvis_turn=(0, 4, 14, 26, 28, 14, -8, -33, -50, -90),
    thorax_turn=(0, 15, 34, 58, 60, 50, 20, -18, -46, -108),
)
SLIDE_AWAY = replace(SKILLED, sway=(0, -4.5, -7.0, -8.2, -7.2, -4.0, 0.5, 6.5, 9, 14))
PELVIS_SLIDE = replace(
    SKILLED,
    sway=(0, -1, -1.7, -2.3, -0.8, 4.5, 12, 18.5, 20, 21),
    pelvis_turn=(0, 26, 36, 45, 44, 30, 6, -20, -44, -92),
    thorax_lean=(3, 3, 3, 3, 3, 8, 15, 21, 22, 0),
)
EARLY_EXTENSION = replace(
    SKILLED,
    thrust=(0, 0, 0, 0, 0, 0, 1.5, 7.0, 8.0, 8.0),
    pelvis_bend=(20, 20, 20, 20, 20, 19, 15, 1, -2, -2),
    thorax_posture=(33, 33, 33, 33, 33, 33, 30, 22, 16, 2),
)
RESTRAINED = replace(SKILLED, pelvis_turn=(0, 23, 30, 36, 35, 18, -14, -41, -58, -98))
REVERSE_LEAN = replace(SKILLED, thorax_lean=(3, 0, -3, -6, -7, -4, 2, 9, 13, -1))
DIPPING = replace(SKILLED, thorax_posture=(33, 36, 40, 44, 46, 43, 38, 34, 28, 3))
STANDING_UP = replace(SKILLED, thorax_posture=(33, 30, 26, 22, 21, 24, 28, 30, 26, 3))
OUT_OF_SEQUENCE = replace(
    SKILLED,
    thorax_late=-0.16,
    thorax_turn=(0, 54, 73, 88, 90, 74, 22, -24, -50, -112),
    pelvis_turn=(0, 26, 36, 45, 44, 38, 12, -40, -58, -98),
)
LEG_SAG = replace(SKILLED, lift=(0, -0.7, -0.7, -0.8, -0.9, -1.8, -3.5, -3.4, -2.5, 1.0))
OPEN_AT_ADDRESS = replace(
    SKILLED,
    pelvis_turn=(-15, 8, 20, 34, 34, 16, -16, -42, -58, -98),
    thorax_turn=(-17, 28, 50, 70, 72, 60, 18, -24, -50, -112),
)
LEVEL_PELVIS = replace(SKILLED, pelvis_bend=(6, 6, 6, 6, 6, 6, 5, 4, 3, 1))
LATE_RETURN = replace(SKILLED, press=(0, -7.7, -6.2, -4.7, -0.7, 7.3, 7.7, -6.7, -25, 0))
NO_LOAD = replace(SKILLED, press=(0, -0.1, 4.5, 7.2, 13.9, 20.2, 17.2, 0.3, -23.7, 0))
REVERSE_PRESSURE = replace(SKILLED, press=(0, -7.7, -6, -4.8, 8.2, 24.9, 26.7, -8.6, -36.5, 0))
FAR_FORWARD = replace(SKILLED, press=(0, -7.7, -6, -4.8, 8.2, 21.6, 25.8, 17.7, -10, 0))
ON_HEELS = replace(SKILLED, thrust=(-7.5, -7.5, -7.5, -7.5, -7, -6, -4.5, -2.5, -1, 2))
SWAY_OUTSIDE = replace(SLIDE_AWAY, outside=(0, 0.4, 0.8, 1, 0.9, 0.4, 0, 0, 0, 0))


def with_body(body: BodyStyle, style: SwingStyle | None = None, **options: float) -> SwingStyle:
    """A swing of that body; the hands are a skilled player's unless a style is given."""
    return replace(style or SwingStyle(), body=body, **options)  # type: ignore[arg-type]
