"""The figure of one swing: where every joint is drawn, which parts are measured and which only fill the picture.

Segments that no source sees get default lengths, as fractions of body height after D. A. Winter, *Biomechanics and
Motor Control of Human Movement* (from memory), and a plain standing posture; no value ever rests on them.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from finearc.core.events.model import Checkpoint
from finearc.core.frames.rotations import about_z, matrices_from_quaternions
from finearc.core.kinematics.body import BodyPose, outer_edge_m
from finearc.core.kinematics.segments import cross, units
from finearc.core.markers.labels import Marker
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial_view import InertialView
from finearc.core.sources.optical_view import OpticalView
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array
from finearc.wording import mark, tr

DEFAULT_HEIGHT_M = 1.78
"""Of a player whose height is not noted (house value); places of joints on the trunk are house values too."""
ORIENTED_ONLY = mark(
    "Sensors know directions, not places: drawn on one spot, with default limb lengths for {:.2f} m of height."
)
FACING = mark("The arm is drawn straight, its heading taken from the address.")


class Part(StrEnum):
    """What is drawn as one piece."""

    PELVIS = "pelvis"
    UPPER_BODY = "upper_body"
    HEAD = "head"
    LEAD_UPPER_ARM = "lead_upper_arm"
    TRAIL_UPPER_ARM = "trail_upper_arm"
    LEAD_FOREARM = "lead_forearm"
    TRAIL_FOREARM = "trail_forearm"
    LEAD_HAND = "lead_hand"
    TRAIL_HAND = "trail_hand"
    LEAD_THIGH = "lead_thigh"
    TRAIL_THIGH = "trail_thigh"
    LEAD_SHANK = "lead_shank"
    TRAIL_SHANK = "trail_shank"
    LEAD_FOOT = "lead_foot"
    TRAIL_FOOT = "trail_foot"
    CLUB = "club"


@dataclass(frozen=True)
class Figure:
    """``time_s`` (n,); ``points`` by name (n, 3), m, bay axes of a right-hander, not a number inside gaps; ``measured``
    parts; ``placed``: whether positions are measured; ``note``: what the rest rests on."""

    time_s: Array
    points: Mapping[str, Array]
    measured: frozenset[Part]
    placed: bool
    note: str

    @property
    def faint(self) -> list[Part]:
        return [p for p in Part if p not in self.measured]


@dataclass
class _Drawing:
    """Points gathered so far; ``k``: size against a player of 1.78 m."""

    n: int
    k: float
    points: dict[str, Array] = field(default_factory=dict)
    measured: set[Part] = field(default_factory=set)

    def put(self, name: str, value: Array) -> None:
        """A point (3,) or (n, 3), m in the bay, unless it is known better already."""
        self.points.setdefault(name, np.broadcast_to(value, (self.n, 3)))

    def offset(self, origin: str, r: Array, local: tuple[float, float, float]) -> Array:
        """``origin`` plus a place in a segment's axes, scaled to the player."""
        return np.asarray(self.points[origin] + r @ (self.k * np.array(local)))


def figure_of(reading: SwingReading, height_m: float | None) -> Figure | None:
    """The figure of a swing, or None when nothing was oriented."""
    height = height_m or DEFAULT_HEIGHT_M
    optical, inertial = reading.view(OpticalView), reading.view(InertialView)
    if optical is not None and optical.pose.frames:
        return placed_figure(optical.time_s, optical.pose, optical.address, height)
    if inertial is not None and (inertial.frames is not None or inertial.sources.body is not None):
        return oriented_figure(inertial.time_s, _sensor_frames(inertial, reading), height)
    return None


