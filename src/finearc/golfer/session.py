"""A whole session of the golfer model: poses, waggles, swings; true angles and true events."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.spatial.transform import Rotation, Slerp

from finearc.core.kinematics.wrist import rotation_of
from finearc.core.typing import Array
from finearc.golfer.anatomy import Anatomy
from finearc.golfer.body import (
    STEP_S,
    Arm,
    ArmMotion,
    Shoulder,
    address_forearm,
    body_curves,
    club_in_hand,
    forearm_orientation,
    grip_opened,
    minimum_jerk,
    swing_duration,
    swing_motion,
    true_twist,
)
from finearc.golfer.style import SwingStyle
from finearc.golfer.trunk import DOFS, Trunk, address_pelvis, trunk, upright_lift_cm

ELBOW = DOFS.index("elbow")


@dataclass(frozen=True)
class PoseErrors:
    """How imperfectly the poses are held. Standard deviations, deg."""

    wrist_deg: float = 0.0
    level_deg: float = 0.0


@dataclass(frozen=True)
class SessionPlan:
    """What the player does: ``raise_deg`` height of the raised pose; ``pairs`` of poses held;
    ``functional`` calibrates by movement with the forearm rolled by ``roll_limit_deg`` from palm down; ``body`` puts
    *square upright* and *bow* before the arm's poses, ``upright_error_deg`` being how squarely they are held."""

    swings: Sequence[SwingStyle]
    pose_errors: PoseErrors = field(default_factory=PoseErrors)
    raise_deg: float = 62.0
    pairs: int = 1
    between_s: float = 6.0
    twist_rest_deg: float = 1.5
    lean_deg: float = 3.0
    palm_up: bool = False
    lowered: bool = False
    functional: bool = False
    roll_limit_deg: float = 50.0
    address_hold_s: float = 1.6
    body: bool = False
    still: SwingStyle | None = None
    upright_error_deg: float = 0.0
    height_m: float = 1.78


@dataclass(frozen=True)
class TrueEvents:
    """True instants of one swing, s; keys as the checkpoints, and ``top_club`` for the club's reversal."""

    start_s: float
    end_s: float
    times_s: dict[str, float]


@dataclass(frozen=True)
class TrueSession:
    """Truth on a 1 kHz grid: orientations (n, 3, 3) bay from segment, positions (n, 3) m, wrist angles (n,) rad.
    ``dofs`` (n, 13) as ``trunk.DOFS``; columns of the club are shaft, face normal and their product."""

    time_s: Array
    r_bay_from_forearm: Array
    r_bay_from_hand: Array
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


@dataclass(frozen=True)
class State:
    """A posture: forearm (3, 3), wrist angles (3,) rad, give of the shoulder (m), trunk (13,)."""

    forearm: Array
    wrist: Array
    give_m: float
    dofs: Array


class _Tape:
    """Collects pieces of motion one after another."""

    def __init__(self) -> None:
        self.parts: list[ArmMotion] = []
        self.dofs: list[Array] = []
        self.samples = 0

    @property
    def now_s(self) -> float:
        return self.samples * STEP_S

    def add(self, motion: ArmMotion, dofs: Array) -> None:
        self.parts.append(motion)
        self.dofs.append(dofs)
        self.samples += len(dofs)

    def last(self) -> State:
        m = self.parts[-1]
        wrist = np.array([m.extension[-1], m.deviation[-1], m.twist[-1]])
        return State(m.r_bay_from_forearm[-1], wrist, float(m.give_m[-1]), self.dofs[-1][-1])

    def hold(self, state: State, seconds: float) -> None:
        n = max(1, round(seconds / STEP_S))
        e, v, t = (np.full(n, x) for x in state.wrist)
        self.add(
            ArmMotion(np.tile(state.forearm, (n, 1, 1)), e, v, t, np.full(n, state.give_m), np.zeros(n)),
            np.tile(state.dofs, (n, 1)),
        )

    def move(self, state: State, seconds: float) -> None:
        n = round(seconds / STEP_S)
        u = minimum_jerk(np.arange(1, n + 1) / n)
        last = self.last()
        path = Slerp([0.0, 1.0], Rotation.from_matrix(np.stack([last.forearm, state.forearm])))(u).as_matrix()
        e, v, t = ((1 - u) * a + u * b for a, b in zip(last.wrist, state.wrist, strict=True))
        give = (1 - u) * last.give_m + u * state.give_m
        self.add(ArmMotion(path, e, v, t, give, np.zeros(n)), (1 - u)[:, None] * last.dofs + u[:, None] * state.dofs)


