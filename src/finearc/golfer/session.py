"""A whole session of the golfer model: poses, waggles, swings; true angles and true events."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.spatial.transform import Rotation, Slerp

from finearc.core.kinematics.wrist import rotation_of
from finearc.core.typing import Array
from finearc.golfer.body import (
    ADDRESS_ZETA_DEG,
    STEP_S,
    ArmMotion,
    forearm_orientation,
    minimum_jerk,
    shaft_in_hand,
    swing_duration,
    swing_motion,
    true_twist,
)
from finearc.golfer.style import SwingStyle


@dataclass(frozen=True)
class PoseErrors:
    """How imperfectly the poses are held. Standard deviations, deg."""

    wrist_deg: float = 0.0
    level_deg: float = 0.0


@dataclass(frozen=True)
class SessionPlan:
    """What the player does: ``raise_deg`` height of the raised pose; ``pairs`` of poses held;
    ``functional`` calibrates by movement with the forearm rolled by ``roll_limit_deg`` from palm down."""

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


@dataclass(frozen=True)
class TrueEvents:
    """True instants of one swing, s; keys as the checkpoints, and ``top_club`` for the club's reversal."""

    start_s: float
    end_s: float
    times_s: dict[str, float]


@dataclass(frozen=True)
class TrueSession:
    """Truth on a 1 kHz grid: orientations (n, 3, 3) bay from segment, positions (n, 3) m of the sensors,
    wrist angles (n,) rad."""

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


class _Tape:
    """Collects pieces of motion one after another."""

    def __init__(self) -> None:
        self.parts: list[ArmMotion] = []
        self.weight: list[Array] = []
        self.samples = 0

    @property
    def now_s(self) -> float:
        return self.samples * STEP_S

    def add(self, motion: ArmMotion, weight: Array) -> None:
        self.parts.append(motion)
        self.weight.append(weight)
        self.samples += len(weight)

    def last(self) -> tuple[Array, float, float, float, float]:
        m = self.parts[-1]
        return (
            m.r_bay_from_forearm[-1],
            float(m.extension[-1]),
            float(m.deviation[-1]),
            float(m.twist[-1]),
            float(self.weight[-1][-1]),
        )

    def hold(self, state: tuple[Array, float, float, float, float], seconds: float) -> None:
        n = max(1, round(seconds / STEP_S))
        forearm, e, v, t, w = state
        self.add(ArmMotion(np.tile(forearm, (n, 1, 1)), np.full(n, e), np.full(n, v), np.full(n, t)), np.full(n, w))

    def move(self, state: tuple[Array, float, float, float, float], seconds: float) -> None:
        n = round(seconds / STEP_S)
        u = minimum_jerk(np.arange(1, n + 1) / n)
        forearm, *rest = state
        last_forearm, *last_rest = self.last()
        path = Slerp([0.0, 1.0], Rotation.from_matrix(np.stack([last_forearm, forearm])))(u).as_matrix()
        e, v, t, w = ((1 - u) * a + u * b for a, b in zip(last_rest, rest, strict=True))
        self.add(ArmMotion(path, e, v, t), w)


def _pose(
    plan: SessionPlan, elevation_deg: float, rng: np.random.Generator
) -> tuple[Array, float, float, float, float]:
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
    return np.column_stack([d, o, np.cross(d, o)]), float(wrist[0]), float(wrist[1]), float(wrist[2]), 0.0


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
        forearm = np.tile(straight[0], (n, 1, 1))
        tape.add(ArmMotion(forearm, straight[1] + e, straight[2] + v, np.full(n, straight[3])), np.zeros(n))
        windows[name] = [(begin, tape.now_s)]
    return windows


def _two_poses(tape: _Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    windows: dict[str, list[tuple[float, float]]] = {"flat": [], "raised": []}
    sign = -1.0 if plan.lowered else 1.0
    for pair in range(plan.pairs):
        for kind, elevation in (("flat", 0.0), ("raised", sign * plan.raise_deg)):
            pose = _pose(plan, elevation, rng)
            if pair == 0 and kind == "flat":
                tape.hold(pose, 0.5)
            else:
                tape.move(pose, 1.0)
            tape.hold(pose, 2.0)
            windows[kind].append((round(tape.now_s - 1.9, 3), round(tape.now_s - 0.1, 3)))
    return windows


def perform(plan: SessionPlan, rng: np.random.Generator) -> TrueSession:
    """Play the plan. Deterministic for a given generator state."""
    tape = _Tape()
    windows = _functional_moves(tape, plan, rng) if plan.functional else _two_poses(tape, plan, rng)
    twist_rest = np.deg2rad(plan.twist_rest_deg)
    first = plan.swings[0] if plan.swings else SwingStyle()
    shaft = shaft_in_hand(first.extension[0], first.deviation[0], twist_rest, plan.lean_deg)
    address_forearm = forearm_orientation(np.zeros(1), np.full(1, ADDRESS_ZETA_DEG), np.zeros(1))[0]
    marks: list[tuple[int, float, float]] = []
    for style in plan.swings or [SwingStyle()]:
        e, v = np.deg2rad(style.extension[0]), np.deg2rad(style.deviation[0])
        jitter = Rotation.from_rotvec(np.deg2rad(rng.normal(0, 0.6, 3))).as_matrix()
        rest = twist_rest + np.deg2rad(rng.normal(0, 0.3))
        twist = float(true_twist(np.array([e]), np.array([v]), rest)[0])
        state = (jitter @ address_forearm, float(e), float(v), twist, 1.0)
        tape.move(
            state, 1.5 if tape.samples < 20000 and not marks else max(1.0, plan.between_s - plan.address_hold_s - 3.2)
        )
        tape.hold(state, plan.address_hold_s)
        if not plan.swings:
            tape.hold(state, 1.5)
            break
        motion, _ = swing_motion(style, rest, shaft)
        marks.append((tape.samples, tape.now_s, swing_duration(style)[2]))
        tape.add(
            ArmMotion(jitter @ motion.r_bay_from_forearm, motion.extension, motion.deviation, motion.twist),
            np.ones(len(motion.extension)),
        )
        tape.hold(tape.last(), 0.7)
    return _finish(tape, plan, shaft, marks, windows)


def _finish(
    tape: _Tape,
    plan: SessionPlan,
    shaft_hand: Array,
    marks: list[tuple[int, float, float]],
    windows: dict[str, list[tuple[float, float]]],
) -> TrueSession:
    forearm = np.concatenate([p.r_bay_from_forearm for p in tape.parts])
    e = np.concatenate([p.extension for p in tape.parts])
    v = np.concatenate([p.deviation for p in tape.parts])
    t = np.concatenate([p.twist for p in tape.parts])
    weight = np.concatenate(tape.weight)
    time_s = STEP_S * np.arange(len(e), dtype=np.float64)
    hand = forearm @ rotation_of(e, v, t)
    side = np.cross(shaft_hand, [0.0, 0.0, 1.0])
    side /= np.linalg.norm(side)
    club = hand @ np.column_stack([shaft_hand, side, np.cross(shaft_hand, side)])
    elevation = np.arcsin(np.clip(club[:, 2, 0], -1, 1))
    upper = (1 - weight)[:, None] * np.array([0.1, 0.0, -1.0]) + weight[:, None] * forearm[:, :, 0]
    norm = np.maximum(np.linalg.norm(upper, axis=1, keepdims=True), 0.3)
    elbow = np.array([0.0, 0.15, 1.4]) + 0.31 * upper / norm
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
    )


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