def placed_figure(time_s: Array, pose: BodyPose, address: slice, height: float = DEFAULT_HEIGHT_M) -> Figure:
    """The figure of what markers show: where every joint is. ``time_s`` (n,) of the pose's frames."""
    drawing = _Drawing(pose.n, height / DEFAULT_HEIGHT_M)
    frames = {name: f.r for name, f in pose.frames.items()}
    drawing.points.update({name: p for name, p in pose.joints.items() if name != "upper"})
    if "pelvis" in pose.frames:
        drawing.points["pelvis"] = pose.frames["pelvis"].origin_m
    if "upper" in pose.joints:
        drawing.points["neck"] = pose.joints["upper"]
    if "head" in pose.frames:
        drawing.points["head"] = pose.frames["head"].origin_m
    _feet_and_fingers(drawing, pose)
    _mark_seen(drawing, frames)
    edge = outer_edge_m(pose.points, address) if address.stop else None
    if edge is not None:
        drawing.put("lead_foot_edge", np.array([0.0, edge, 0.0]))
    _fill(drawing, frames)
    missing = [p for p in Part if p not in drawing.measured]
    note = (
        ""
        if not missing
        else tr("Parts without markers are faint, with lengths for {height:.2f} m of height.", height=height)
    )
    return Figure(time_s, drawing.points, frozenset(drawing.measured), True, note)


def _feet_and_fingers(drawing: _Drawing, pose: BodyPose) -> None:
    for side in ("lead", "trail"):
        for name, marker in (("heel", "HEEL"), ("toe", "TOE"), ("fingers", "HAND")):
            known = pose.points.get(Marker[f"{side.upper()}_{marker}"])
            if known is not None:
                drawing.points[f"{side}_{name}"] = known


SEEN_BY: dict[Part, tuple[str, ...]] = {
    Part.PELVIS: ("pelvis",),
    Part.HEAD: ("head",),
    Part.CLUB: ("grip_end", "club_head"),
    **{
        Part(f"{side}_{part}"): tuple(f"{side}_{p}" for p in ends)
        for side in ("lead", "trail")
        for part, ends in (
            ("upper_arm", ("shoulder", "elbow")),
            ("forearm", ("elbow", "wrist")),
            ("hand", ("wrist", "fingers")),
            ("thigh", ("hip", "knee")),
            ("shank", ("knee", "ankle")),
            ("foot", ("heel", "toe")),
        )
    },
}
"""The points a part hangs between."""


def _mark_seen(drawing: _Drawing, frames: Mapping[str, Array]) -> None:
    for part, ends in SEEN_BY.items():
        if all(name in drawing.points for name in ends):
            drawing.measured.add(part)
    if "thorax" in frames and "neck" in drawing.points:
        drawing.measured.add(Part.UPPER_BODY)


def oriented_figure(time_s: Array, frames: Mapping[str, Array], height: float = DEFAULT_HEIGHT_M) -> Figure:
    """The figure of what sensors know: directions. ``frames``: axes (n, 3, 3), bay from segment, of pelvis, thorax,
    head, lead_forearm and lead_hand, as far as they are worn, and held_club (n, 3, 1), where the shaft points."""
    drawing = _Drawing(len(time_s), height / DEFAULT_HEIGHT_M)
    names = {"pelvis": Part.PELVIS, "thorax": Part.UPPER_BODY, "head": Part.HEAD, "lead_forearm": Part.LEAD_FOREARM}
    drawing.measured |= {part for name, part in names.items() if name in frames}
    if "lead_hand" in frames:
        drawing.measured.add(Part.LEAD_HAND)
    _fill(drawing, frames)
    facing = f" {FACING}" if "lead_forearm" in frames else ""
    note = tr(ORIENTED_ONLY).format(height) + facing
    return Figure(time_s, drawing.points, frozenset(drawing.measured), False, note)


def _sensor_frames(view: InertialView, reading: SwingReading) -> dict[str, Array]:
    """Axes (n, 3, 3) of what sensors were worn on, bay from segment."""
    out: dict[str, Array] = {}
    body, address = view.sources.body, reading.events.get(Checkpoint.ADDRESS)
    at_s = address.time_s if address is not None else float(view.time_s[0])
    for segment, name in ((Segment.PELVIS, "pelvis"), (Segment.THORAX, "thorax"), (Segment.HEAD, "head")):
        motion = view.sources.trunk.get(segment)
        seat = body.seats.get(segment) if body is not None else None
        if motion is not None and seat is not None:
            out[name] = seat.r_bay_from_segment(matrices_from_quaternions(motion.q_up_from_sensor[view.window]), at_s)
    if view.frames is not None:
        hand = about_z(view.frames.heading_rad) @ view.frames.r_up_from_hand
        k = int(np.clip(np.searchsorted(view.time_s, at_s), 0, len(hand) - 1))
        out |= arm_frames(view.frames.r_up_from_forearm, hand, hand[k], view.sources.lie_rad)
    return out


