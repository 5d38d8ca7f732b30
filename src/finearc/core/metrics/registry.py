"""All metrics, once. Core, API, interface and docs take them from here."""

from __future__ import annotations

from finearc.core.metrics.definition import Family, Metric, Unit

_WRIST = "a forearm and a hand sensor on the lead arm"
_CLUB = "a club clip, or markers on the club"
_TRAIL = "sensors on the trail forearm and hand, or markers; not read by this version"
_BODY = "body sensors on pelvis and upper back, or markers; not read by this version"
_MARKERS = "3D markers; not read by this version"
_UPPER = "a sensor or markers on the upper arm; not read by this version"
_MAT = "a pressure mat; not read by this version"

LEAD_WRIST_EXTENSION = Metric(
    "lead_wrist_extension", "Lead wrist extension", "Lead wrist, cupped or bowed", Unit.DEG, Family.WRIST,
    "extended", "flexed", "cupped", "bowed",
    "How far the back of the lead hand is bent toward the forearm (extended, cupped) or away from it (flexed, bowed).",
    "atan2(d_hand · o, d_hand · d) in forearm axes (Grood & Suntay 1983; Wu et al. 2005), + extended.",
    _WRIST, measured=True,
)
LEAD_WRIST_DEVIATION = Metric(
    "lead_wrist_radial_deviation", "Lead wrist radial deviation", "Lead wrist hinge", Unit.DEG, Family.WRIST,
    "radial", "ulnar", "hinged", "unhinged",
    "How far the hand is bent toward the thumb (radial, hinged) or toward the little finger (ulnar).",
    "asin(d_hand · r) in forearm axes (Grood & Suntay 1983; Wu et al. 2005), + radial.",
    _WRIST, measured=True,
)
WRIST_TWIST = Metric(
    "wrist_twist", "Wrist twist", "Wrist twist", Unit.DEG, Family.WRIST,
    "toward palm up", "toward palm down", "turned one way", "turned the other way",
    "Twist of the hand against the forearm about the hand's long axis. It is small in every wrist (about 5°), "
    "so a large value means the calibration or a sensor has shifted.",
    "What is left of the hand's rotation in forearm axes after extension and radial deviation.",
    _WRIST, quality=True, measured=True,
)
HAND_ROLL = Metric(
    "hand_roll", "Hand roll", "Hand roll", Unit.DEG, Family.WRIST,
    "closing", "opening", "rolled closed", "rolled open",
    "Twist of the hand in space about its own long axis since address. It is not forearm pronation.",
    "roll = −2 atan2(q_rel · d, q_rel · w), q_rel = q_address⁻¹ q_hand in hand axes, unwrapped, + closing.",
    _WRIST, measured=True,
)
LEAD_WRIST_EXTENSION_RATE = Metric(
    "lead_wrist_extension_rate", "Lead wrist extension rate", "How fast the wrist cups or bows", Unit.DEG_PER_S,
    Family.WRIST, "extending", "flexing", "cupping", "bowing",
    "How fast the wrist is extending or flexing at that moment.",
    "Time derivative of lead_wrist_extension after a cubic Savitzky–Golay filter of about 45 ms.",
    _WRIST, measured=True,
)
LEAD_WRIST_DEVIATION_RATE = Metric(
    "lead_wrist_radial_deviation_rate", "Lead wrist deviation rate", "How fast the wrist hinges", Unit.DEG_PER_S,
    Family.WRIST, "hinging", "unhinging", "hinging", "unhinging",
    "How fast the wrist is hinging or unhinging at that moment.",
    "Time derivative of lead_wrist_radial_deviation after a cubic Savitzky–Golay filter of about 45 ms.",
    _WRIST, measured=True,
)
HAND_ROLL_RATE = Metric(
    "hand_roll_rate", "Hand roll rate", "How fast the hand rolls", Unit.DEG_PER_S, Family.WRIST,
    "closing", "opening", "closing", "opening",
    "How fast the hand is rolling about its own long axis at that moment.",
    "Time derivative of hand_roll after a cubic Savitzky–Golay filter of about 45 ms.",
    _WRIST, measured=True,
)
SHAFT_ELEVATION = Metric(
    "shaft_elevation", "Shaft elevation", "Shaft height", Unit.DEG, Family.CLUB,
    "above level", "below level", "above level", "below level",
    "Angle of the shaft against the horizontal. At the top, above level is short of level, below level is past it.",
    "asin(s_z), s from grip end to head, + head above hands.",
    _CLUB, measured=True,
)
SHAFT_ELEVATION_RATE = Metric(
    "shaft_elevation_rate", "Shaft elevation rate", "How fast the shaft rises", Unit.DEG_PER_S, Family.CLUB,
    "rising", "falling", "rising", "falling",
    "How fast the club head rises or falls against the hands at that moment.",
    "Time derivative of shaft_elevation after a cubic Savitzky–Golay filter of about 45 ms.",
    _CLUB, measured=True,
)
TEMPO = Metric(
    "tempo", "Tempo", "Tempo", Unit.RATIO, Family.TIMING, "to 1", "to 1", "to 1", "to 1",
    "Time going back over time coming down. About 3 to 1 is common whatever the total time.",
    "(top − takeaway) / (impact − top).", _WRIST, decimals=1, measured=True,
)
BACKSWING_TIME = Metric(
    "backswing_time", "Backswing time", "Time going back", Unit.SECONDS, Family.TIMING, "", "", "", "",
    "Time from takeaway to top.", "top − takeaway.", _WRIST, decimals=2, measured=True,
)
DOWNSWING_TIME = Metric(
    "downswing_time", "Downswing time", "Time coming down", Unit.SECONDS, Family.TIMING, "", "", "", "",
    "Time from top to impact.", "impact − top.", _WRIST, decimals=2, measured=True,
)
HINGE_HELD = Metric(
    "hinge_held", "Hinge held", "Hinge still held", Unit.PERCENT, Family.WRIST, "held", "lost", "held", "lost",
    "How much of the hinge gained since address is still there when the lead arm is level coming down.",
    "(deviation at arm level down − at address) / (largest deviation to then − at address).",
    _WRIST, measured=True,
)
TAKEAWAY_DIP = Metric(
    "takeaway_dip", "Takeaway dip", "Dip toward bowed in the takeaway", Unit.DEG, Family.WRIST,
    "toward flexed", "toward extended", "toward bowed", "toward cupped",
    "How far the wrist falls toward flexion before arm level and then comes back by the top: a W-shaped trace.",
    "address − lowest extension before arm level back, when it re-extends by 8° or more by the top, else 0.",
    _WRIST, measured=True,
)

