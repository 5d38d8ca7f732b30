"""Club, and the hands that carry it."""

from __future__ import annotations

from finearc.core.metrics.definition import Family, Metric, Unit

_CLUB = "a club clip, or markers on the club"
_MARKERS = "markers on the club"
_FACE = "markers on the club head"
_HANDS = "markers on both hands and the pelvis"

SHAFT_ELEVATION = Metric(
    "shaft_elevation",
    "Shaft elevation",
    "Shaft height",
    Unit.DEG,
    Family.CLUB,
    "above level",
    "below level",
    "above level",
    "below level",
    "Angle of the shaft against the horizontal. At the top, above level is short of level, below level is past it.",
    "asin(s_z), s from grip end to head, + head above hands.",
    _CLUB,
)
SHAFT_ELEVATION_RATE = Metric(
    "shaft_elevation_rate",
    "Shaft elevation rate",
    "How fast the shaft rises",
    Unit.DEG_PER_S,
    Family.CLUB,
    "rising",
    "falling",
    "rising",
    "falling",
    "How fast the club head rises or falls against the hands at that moment.",
    "Time derivative of shaft_elevation after a cubic Savitzky–Golay filter of about 45 ms.",
    _CLUB,
)
SHAFT_HEADING = Metric(
    "shaft_heading",
    "Shaft heading",
    "Shaft direction",
    Unit.DEG,
    Family.CLUB,
    "outside",
    "inside",
    "outside",
    "inside",
    "Where the shaft points, seen from above, when it is level: along the target line, outside it (ball side) or inside it.",
    "atan2(s_x, −s_y) before impact, atan2(s_x, s_y) after it, + outside (ball side).",
    _MARKERS,
)
FACE_ELEVATION = Metric(
    "face_elevation",
    "Face elevation",
    "Face height",
    Unit.DEG,
    Family.CLUB,
    "toward the sky",
    "toward the ground",
    "toward the sky",
    "toward the ground",
    "Where the club face looks at the top: about 45° is square, toward 0° open, toward 90° shut. Loft is left out.",
    "v = unit(z − s_z s), f made perpendicular to s: atan2(f · v, f · (s × v)).",
    _FACE,
)
CLUB_PATH = Metric(
    "club_path",
    "Club path",
    "Club path",
    Unit.DEG,
    Family.CLUB,
    "in to out",
    "out to in",
    "in to out",
    "out to in",
    "The direction of the club head through the ball, seen from above, against the target line.",
    "Direction of the head velocity at impact from a quadratic through its directions between the last six frames before it, + in to out.",
    _FACE,
    decimals=1,
)
ATTACK_ANGLE = Metric(
    "attack_angle",
    "Attack angle",
    "Attack angle",
    Unit.DEG,
    Family.CLUB,
    "up",
    "down",
    "up",
    "down",
    "Whether the club head moves up or down at impact.",
    "Slope of the head velocity at impact from a quadratic through its slopes between the last six frames before it, + up.",
    _FACE,
    decimals=1,
)
LAG = Metric(
    "lag",
    "Lag",
    "Lag",
    Unit.DEG,
    Family.CLUB,
    "between arm and shaft",
    "between arm and shaft",
    "between arm and shaft",
    "between arm and shaft",
    "The angle between the lead forearm and the shaft: 0 in one line.",
    "Angle between the lead forearm's long axis and the shaft.",
    "markers on the lead arm and the club",
)
HANDS_OUT = Metric(
    "hands_out",
    "Hands out",
    "Hands out",
    Unit.CM,
    Family.CLUB,
    "toward the ball",
    "toward the body",
    "toward the ball",
    "toward the body",
    "How far the hands have moved toward the ball or the body against the pelvis, since address.",
    "x of the middle of the hands against the pelvis origin, change from address.",
    _HANDS,
    decimals=1,
)
HANDS_LIFT = Metric(
    "hands_lift",
    "Hands lift",
    "Hands height",
    Unit.CM,
    Family.CLUB,
    "up",
    "down",
    "up",
    "down",
    "How far the hands are above or below where they were at address.",
    "z of the middle of the hands, change from address.",
    _HANDS,
    decimals=1,
)

ALL = (
    SHAFT_ELEVATION,
    SHAFT_ELEVATION_RATE,
    SHAFT_HEADING,
    FACE_ELEVATION,
    CLUB_PATH,
    ATTACK_ANGLE,
    LAG,
    HANDS_OUT,
    HANDS_LIFT,
)