def arm_frames(r_forearm: Array, r_hand: Array, r_at_address: Array, lie_rad: float) -> dict[str, Array]:
    """Forearm, hand (n, 3, 3) and the club they hold, bay axes, from both in one frame whose heading is free: the back
    of the hand looked to the target at address (3, 3), the shaft lay there at the club's lie, rad."""
    back = r_at_address[:, 1]
    turn = about_z(float(np.pi / 2 - np.arctan2(back[1], back[0])))
    hand = turn @ r_hand
    held = (turn @ r_at_address).T @ np.array([np.cos(lie_rad), 0.0, -np.sin(lie_rad)])
    return {"lead_forearm": turn @ r_forearm, "lead_hand": hand, "held_club": (hand @ held)[:, :, None]}


def _fill(drawing: _Drawing, frames: Mapping[str, Array]) -> None:
    """Everything not seen yet, from the pelvis outward."""
    one = np.broadcast_to(np.eye(3), (drawing.n, 3, 3))
    pelvis = frames.get("pelvis", one @ _tilted(12.0))
    thorax = frames.get("thorax", one @ _tilted(34.0) if "pelvis" not in frames else pelvis @ _tilted(20.0))
    _trunk(drawing, pelvis, thorax)
    _head(drawing, frames.get("head"), thorax)
    for side, sign in (("lead", 1.0), ("trail", -1.0)):
        _leg(drawing, pelvis, side, sign)
    _arm(drawing, frames, thorax, "lead", 1.0)
    _arm(drawing, frames, thorax, "trail", -1.0)
    _club(drawing, frames.get("held_club"))
    for name, r, axis in (("pelvis_front", pelvis, 0), ("pelvis_up", pelvis, 2), ("chest", thorax, 0)):
        origin = "neck" if name == "chest" else "pelvis"
        drawing.put(name, drawing.points[origin] + 0.1 * r[:, :, axis])


def _tilted(deg: float) -> Array:
    c, s = np.cos(np.deg2rad(deg)), np.sin(np.deg2rad(deg))
    return np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])


def _trunk(drawing: _Drawing, pelvis: Array, thorax: Array) -> None:
    k = drawing.k
    if "pelvis" not in drawing.points:
        known = drawing.points.get("neck")
        place = np.array([-0.16, 0.0, 0.95]) * k
        drawing.put("pelvis", place if known is None else known - 0.5 * k * units(pelvis[:, :, 2] + thorax[:, :, 2]))
    if "neck" not in drawing.points:
        drawing.put("neck", drawing.points["pelvis"] + 0.49 * k * units(pelvis[:, :, 2] + thorax[:, :, 2]))
    for side, sign in (("lead", 1.0), ("trail", -1.0)):
        drawing.put(f"{side}_hip", drawing.offset("pelvis", pelvis, (0.01, sign * 0.085, -0.083)))
        drawing.put(f"{side}_shoulder", drawing.offset("neck", thorax, (0.0, sign * 0.185, -0.06)))


def _head(drawing: _Drawing, head: Array | None, thorax: Array) -> None:
    up = units(0.6 * thorax[:, :, 2] + np.array([0.0, 0.0, 0.4]))
    drawing.put("head", drawing.points["neck"] + 0.19 * drawing.k * up)
    ahead = np.broadcast_to(np.array([0.75, 0.0, -0.66]), (drawing.n, 3)) if head is None else head[:, :, 0]
    drawing.put("face", drawing.points["head"] + 0.1 * ahead)
    crown = units(drawing.points["head"] - drawing.points["neck"]) if head is None else head[:, :, 2]
    drawing.put("crown", drawing.points["head"] + 0.1 * crown)


