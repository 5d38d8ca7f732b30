"""A whole session of the golfer model: poses, waggles, swings; true angles and true events."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial.transform import Rotation

from finearc.core.kinematics.wrist import rotation_of
from finearc.core.typing import Array
from finearc.golfer.anatomy import Anatomy
from finearc.golfer.arm import (
    STEP_S,
    Arm,
    Shoulder,
    address_forearm,
    club_in_hand,
    elbow_side,
    grip_opened,
    own_pole,
    true_twist,
)
from finearc.golfer.body import body_curves, swing_duration, swing_motion
from finearc.golfer.poses import ELBOW, SessionPlan, State, Tape, body_poses, functional_moves, lifted_pose, two_poses
from finearc.golfer.style import SwingStyle
from finearc.golfer.trunk import DOFS, Trunk, address_pelvis, trunk


@dataclass(frozen=True)
class TrueEvents:
    """True instants of one swing, s; keys as the checkpoints, and ``top_club`` for the club's reversal."""

    start_s: float
    end_s: float
    times_s: dict[str, float]


@dataclass(frozen=True)
class TrueSession:
    """Truth on a 1 kHz grid: orientations (n, 3, 3) bay from segment, positions (n, 3) m, wrist angles (n,) rad.
    ``dofs`` (n, 13) as ``trunk.DOFS``; columns of the club are shaft, face normal and their product, of the upper arm
    distal, to its back, and across the elbow to its lateral side."""

    time_s: Array
    r_bay_from_forearm: Array
    r_bay_from_hand: Array
    r_bay_from_upper_arm: Array
    r_bay_from_club: Array
    elbow_m: Array
    extension: Array
    deviation: Array
    twist: Array
    hand_roll: Array
    shaft_elevation: Array
    swings: tuple[TrueEvents, ...]
    windows: dict[str, list[tuple[float, float]]]
    ball: tuple[bool, ...]
    dofs: Array
    trunk: Trunk
    lead_shoulder_m: Array
    anatomy: Anatomy
    arm: Arm
    floor_m: float


def perform(plan: SessionPlan, rng: np.random.Generator) -> TrueSession:
    """Play the plan. Deterministic for a given generator state."""
    tape = Tape()
    windows = body_poses(tape, plan, rng) if plan.body else {}
    windows |= functional_moves(tape, plan, rng) if plan.functional else two_poses(tape, plan, rng)
    if plan.lifted:
        windows |= lifted_pose(tape, plan, rng)
    twist_rest = np.deg2rad(plan.twist_rest_deg)
    first = plan.swings[0] if plan.swings else plan.still or SwingStyle()
    anatomy = Anatomy.of_height(plan.height_m)

    def gripped(style: SwingStyle) -> Arm:
        return Arm(anatomy, *club_in_hand(style.extension[0], style.deviation[0], twist_rest, plan.lean_deg))

    grips = [(0, gripped(first))]
    marks: list[tuple[int, float, float]] = []
    for number, style in enumerate(plan.swings or [plan.still or SwingStyle()]):
        if plan.regrip_at is not None and number == plan.regrip_at:
            grips.append((tape.samples, gripped(style)))
        arm = grips[-1][1]
        e, v = np.deg2rad(style.extension[0]), np.deg2rad(style.deviation[0])
        jitter = Rotation.from_rotvec(np.deg2rad(rng.normal(0, 0.6, 3))).as_matrix()
        rest = twist_rest + np.deg2rad(rng.normal(0, 0.3))
        twist = float(true_twist(np.array([e]), np.array([v]), rest)[0])
        address = style.body.table()[0]
        state = State(jitter @ address_forearm(), np.array([e, v, twist]), 0.0, address)
        first_move = tape.samples < 20000 and not marks
        tape.move(state, 1.5 if first_move else max(1.0, plan.between_s - plan.address_hold_s - 3.2))
        tape.hold(state, plan.address_hold_s)
        if not plan.swings:
            tape.hold(state, 1.5)
            break
        motion, _ = swing_motion(style, rest, arm, _shoulder(style, anatomy))
        marks.append((tape.samples, tape.now_s, swing_duration(style)[2]))
        n = len(motion.extension)
        tape.add(replace(motion, r_bay_from_forearm=jitter @ motion.r_bay_from_forearm), body_curves(style, n))
        tape.hold(tape.last(), 0.7)
    return _finish(tape, plan, grips, marks, windows)


