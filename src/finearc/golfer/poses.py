"""The poses and moves that come before the swings of a session: planned, held imperfectly, taped one after another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.spatial.transform import Rotation, Slerp

from finearc.core.typing import Array
from finearc.golfer.anatomy import Anatomy
from finearc.golfer.arm import (
    STEP_S,
    ArmMotion,
    forearm_orientation,
    minimum_jerk,
    own_pole,
)
from finearc.golfer.style import SwingStyle
from finearc.golfer.trunk import DOFS, upright_lift_cm

ELBOW = DOFS.index("elbow")
DOWN = np.array([0.0, 0.0, -1.0])


@dataclass(frozen=True)
class PoseErrors:
    """How imperfectly the poses are held. Standard deviations, deg."""

    wrist_deg: float = 0.0
    level_deg: float = 0.0


@dataclass(frozen=True)
class SessionPlan:
    """What the player does: ``raise_deg`` height of the raised pose; ``pairs`` of poses held;
    ``functional`` calibrates by movement with the forearm rolled by ``roll_limit_deg`` from palm down; ``body`` puts
    *square upright* and *bow* before the arm's poses, ``upright_error_deg`` being how squarely they are held;
    ``lifted`` puts the upper arm's pose after them. From swing ``regrip_at`` (from 0) on the club is held as that
    swing's style has it at address."""

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
    regrip_at: int | None = None
    lifted: bool = False


@dataclass(frozen=True)
class State:
    """A posture: forearm (3, 3), wrist angles (3,) rad, give of the shoulder (m), trunk (13,), and the elbow's pole
    (3,) where it is not left to the arm."""

    forearm: Array
    wrist: Array
    give_m: float
    dofs: Array
    pole: Array | None = None


class Tape:
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
        pole = None if m.pole is None else m.pole[-1]
        return State(m.r_bay_from_forearm[-1], wrist, float(m.give_m[-1]), self.dofs[-1][-1], pole)

    def hold(self, state: State, seconds: float) -> None:
        n = max(1, round(seconds / STEP_S))
        e, v, t = (np.full(n, x) for x in state.wrist)
        self.add(
            ArmMotion(
                np.tile(state.forearm, (n, 1, 1)),
                e,
                v,
                t,
                np.full(n, state.give_m),
                np.zeros(n),
                None if state.pole is None else np.tile(state.pole, (n, 1)),
            ),
            np.tile(state.dofs, (n, 1)),
        )

    def move(self, state: State, seconds: float) -> None:
        n = round(seconds / STEP_S)
        u = minimum_jerk(np.arange(1, n + 1) / n)
        last = self.last()
        path = Slerp([0.0, 1.0], Rotation.from_matrix(np.stack([last.forearm, state.forearm])))(u).as_matrix()
        e, v, t = ((1 - u) * a + u * b for a, b in zip(last.wrist, state.wrist, strict=True))
        give = (1 - u) * last.give_m + u * state.give_m
        pole = None
        if last.pole is not None or state.pole is not None:
            before, after = (own_pole(s.forearm) if s.pole is None else s.pole for s in (last, state))
            pole = (1 - u)[:, None] * before + u[:, None] * after
        self.add(
            ArmMotion(path, e, v, t, give, np.zeros(n), pole), (1 - u)[:, None] * last.dofs + u[:, None] * state.dofs
        )


def standing(
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


def pose(plan: SessionPlan, elevation_deg: float, rng: np.random.Generator) -> State:
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
    pole = DOWN if plan.lifted else None
    return State(np.column_stack([d, o, np.cross(d, o)]), wrist, 0.0, standing(plan, 90.0 + elevation_deg), pole)


def lifted_pose(tape: Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    """The elbow lifted straight ahead to the height of the shoulder, the forearm pointing up, the palm ahead."""
    lean = np.deg2rad(rng.normal(0.0, 1.0, 2) * plan.pose_errors.level_deg)
    level = np.deg2rad(rng.normal(0.0, 1.0) * plan.pose_errors.level_deg)
    d, o = np.array([0.0, 0.0, 1.0]), np.array([-1.0, 0.0, 0.0])
    upright = Rotation.from_euler("yx", lean).as_matrix() @ np.column_stack([d, o, np.cross(d, o)])
    ahead = np.array([np.cos(level), 0.0, np.sin(level)])
    tape.move(State(upright, np.zeros(3), 0.0, standing(plan, 90.0), ahead), 1.4)
    tape.hold(tape.last(), 2.0)
    return {"lifted": [(round(tape.now_s - 1.9, 3), round(tape.now_s - 0.1, 3))]}


def body_poses(tape: Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    """Standing square and upright, then bowed straight forward; the arms hang."""
    hanging = forearm_orientation(np.zeros(1), np.full(1, 88.0), np.zeros(1))[0]
    upright = State(hanging, np.zeros(3), 0.0, standing(plan, 8.0, rng))
    bowed = State(hanging, np.zeros(3), 0.0, standing(plan, 8.0, rng, 32.0))
    tape.hold(upright, 2.5)
    windows = {"square_upright": [(round(tape.now_s - 2.0, 3), round(tape.now_s - 0.1, 3))]}
    tape.move(bowed, 1.4)
    tape.hold(bowed, 1.8)
    windows["bow"] = [(round(tape.now_s - 1.5, 3), round(tape.now_s - 0.1, 3))]
    tape.move(upright, 1.4)
    return windows


def functional_moves(tape: Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    """Straight, raised straight, then flexion-extension and deviation with the arm moving a little."""
    windows: dict[str, list[tuple[float, float]]] = {}
    straight = pose(plan, 5.0, rng)
    tape.hold(straight, 2.0)
    windows["straight"] = [(tape.now_s - 1.8, tape.now_s - 0.1)]
    raised = pose(plan, plan.raise_deg, rng)
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


def two_poses(tape: Tape, plan: SessionPlan, rng: np.random.Generator) -> dict[str, list[tuple[float, float]]]:
    windows: dict[str, list[tuple[float, float]]] = {"flat": [], "raised": []}
    sign = -1.0 if plan.lowered else 1.0
    for _pair in range(plan.pairs):
        for kind, elevation in (("flat", 0.0), ("raised", sign * plan.raise_deg)):
            held = pose(plan, elevation, rng)
            if not tape.samples:
                tape.hold(held, 0.5)
            else:
                tape.move(held, 1.0)
            tape.hold(held, 2.0)
            windows[kind].append((round(tape.now_s - 1.9, 3), round(tape.now_s - 0.1, 3)))
    return windows