def bent_joint(start: Array, end: Array, first: float, second: float, toward: Array) -> Array:
    """The joint (n, 3) of two rigid links between ``start`` and ``end``, bent ``toward`` a direction (…, 3); straight
    when the ends lie farther apart than the links reach."""
    line = end - start
    distance = np.linalg.norm(line, axis=1, keepdims=True)
    along = line / np.maximum(distance, 1e-9)
    reach = np.clip(distance, 1e-3, first + second)
    near = (first**2 - second**2 + reach**2) / (2.0 * reach)
    aside = toward - np.sum(toward * along, axis=1, keepdims=True) * along
    height = np.sqrt(np.maximum(first**2 - near**2, 0.0))
    return np.asarray(start + near * along + height * units(aside))


def _leg(drawing: _Drawing, pelvis: Array, side: str, sign: float) -> None:
    k = drawing.k
    hips = drawing.points[f"{side}_hip"]
    ankle = np.array([-0.02, sign * 0.2, 0.08]) * k
    if f"{side}_ankle" not in drawing.points and "lead_ankle" not in drawing.points and drawing.measured:
        middle = np.nanmedian(drawing.points["pelvis"][: max(1, drawing.n // 20)], axis=0)
        ankle = ankle + np.array([middle[0] + 0.16 * k, middle[1], 0.0])
    drawing.put(f"{side}_ankle", ankle)
    ends = drawing.points[f"{side}_ankle"]
    out = np.array([1.0, 0.25 * sign, 0.0]) + 0.3 * pelvis[:, :, 0]
    drawing.put(f"{side}_knee", bent_joint(hips, ends, 0.428 * k, 0.432 * k, out))
    drawing.put(f"{side}_heel", ends + k * np.array([-0.055, 0.0, -0.045]))
    drawing.put(f"{side}_toe", ends + k * np.array([0.15, 0.03 * sign, -0.055]))


def _arm(drawing: _Drawing, frames: Mapping[str, Array], thorax: Array, side: str, sign: float) -> None:
    k, forearm = drawing.k, frames.get(f"{side}_forearm")
    shoulder = drawing.points[f"{side}_shoulder"]
    if forearm is not None:
        d = forearm[:, :, 0]
        drawing.put(f"{side}_elbow", shoulder + 0.318 * k * d)
        drawing.put(f"{side}_wrist", drawing.points[f"{side}_elbow"] + 0.256 * k * d)
    elif side == "trail" and "lead_fingers" in drawing.points:
        drawing.put("trail_wrist", 0.5 * (drawing.points["lead_wrist"] + drawing.points["lead_fingers"]))
    else:
        drawing.put(f"{side}_wrist", drawing.offset("neck", thorax, (0.30, -0.05 * sign - 0.03, -0.48)))
    wrist = drawing.points[f"{side}_wrist"]
    out = np.array([0.0, 0.4 * sign, -0.5]) - 0.5 * thorax[:, :, 0]
    drawing.put(f"{side}_elbow", bent_joint(shoulder, wrist, 0.318 * k, 0.256 * k, out))
    hand = frames.get(f"{side}_hand")
    along = units(wrist - drawing.points[f"{side}_elbow"]) if hand is None else hand[:, :, 0]
    drawing.put(f"{side}_fingers", wrist + 0.09 * k * along)


def _club(drawing: _Drawing, held: Array | None) -> None:
    """A faint club where none was seen: held as at address, its shaft there at the club's lie (``held``: (n, 3, 1)),
    else roughly where a club would point."""
    if "grip_end" in drawing.points and "club_head" in drawing.points:
        return
    wrist, fingers = drawing.points["lead_wrist"], drawing.points["lead_fingers"]
    along = units(fingers - wrist)
    chest = drawing.points["chest"] if "chest" in drawing.points else drawing.points["neck"]
    away = units(wrist - chest + np.array([0.0, 0.0, 1e-6]))
    side = units(cross(along, cross(away, along)) + 1e-9)
    shaft = units(0.8 * along + 0.45 * side) if held is None else held[:, :, 0]
    drawing.put("grip_end", fingers - 0.12 * shaft)
    drawing.put("club_head", fingers + 0.78 * shaft)
