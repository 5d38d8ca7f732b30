"""Ground: what a pressure mat gives."""

from __future__ import annotations

from finearc.core.metrics.definition import Family, Metric, Unit

_MAT = "a pressure mat; not read by this version"

LEAD_SHARE = Metric(
    "lead_share",
    "Lead share",
    "Lead share",
    Unit.PERCENT,
    Family.GROUND,
    "on the lead foot",
    "on the lead foot",
    "on the lead foot",
    "on the lead foot",
    "Share of the force on the lead foot.",
    "Share of the force on the lead foot.",
    _MAT,
)
STANCE_POSITION = Metric(
    "stance_position",
    "Stance position",
    "Stance position",
    Unit.PERCENT,
    Family.GROUND,
    "toward the lead foot",
    "toward the trail foot",
    "toward the lead foot",
    "toward the trail foot",
    "Centre of pressure between the feet.",
    "Centre of pressure between the feet.",
    _MAT,
)
LEAD_HEEL_TOE = Metric(
    "lead_heel_toe",
    "Lead heel to toe",
    "Lead heel to toe",
    Unit.PERCENT,
    Family.GROUND,
    "toward the toes",
    "toward the heel",
    "toward the toes",
    "toward the heel",
    "Pressure along the foot.",
    "Pressure along the foot.",
    _MAT,
)
TRAIL_HEEL_TOE = Metric(
    "trail_heel_toe",
    "Trail heel to toe",
    "Trail heel to toe",
    Unit.PERCENT,
    Family.GROUND,
    "toward the toes",
    "toward the heel",
    "toward the toes",
    "toward the heel",
    "Pressure along the foot.",
    "Pressure along the foot.",
    _MAT,
)

ALL = (
    LEAD_SHARE,
    STANCE_POSITION,
    LEAD_HEEL_TOE,
    TRAIL_HEEL_TOE,
)