def _shoulder(style: SwingStyle, anatomy: Anatomy) -> Shoulder:
    """Where the trunk has the lead shoulder at address and at impact."""
    curves = body_curves(style, round((swing_duration(style)[2] + 0.3) / STEP_S))
    struck = round(swing_duration(style)[2] / STEP_S)
    picked = curves[[0, struck, struck - 3]]
    at = trunk(anatomy, picked, address_pelvis(anatomy, float(curves[0, DOFS.index("pelvis_bend")])))
    speed = (at.lead_shoulder_m[1] - at.lead_shoulder_m[2]) / (3 * STEP_S)
    return Shoulder(
        at.lead_shoulder_m[0], at.lead_shoulder_m[1], speed, (float(picked[0, ELBOW]), float(picked[1, ELBOW]))
    )


def _finish(
    tape: Tape,
    plan: SessionPlan,
    grips: list[tuple[int, Arm]],
    marks: list[tuple[int, float, float]],
    windows: dict[str, list[tuple[float, float]]],
) -> TrueSession:
    forearm = np.concatenate([p.r_bay_from_forearm for p in tape.parts])
    e = np.concatenate([p.extension for p in tape.parts])
    v = np.concatenate([p.deviation for p in tape.parts])
    t = np.concatenate([p.twist for p in tape.parts])
    give = np.concatenate([p.give_m for p in tape.parts])
    dofs = np.concatenate(tape.dofs)
    time_s = STEP_S * np.arange(len(e), dtype=np.float64)
    hand = forearm @ rotation_of(e, v, t)
    grip = np.concatenate([p.grip for p in tape.parts])
    arm = grips[0][1]
    club = hand @ grip_opened(grip) @ _held(grips, len(hand))
    elevation = np.arcsin(np.clip(club[:, 2, 0], -1, 1))
    bend = float((plan.swings[0] if plan.swings else plan.still or SwingStyle()).body.pelvis_bend[0])
    moved = trunk(arm.anatomy, dofs, address_pelvis(arm.anatomy, bend))
    pole = np.concatenate([own_pole(p.r_bay_from_forearm) if p.pole is None else p.pole for p in tape.parts])
    reach = arm.to_wrist(forearm, dofs[:, ELBOW], pole)
    shoulder = moved.lead_shoulder_m + give[:, None] * reach / np.linalg.norm(reach, axis=1, keepdims=True)
    upper = arm.upper_arm(forearm, dofs[:, ELBOW], pole)
    elbow = shoulder + upper
    floor = _floor(moved, arm, forearm, hand, dofs, marks)
    swings, rolls = [], np.zeros(len(e))
    for k, (index, _start, impact) in enumerate(marks):
        nxt = marks[k + 1][0] if k + 1 < len(marks) else len(e)
        end = min(nxt, index + round((impact + 1.5) / STEP_S))
        window = slice(max(0, index - int(plan.address_hold_s / STEP_S)), end)
        rolls[window] = _roll(hand[window], index - window.start)
        swings.append(_events(forearm, hand, club, elevation, time_s, index, impact, end))
    return TrueSession(
        time_s,
        forearm,
        hand,
        _upper_arm_frame(upper, forearm, pole),
        club,
        elbow,
        e,
        v,
        t,
        rolls,
        elevation,
        tuple(swings),
        windows,
        tuple(s.ball for s in plan.swings),
        dofs,
        moved,
        shoulder,
        arm.anatomy,
        arm,
        floor,
    )


def _upper_arm_frame(along: Array, forearm: Array, pole: Array) -> Array:
    """Upper arm (n, 3, 3), bay from segment: columns distal, to its back, and across the elbow to its lateral side."""
    d = along / np.linalg.norm(along, axis=1, keepdims=True)
    across = np.cross(forearm[:, :, 0], elbow_side(forearm, pole))
    across /= np.linalg.norm(across, axis=1, keepdims=True)
    return np.asarray(np.stack([d, np.cross(across, d), across], axis=-1))