MEASURED: tuple[Metric, ...] = (
    LEAD_WRIST_EXTENSION, LEAD_WRIST_DEVIATION, WRIST_TWIST, HAND_ROLL, LEAD_WRIST_EXTENSION_RATE,
    LEAD_WRIST_DEVIATION_RATE, HAND_ROLL_RATE, SHAFT_ELEVATION, SHAFT_ELEVATION_RATE, TEMPO, BACKSWING_TIME,
    DOWNSWING_TIME, HINGE_HELD, TAKEAWAY_DIP,
)


def _later(
    key: str, label: str, unit: Unit, family: Family, positive: str, negative: str, needs: str, definition: str
) -> Metric:
    """A metric of the contract that this version's sources cannot give: it is said to be missing, with why."""
    return Metric(
        key, label, label, unit, family, positive, negative, positive, negative, definition, definition, needs
    )


LATER: tuple[Metric, ...] = (
    _later("trail_wrist_extension", "Trail wrist extension", Unit.DEG, Family.WRIST, "extended", "flexed", _TRAIL,
           "As the lead wrist, in trail-arm axes."),
    _later("trail_wrist_radial_deviation", "Trail wrist radial deviation", Unit.DEG, Family.WRIST, "radial", "ulnar",
           _TRAIL, "As the lead wrist, in trail-arm axes."),
    _later("forearm_pronation", "Forearm pronation", Unit.DEG, Family.ARMS_LEGS, "pronated", "supinated", _UPPER,
           "Forearm relative to upper arm about the forearm's long axis."),
    _later("pelvis_turn", "Pelvis turn", Unit.DEG, Family.TURN, "closed", "open", _BODY,
           "Turn of the pelvis about the vertical."),
    _later("thorax_turn", "Upper-body turn", Unit.DEG, Family.TURN, "closed", "open", _BODY,
           "Turn of the thorax about the vertical."),
    _later("shoulder_line_turn", "Shoulder-line turn", Unit.DEG, Family.TURN, "closed", "open", _MARKERS,
           "Heading of the line between the acromia."),
    _later("separation", "Separation", Unit.DEG, Family.TURN, "more upper body", "more pelvis", _BODY,
           "Thorax turn minus pelvis turn."),
    _later("share_of_turn", "Share of turn", Unit.PERCENT, Family.TURN, "done", "done", _BODY,
           "Share of the thorax turn done at shaft level back."),
    _later("pelvis_forward_bend", "Pelvis forward bend", Unit.DEG, Family.POSTURE, "forward", "back", _BODY,
           "Forward tilt of the pelvis."),
    _later("pelvis_side_bend", "Pelvis side bend", Unit.DEG, Family.POSTURE, "trail side lower", "lead side lower",
           _BODY, "Side tilt of the pelvis."),
    _later("thorax_forward_bend", "Upper-body forward bend", Unit.DEG, Family.POSTURE, "forward", "back", _BODY,
           "Forward tilt of the thorax."),
    _later("thorax_side_bend", "Upper-body side bend", Unit.DEG, Family.POSTURE, "trail side lower",
           "lead side lower", _BODY, "Side tilt of the thorax."),
    _later("spine_lean", "Spine lean", Unit.DEG, Family.POSTURE, "away from target", "toward target", _MARKERS,
           "Lean of the spine line seen from in front."),
    _later("posture_from_ground", "Posture from the ground", Unit.DEG, Family.POSTURE, "from the ground",
           "from the ground", _MARKERS, "Angle of the spine line seen along the target line."),
    *(
        _later(f"{part}_{axis}", f"{name} {axis}", Unit.CM, Family.TRAVEL, plus, minus, _MARKERS,
               f"Displacement of the {name.lower()} since address.")
        for part, name in (("pelvis", "Pelvis"), ("thorax", "Upper body"))
        for axis, plus, minus in (
            ("sway", "toward target", "away from target"), ("thrust", "toward the ball", "away from the ball"),
            ("lift", "up", "down"),
        )
    ),
    _later("head_sway", "Head sway", Unit.CM, Family.TRAVEL, "toward target", "away from target", _MARKERS,
           "Displacement of the head since address."),
    _later("head_lift", "Head lift", Unit.CM, Family.TRAVEL, "up", "down", _MARKERS,
           "Displacement of the head since address."),
    *(
        _later(f"{side}_{joint}_flexion", f"{side.capitalize()} {joint} flexion", Unit.DEG, Family.ARMS_LEGS,
               "bent", "bent back", _MARKERS, "180° minus the included angle of the joint centres.")
        for joint in ("knee", "elbow")
        for side in ("lead", "trail")
    ),
    _later("lead_hip_overhang", "Lead hip over the foot", Unit.CM, Family.TRAVEL, "beyond the foot",
           "inside the foot", _MARKERS, "Lead hip against the lead foot's outer edge."),
    _later("hips_over_ankles", "Hips over ankles", Unit.CM, Family.POSTURE, "toward the ball", "behind the ankles",
           _MARKERS, "Mid-hips minus mid-ankles at address."),
    *(
        _later(f"{side}_foot_flare", f"{side.capitalize()} foot flare", Unit.DEG, Family.ARMS_LEGS, "outward",
               "inward", _MARKERS, "Heading of heel to toe.")
        for side in ("lead", "trail")
    ),
    *(
        _later(f"{side}_hip_depth", f"{side.capitalize()} hip depth", Unit.CM, Family.TRAVEL, "toward the ball",
               "away from the ball", _MARKERS, "Displacement of the hip centre since address.")
        for side in ("trail", "lead")
    ),
    _later("elbow_gap", "Elbow gap", Unit.RATIO, Family.ARMS_LEGS, "of address", "of address", _MARKERS,
           "Distance between the elbows over its address value."),
    _later("knee_gap", "Knee gap", Unit.CM, Family.ARMS_LEGS, "apart", "apart", _MARKERS,
           "Distance of the knees toward the ball."),
    _later("hands_out", "Hands out", Unit.CM, Family.CLUB, "toward the ball", "toward the body", _MARKERS,
           "Hands against the pelvis since address."),
    _later("hands_lift", "Hands lift", Unit.CM, Family.CLUB, "up", "down", _MARKERS, "Height of the hands since address."),
    _later("face_elevation", "Face elevation", Unit.DEG, Family.CLUB, "toward the sky", "toward the ground", _MARKERS,
           "Where the club face points at the top."),
    _later("shaft_heading", "Shaft heading", Unit.DEG, Family.CLUB, "outside", "inside", _MARKERS,
           "Heading of the shaft at shaft level."),
    _later("club_path", "Club path", Unit.DEG, Family.CLUB, "in to out", "out to in", _MARKERS,
           "Direction of the head at impact."),
    _later("attack_angle", "Attack angle", Unit.DEG, Family.CLUB, "up", "down", _MARKERS,
           "Slope of the head's path at impact."),
    _later("lag", "Lag", Unit.DEG, Family.CLUB, "behind", "ahead", _MARKERS, "Angle between forearm and shaft."),
    _later("lead_share", "Lead share", Unit.PERCENT, Family.GROUND, "on the lead foot", "on the lead foot", _MAT,
           "Share of the force on the lead foot."),
    _later("stance_position", "Stance position", Unit.PERCENT, Family.GROUND, "toward the lead foot",
           "toward the trail foot", _MAT, "Centre of pressure between the feet."),
    *(
        _later(f"{side}_heel_toe", f"{side.capitalize()} heel to toe", Unit.PERCENT, Family.GROUND, "toward the toes",
               "toward the heel", _MAT, "Pressure along the foot.")
        for side in ("lead", "trail")
    ),
)

ALL: tuple[Metric, ...] = MEASURED + LATER
BY_ID = {metric.id: metric for metric in ALL}
