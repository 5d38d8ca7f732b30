"""Club, and the hands that carry it."""

from __future__ import annotations

from finearc.core.metrics.definition import Family, Metric, Unit

_CLUB = "a club clip, or markers on the club"
_MARKERS = "markers on the club"
_FACE = "markers on the club head"
_HANDS = "markers on both hands and the pelvis"

SHAFT_ELEVATION = Metric(
    id="shaft_elevation",
    label="Shaft elevation",
    plain_label="Shaft height",
    unit=Unit.DEG,
    family=Family.CLUB,
    positive="above level",
    negative="below level",
    plain_positive="above level",
    plain_negative="below level",
    explained="Angle of the shaft against the horizontal. At the top, above level is short of level, below level is past it.",
    definition="asin(s_z), s from grip end to head, + head above hands.",
    needs=_CLUB,
)
SHAFT_ELEVATION_RATE = Metric(
    id="shaft_elevation_rate",
    label="Shaft elevation rate",
    plain_label="How fast the shaft rises",
    unit=Unit.DEG_PER_S,
    family=Family.CLUB,
    positive="rising",
    negative="falling",
    plain_positive="rising",
    plain_negative="falling",
    explained="How fast the club head rises or falls against the hands at that moment.",
    definition="Time derivative of shaft_elevation after a cubic Savitzky–Golay filter of about 45 ms.",
    needs=_CLUB,
)
SHAFT_HEADING = Metric(
    id="shaft_heading",
    label="Shaft heading",
    plain_label="Shaft direction",
    unit=Unit.DEG,
    family=Family.CLUB,
    positive="outside",
    negative="inside",
    plain_positive="outside",
    plain_negative="inside",
    explained="Where the shaft points, seen from above, when it is level: along the target line, outside it (ball side) or inside it.",
    definition="atan2(s_x, −s_y) before impact, atan2(s_x, s_y) after it, + outside (ball side).",
    needs=_MARKERS,
)
FACE_ELEVATION = Metric(
    id="face_elevation",
    label="Face elevation",
    plain_label="Face height",
    unit=Unit.DEG,
    family=Family.CLUB,
    positive="toward the sky",
    negative="toward the ground",
    plain_positive="toward the sky",
    plain_negative="toward the ground",
    explained="Where the club face looks at the top: about 45° is square, toward 0° open, toward 90° shut. Loft is left out.",
    definition="v = unit(z − s_z s), f made perpendicular to s: atan2(f · v, f · (s × v)).",
    needs=_FACE,
)
CLUB_PATH = Metric(
    id="club_path",
    label="Club path",
    plain_label="Club path",
    unit=Unit.DEG,
    family=Family.CLUB,
    positive="in to out",
    negative="out to in",
    plain_positive="in to out",
    plain_negative="out to in",
    explained="The direction of the club head through the ball, seen from above, against the target line.",
    definition="Direction of the head velocity at impact from a quadratic through its directions between the last six frames before it, + in to out.",
    needs=_FACE,
    decimals=1,
)
ATTACK_ANGLE = Metric(
    id="attack_angle",
    label="Attack angle",
    plain_label="Attack angle",
    unit=Unit.DEG,
    family=Family.CLUB,
    positive="up",
    negative="down",
    plain_positive="up",
    plain_negative="down",
    explained="Whether the club head moves up or down at impact.",
    definition="Slope of the head velocity at impact from a quadratic through its slopes between the last six frames before it, + up.",
    needs=_FACE,
    decimals=1,
)
LAG = Metric(
    id="lag",
    label="Lag",
    plain_label="Lag",
    unit=Unit.DEG,
    family=Family.CLUB,
    positive="between arm and shaft",
    negative="between arm and shaft",
    plain_positive="between arm and shaft",
    plain_negative="between arm and shaft",
    explained="The angle between the lead forearm and the shaft: 0 in one line.",
    definition="Angle between the lead forearm's long axis and the shaft.",
    needs="markers on the lead arm and the club",
)
HANDS_OUT = Metric(
    id="hands_out",
    label="Hands out",
    plain_label="Hands out",
    unit=Unit.CM,
    family=Family.CLUB,
    positive="toward the ball",
    negative="toward the body",
    plain_positive="toward the ball",
    plain_negative="toward the body",
    explained="How far the hands have moved toward the ball or the body against the pelvis, since address.",
    definition="x of the middle of the hands against the pelvis origin, change from address.",
    needs=_HANDS,
    decimals=1,
)
HANDS_LIFT = Metric(
    id="hands_lift",
    label="Hands lift",
    plain_label="Hands height",
    unit=Unit.CM,
    family=Family.CLUB,
    positive="up",
    negative="down",
    plain_positive="up",
    plain_negative="down",
    explained="How far the hands are above or below where they were at address.",
    definition="z of the middle of the hands, change from address.",
    needs=_HANDS,
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
