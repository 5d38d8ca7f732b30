"""Groups of the Swing view: which charts they hold in which order, and what to add when nothing in them can be seen."""

from __future__ import annotations

from dataclasses import dataclass

from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Family, Metric
from finearc.wording import worded

ADD_BODY = "Add body sensors for turn and bend, markers for positions."


@worded("name", "add")
@dataclass(frozen=True)
class Group:
    """``family``: its id, and the family whose missing metrics are listed with it."""

    family: Family
    name: str
    charts: tuple[Metric, ...]
    add: str


GROUPS = (
    Group(
        Family.WRIST,
        "Wrist",
        (m.LEAD_WRIST_EXTENSION, m.LEAD_WRIST_DEVIATION, m.HAND_ROLL, m.FOREARM_PRONATION, m.SHAFT_ELEVATION, m.LAG),
        "Fit the wrist pair.",
    ),
    Group(
        Family.TURN, "Turn", (m.PELVIS_TURN, m.THORAX_TURN, m.HEAD_TURN, m.SEPARATION, m.SHOULDER_LINE_TURN), ADD_BODY
    ),
    Group(
        Family.POSTURE,
        "Posture",
        (
            m.POSTURE_FROM_GROUND,
            m.SPINE_LEAN,
            m.PELVIS_FORWARD_BEND,
            m.PELVIS_SIDE_BEND,
            m.THORAX_FORWARD_BEND,
            m.THORAX_SIDE_BEND,
        ),
        ADD_BODY,
    ),
    Group(
        Family.TRAVEL,
        "Travel",
        (m.PELVIS_SWAY, m.PELVIS_THRUST, m.PELVIS_LIFT, m.HEAD_SWAY, m.LEAD_HIP_OVERHANG, m.TRAIL_HIP_DEPTH),
        "Positions need markers: cameras see where the body goes.",
    ),
    Group(
        Family.ARMS_LEGS,
        "Knees, arms",
        (m.LEAD_KNEE_FLEXION, m.TRAIL_KNEE_FLEXION, m.LEAD_ELBOW_FLEXION, m.TRAIL_ELBOW_FLEXION),
        "Knees and elbows need markers.",
    ),
    Group(Family.SEQUENCE, "Sequence", (), "The order needs pelvis, upper body, lead arm and club."),
    Group(Family.PUTTING, "Putter", (m.PUTTER_FACE,), "Add putter markers, or a sensor on the putter."),
    Group(Family.GROUND, "Ground", (m.STANCE_POSITION, m.LEAD_HEEL_TOE, m.VERTICAL_FORCE), "Add a pressure mat."),
)


@worded("name")
@dataclass(frozen=True)
class Peak:
    """A rate of the kinematic sequence, with the metrics of its peak and of when that comes."""

    name: str
    rate: Metric
    peak: Metric
    time: Metric


SEQUENCE = (
    Peak("Pelvis", m.PELVIS_TURN_RATE, m.PELVIS_PEAK_RATE, m.PELVIS_PEAK_TIME),
    Peak("Upper body", m.THORAX_TURN_RATE, m.THORAX_PEAK_RATE, m.THORAX_PEAK_TIME),
    Peak("Lead arm", m.LEAD_ARM_RATE, m.LEAD_ARM_PEAK_RATE, m.LEAD_ARM_PEAK_TIME),
    Peak("Club", m.CLUB_RATE, m.CLUB_PEAK_RATE, m.CLUB_PEAK_TIME),
)
"""Rates shown one above the other, in the order in which they should peak."""