def _standing(
    plan: SessionPlan, elbow_deg: float, rng: np.random.Generator | None = None, bow_deg: float = 0.0
) -> Array:
    """Trunk quantities (13,) of a player standing upright, bowed forward by ``bow_deg``."""
    dofs = np.zeros(len(DOFS))
    off = np.zeros(3) if rng is None else rng.normal(0.0, 1.0, 3) * plan.upright_error_deg
    for name, value in (
        ("pelvis_bend", bow_deg + off[0]),
        ("thorax_posture", bow_deg + off[0]),
        ("pelvis_turn", off[1]),
        ("thorax_turn", off[1]),
        ("pelvis_side", off[2]),
        ("thorax_lean", off[2]),
        ("lift", upright_lift_cm(Anatomy.of_height(plan.height_m), 20.0) - 0.08 * bow_deg),
        ("thrust", -0.12 * bow_deg),
        ("elbow", elbow_deg),
    ):
        dofs[DOFS.index(name)] = value
    return dofs


def _pose(plan: SessionPlan, elevation_deg: float, rng: np.random.Generator) -> State:
    """Forearm pointing ahead, raised by ``elevation_deg``; palm down but for errors. Elbow at the side."""
    level = np.deg2rad(rng.normal(0.0, 1.0, 2) * plan.pose_errors.level_deg)
    wrist = np.deg2rad(rng.normal(0.0, 1.0, 3) * plan.pose_errors.wrist_deg)
    pitch = np.deg2rad(elevation_deg) + level[0]
    roll = level[1] + (np.pi if plan.palm_up else 0.0)
    if plan.functional:
        roll += np.deg2rad(plan.roll_limit_deg)
    d = np.array([np.cos(pitch), 0.0, np.sin(pitch)])
    o0 = np.array([-np.sin(pitch), 0.0, np.cos(pitch)])
    r0 = np.cross(d, o0)
    o = o0 * np.cos(roll) + r0 * np.sin(roll)
    return State(np.column_stack([d, o, np.cross(d, o)]), wrist, 0.0, _standing(plan, 90.0 + elevation_deg))


