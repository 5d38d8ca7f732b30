"""Which values of a swing are shown beside those that are judged: in the strip, as good things to keep."""

from __future__ import annotations

STRIP = (
    ("lead_wrist_extension", "address"),
    ("lead_wrist_extension", "top"),
    ("lead_wrist_extension", "impact"),
    ("lead_wrist_radial_deviation", "address"),
    ("lead_wrist_radial_deviation", "top"),
    ("lead_wrist_radial_deviation", "impact"),
    ("lead_wrist_extension", "shaft_level_back"),
    ("shaft_elevation", "top"),
    ("hinge_held", "swing"),
    ("tempo", "swing"),
    ("takeaway_dip", "swing"),
    ("lead_wrist_extension", "address..shaft_level_back"),
    ("lead_wrist_extension", "top..impact"),
    ("hand_roll", "top"),
    ("hand_roll", "impact"),
)
"""Shown in the strip of a lesson's swings whether a range speaks of them or not."""
GOOD = (
    ("lead_wrist_extension", "address"),
    ("lead_wrist_extension", "top"),
    ("lead_wrist_extension", "impact"),
    ("hinge_held", "swing"),
    ("thorax_turn", "top"),
    ("pelvis_turn", "impact"),
    ("pelvis_sway", "top"),
    ("posture_from_ground", "address..impact"),
    ("tempo", "swing"),
    ("lead_share", "address"),
    ("peak_trail_share", "swing"),
    ("stance_position", "impact"),
)
"""What is said to be good, and whose scatter is shown, where it is measured."""
ALWAYS = frozenset((*STRIP, *GOOD))
