"""The markers Fine Arc knows, as lead and trail; values are the labels of a right-hander's file.

Landmarks after ISB (Wu et al., J Biomech 35:543, 2002, and 38:981, 2005).
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum

from finearc.core.frames.handedness import Hand


class Marker(StrEnum):
    """A landmark or a point of the club."""

    LEAD_ASIS = "LASI"
    TRAIL_ASIS = "RASI"
    LEAD_PSIS = "LPSI"
    TRAIL_PSIS = "RPSI"
    C7 = "C7"
    T10 = "T10"
    NOTCH = "CLAV"
    XIPHOID = "STRN"
    LEAD_ACROMION = "LSHO"
    TRAIL_ACROMION = "RSHO"
    LEAD_ELBOW_LATERAL = "LELB"
    LEAD_ELBOW_MEDIAL = "LELM"
    TRAIL_ELBOW_LATERAL = "RELB"
    TRAIL_ELBOW_MEDIAL = "RELM"
    LEAD_WRIST_THUMB = "LWRA"
    LEAD_WRIST_LITTLE = "LWRB"
    TRAIL_WRIST_THUMB = "RWRA"
    TRAIL_WRIST_LITTLE = "RWRB"
    LEAD_HAND = "LFIN"
    TRAIL_HAND = "RFIN"
    HEAD_FRONT_LEAD = "LFHD"
    HEAD_FRONT_TRAIL = "RFHD"
    HEAD_BACK_LEAD = "LBHD"
    HEAD_BACK_TRAIL = "RBHD"
    LEAD_KNEE_LATERAL = "LKNE"
    LEAD_KNEE_MEDIAL = "LKNM"
    TRAIL_KNEE_LATERAL = "RKNE"
    TRAIL_KNEE_MEDIAL = "RKNM"
    LEAD_ANKLE_LATERAL = "LANK"
    LEAD_ANKLE_MEDIAL = "LANM"
    TRAIL_ANKLE_LATERAL = "RANK"
    TRAIL_ANKLE_MEDIAL = "RANM"
    LEAD_HEEL = "LHEE"
    TRAIL_HEEL = "RHEE"
    LEAD_TOE = "LTOE"
    TRAIL_TOE = "RTOE"
    CLUB_GRIP = "CGRP"
    CLUB_SHAFT = "CSHF"
    CLUB_HEEL = "CHEL"
    CLUB_TOE = "CTOE"
    CLUB_FACE = "CFAC"


SIDED = frozenset(m for m in Marker if m.name.split("_")[0] in ("LEAD", "TRAIL") or m.name.startswith("HEAD"))
PELVIS = (Marker.LEAD_ASIS, Marker.TRAIL_ASIS, Marker.LEAD_PSIS, Marker.TRAIL_PSIS)
THORAX = (Marker.C7, Marker.T10, Marker.NOTCH, Marker.XIPHOID)
HEAD = (Marker.HEAD_FRONT_LEAD, Marker.HEAD_FRONT_TRAIL, Marker.HEAD_BACK_LEAD, Marker.HEAD_BACK_TRAIL)
CLUB = (Marker.CLUB_GRIP, Marker.CLUB_SHAFT, Marker.CLUB_HEEL, Marker.CLUB_TOE, Marker.CLUB_FACE)
RIGID: dict[str, tuple[Marker, ...]] = {
    "pelvis": PELVIS,
    "thorax": THORAX,
    "head": HEAD,
    "lead shank": (
        Marker.LEAD_KNEE_LATERAL,
        Marker.LEAD_KNEE_MEDIAL,
        Marker.LEAD_ANKLE_LATERAL,
        Marker.LEAD_ANKLE_MEDIAL,
    ),
    "trail shank": (
        Marker.TRAIL_KNEE_LATERAL,
        Marker.TRAIL_KNEE_MEDIAL,
        Marker.TRAIL_ANKLE_LATERAL,
        Marker.TRAIL_ANKLE_MEDIAL,
    ),
    "lead foot": (Marker.LEAD_ANKLE_LATERAL, Marker.LEAD_ANKLE_MEDIAL, Marker.LEAD_HEEL, Marker.LEAD_TOE),
    "trail foot": (Marker.TRAIL_ANKLE_LATERAL, Marker.TRAIL_ANKLE_MEDIAL, Marker.TRAIL_HEEL, Marker.TRAIL_TOE),
    "club": CLUB,
}
"""Groups that keep their shape well enough to give back a hidden marker of theirs."""


def file_label(marker: Marker, hand: Hand) -> str:
    """Our label of a marker in a file of a player who swings this way: L and R are the player's own sides."""
    if hand is Hand.RIGHT or marker not in SIDED:
        return marker.value
    return ("R" if marker.value[0] == "L" else "L") + marker.value[1:]


def names_of(markers: Sequence[Marker], hand: Hand) -> str:
    """Our labels of several markers, for messages."""
    return ", ".join(file_label(m, hand) for m in markers)