def _body_poses(tape: _Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    """Standing square and upright, then bowed straight forward; the arms hang."""
    hanging = forearm_orientation(np.zeros(1), np.full(1, 88.0), np.zeros(1))[0]
    upright = State(hanging, np.zeros(3), 0.0, _standing(plan, 8.0, rng))
    bowed = State(hanging, np.zeros(3), 0.0, _standing(plan, 8.0, rng, 32.0))
    tape.hold(upright, 2.5)
    windows = {"square_upright": [(round(tape.now_s - 2.0, 3), round(tape.now_s - 0.1, 3))]}
    tape.move(bowed, 1.4)
    tape.hold(bowed, 1.8)
    windows["bow"] = [(round(tape.now_s - 1.5, 3), round(tape.now_s - 0.1, 3))]
    tape.move(upright, 1.4)
    return windows


def _functional_moves(tape: _Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    """Straight, raised straight, then flexion-extension and deviation with the arm moving a little."""
    windows: dict[str, list[tuple[float, float]]] = {}
    straight = _pose(plan, 5.0, rng)
    tape.hold(straight, 2.0)
    windows["straight"] = [(tape.now_s - 1.8, tape.now_s - 0.1)]
    raised = _pose(plan, plan.raise_deg, rng)
    tape.move(raised, 1.1)
    tape.hold(raised, 2.0)
    windows["raised"] = [(tape.now_s - 1.8, tape.now_s - 0.1)]
    tape.move(straight, 1.1)
    for name, sign, size in (("flexion", -1.0, 45.0), ("deviation", 1.0, 20.0)):
        tape.hold(straight, 0.8)
        begin = tape.now_s
        n = int(6.0 / STEP_S)
        phase = 2 * np.pi * 3 * np.arange(n) / n
        ramp = np.minimum(1.0, np.minimum(np.arange(n), np.arange(n)[::-1]) / 400.0)
        main = np.deg2rad(sign * size) * np.sin(phase) * ramp
        if name == "deviation":
            main = np.where(main > 0, main, 1.3 * main)
        side = np.deg2rad(2.0) * np.sin(2.3 * phase + 1.0) * ramp
        e, v = (main, side) if name == "flexion" else (side, main)
        forearm = np.tile(straight.forearm, (n, 1, 1))
        bend = straight.wrist
        tape.add(
            ArmMotion(forearm, bend[0] + e, bend[1] + v, np.full(n, bend[2]), np.zeros(n), np.zeros(n)),
            np.tile(straight.dofs, (n, 1)),
        )
        windows[name] = [(begin, tape.now_s)]
    return windows


def _two_poses(tape: _Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    windows: dict[str, list[tuple[float, float]]] = {"flat": [], "raised": []}
    sign = -1.0 if plan.lowered else 1.0
    for _pair in range(plan.pairs):
        for kind, elevation in (("flat", 0.0), ("raised", sign * plan.raise_deg)):
            pose = _pose(plan, elevation, rng)
            if not tape.samples:
                tape.hold(pose, 0.5)
            else:
                tape.move(pose, 1.0)
            tape.hold(pose, 2.0)
            windows[kind].append((round(tape.now_s - 1.9, 3), round(tape.now_s - 0.1, 3)))
    return windows


def perform(plan: SessionPlan, rng: np.random.Generator) -> TrueSession:
    """Play the plan. Deterministic for a given generator state."""
    tape = _Tape()
    windows = _body_poses(tape, plan, rng) if plan.body else {}
    windows |= _functional_moves(tape, plan, rng) if plan.functional else _two_poses(tape, plan, rng)
    twist_rest = np.deg2rad(plan.twist_rest_deg)
    first = plan.swings[0] if plan.swings else plan.still or SwingStyle()
    anatomy = Anatomy.of_height(plan.height_m)
    arm = Arm(anatomy, *club_in_hand(first.extension[0], first.deviation[0], twist_rest, plan.lean_deg))
    marks: list[tuple[int, float, float]] = []
    for style in plan.swings or [plan.still or SwingStyle()]:
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
    return _finish(tape, plan, arm, marks, windows)


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
    tape: _Tape,
    plan: SessionPlan,
    arm: Arm,
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
    club = (
        hand
        @ grip_opened(grip)
        @ np.column_stack([arm.shaft_hand, arm.face_hand, np.cross(arm.shaft_hand, arm.face_hand)])
    )
    elevation = np.arcsin(np.clip(club[:, 2, 0], -1, 1))
    bend = float((plan.swings[0] if plan.swings else plan.still or SwingStyle()).body.pelvis_bend[0])
    moved = trunk(arm.anatomy, dofs, address_pelvis(arm.anatomy, bend))
    reach = arm.to_wrist(forearm, dofs[:, ELBOW])
    shoulder = moved.lead_shoulder_m + give[:, None] * reach / np.linalg.norm(reach, axis=1, keepdims=True)
    elbow = shoulder + arm.upper_arm(forearm, dofs[:, ELBOW])
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