def _held(grips: list[tuple[int, Arm]], samples: int) -> Array:
    """The club in the hand's axes (n, 3, 3): shaft, face normal and their product, by the grip of each sample."""
    axes = [np.column_stack([a.shaft_hand, a.face_hand, np.cross(a.shaft_hand, a.face_hand)]) for _, a in grips]
    begun = np.searchsorted([start for start, _ in grips], np.arange(samples), side="right") - 1
    return np.asarray(np.stack(axes)[begun])


def _floor(
    moved: Trunk, arm: Arm, forearm: Array, hand: Array, dofs: Array, marks: list[tuple[int, float, float]]
) -> float:
    """Height at which the club head rests at the first address, m; the ground lies 2 cm below it."""
    at = marks[0][0] if marks else len(dofs) - 1
    one = slice(at, at + 1)
    head = (
        moved.lead_shoulder_m[at]
        + arm.to_head(forearm[one], np.swapaxes(forearm[one], 1, 2) @ hand[one], dofs[one, ELBOW])[0]
    )
    return float(head[2] - 0.02)


def _roll(hand: Array, at: int) -> Array:
    relative = Rotation.from_matrix(hand[at]).inv() * Rotation.from_matrix(hand)
    x, _, _, w = relative.as_quat().T
    return np.asarray(np.unwrap(-2 * np.arctan2(x * np.sign(w + 1e-12), np.abs(w))))


def angular_velocity(r_bay_from: Array) -> Array:
    """Angular velocity (n, 3), rad/s, bay axes, of orientations (n, 3, 3) on the fine grid."""
    q = Rotation.from_matrix(r_bay_from)
    between = (q[1:] * q[:-1].inv()).as_rotvec() / STEP_S
    middle = 0.5 * (between[1:] + between[:-1])
    return np.concatenate([between[:1], middle, between[-1:]])


def _cross(time_s: Array, values: Array, a: int, b: int, *, last: bool = False, rising: bool = True) -> float | None:
    """Zero crossing of ``values`` between samples a and b, interpolated, or None."""
    v = values[a:b]
    hits = np.flatnonzero((v[:-1] < 0) & (v[1:] >= 0) if rising else (v[:-1] > 0) & (v[1:] <= 0))
    if not len(hits):
        return None
    k = a + int(hits[-1] if last else hits[0])
    return float(time_s[k] + STEP_S * values[k] / (values[k] - values[k + 1]))


def _events(
    forearm: Array, hand: Array, club: Array, elevation: Array, time_s: Array, index: int, impact: float, end: int
) -> TrueEvents:
    at_impact = index + round(impact / STEP_S)
    times: dict[str, float] = {"impact": float(time_s[at_impact])}
    window = slice(index - 200, end)

    def top_of(r: Array) -> float | None:
        omega = angular_velocity(r[window])
        stop = at_impact - window.start
        normal = omega[stop - 150 : stop].mean(axis=0)
        along = omega @ (normal / np.linalg.norm(normal))
        return _cross(time_s[window], along, 200, stop - 40, last=True)

    for name, r in (("top", hand), ("top_club", club)):
        found = top_of(r)
        if found is not None:
            times[name] = found
    at_top = round(times["top"] / STEP_S)
    arm = forearm[:, 2, 0]
    found_events = {
        "shaft_level_back": _cross(time_s, elevation, index, at_top),
        "arm_level_back": _cross(time_s, arm, index, at_top),
        "arm_level_down": _cross(time_s, arm, at_top, at_impact, last=True, rising=False),
        "shaft_level_down": _cross(time_s, elevation, at_top, at_impact, last=True, rising=False),
        "shaft_level_through": _cross(time_s, elevation, at_impact, end),
    }
    times.update({k: t for k, t in found_events.items() if t is not None})
    times["takeaway"] = float(time_s[index]) + 0.10
    times["address"] = float(time_s[index]) - 0.1
    return TrueEvents(float(time_s[index]) - 1.3, float(time_s[min(end, len(time_s) - 1)]), times)
