"""A whole putting session of the golfer model: the arms' poses, then putt after putt, with true angles and instants."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.spatial.transform import Rotation, Slerp

from finearc.core.kinematics.wrist import rotation_of
from finearc.core.signals.streams import Segment
from finearc.core.typing import Array
from finearc.golfer.arm import STEP_S, minimum_jerk
from finearc.golfer.poses import PoseErrors, SessionPlan, pose
from finearc.golfer.putting.stroke import LENGTH_M, PutterMotion, address_putter, putter_motion
from finearc.golfer.putting.style import PuttStyle
from finearc.golfer.session import TrueEvents

FOREARM_M = 0.26
ON_SHAFT_M = {"lead": 0.10, "trail": 0.19}
"""How far down from the grip end each wrist is."""
OFF_SHAFT_M = 0.05
ELBOW_AT_POSES_M = {"lead": np.array([0.05, 0.22, 1.10]), "trail": np.array([0.05, -0.22, 1.10])}
FORWARD_PITCH_DEG, INWARD_DEG = 72.0, 6.0
"""How the lead forearm hangs at address: so far below level, its wrist so far inward."""
AFTER_S, BACK_S = 1.0, 1.4
"""A finish is held so long; then the player comes back to an address (house values)."""
POSE_S, MOVE_S = 2.0, 1.1
MIRROR = np.diag([1.0, -1.0, 1.0])
TREMOR_HZ = (7.0, 11.0)
FOREARM_SENSOR_M, HAND_SENSOR_M, PUTTER_SENSOR_M = 0.19, 0.05, 0.30


@dataclass(frozen=True)
class PuttingPlan:
    """What the player does: putts one after another, the poses before them. ``tremor_deg``: standard deviation of what
    the wrists tremble; ``posed_again_at``: before which putt (from 0) the arms'
    poses are held again."""

    putts: Sequence[PuttStyle]
    pose_errors: PoseErrors = field(default_factory=PoseErrors)
    raise_deg: float = 62.0
    twist_rest_deg: float = 1.5
    tremor_deg: float = 0.04
    posed_again_at: int | None = None


@dataclass(frozen=True)
class TrueArm:
    """One arm (n): orientations bay from segment, places (m), and the wrist's angles (rad) without its trembling. The
    trail arm as a lead one in the mirrored bay."""

    r_bay_from_forearm: Array
    r_bay_from_hand: Array
    elbow_m: Array
    wrist_m: Array
    extension: Array
    deviation: Array


@dataclass(frozen=True)
class TruePutt(TrueEvents):
    """``times_s``: address, takeaway, transition (the head's reversal), impact, finish."""

    style: PuttStyle = field(default_factory=PuttStyle)


@dataclass(frozen=True)
class TruePutting:
    """Truth on a 1 kHz grid. ``face_in_putter`` and ``toe_in_putter`` (3,): where the face looks and the toe lies."""

    time_s: Array
    arms: Mapping[str, TrueArm]
    putter: PutterMotion
    swings: tuple[TruePutt, ...]
    windows: dict[str, list[tuple[float, float]]]
    face_in_putter: Array
    toe_in_putter: Array

    def sensed(self, segment: Segment) -> tuple[Array, Array]:
        """Orientation (n, 3, 3) and place (n, 3), m, of a sensor on a segment; on the trail arm in the mirrored bay."""
        if segment is Segment.PUTTER:
            r = self.putter.r_bay_from_putter
            return r, self.putter.grip_end_m + PUTTER_SENSOR_M * r[:, :, 0]
        side, part = segment.value.split("_")
        arm = self.arms[side]
        if part == "forearm":
            r = arm.r_bay_from_forearm
            return r, arm.elbow_m + FOREARM_SENSOR_M * r[:, :, 0]
        r = arm.r_bay_from_hand
        return r, arm.wrist_m + HAND_SENSOR_M * r[:, :, 0]


def hanging_forearm() -> Array:
    """The lead forearm (3, 3) at address: columns distal, back of the hand (toward the target), thumb side."""
    down, inward = np.deg2rad([FORWARD_PITCH_DEG, INWARD_DEG])
    d = np.array([np.cos(down) * np.cos(inward), -np.sin(inward), -np.sin(down) * np.cos(inward)])
    o = np.array([0.0, 1.0, 0.0])
    o = o - (o @ d) * d
    o /= np.linalg.norm(o)
    return np.column_stack([d, o, np.cross(d, o)])


@dataclass
class _Reel:
    """What is taped so far of the putter and of each arm's wrist."""

    r_putter: list[Array] = field(default_factory=list)
    grip: list[Array] = field(default_factory=list)
    swung: list[Array] = field(default_factory=list)
    wrists: dict[str, list[Array]] = field(default_factory=lambda: {"lead": [], "trail": []})
    samples: int = 0

    def add(self, motion: PutterMotion, wrists: Mapping[str, Array]) -> None:
        """``wrists`` (n, 2): extension and deviation, rad, by side."""
        self.r_putter.append(motion.r_bay_from_putter)
        self.grip.append(motion.grip_end_m)
        self.swung.append(motion.swung_rad)
        for side, angles in wrists.items():
            self.wrists[side].append(angles)
        self.samples += len(motion.swung_rad)

    def come_to(self, motion: PutterMotion, wrists: Mapping[str, Array], seconds: float) -> None:
        """Move smoothly to where a motion begins."""
        n = round(seconds / STEP_S)
        u = minimum_jerk(np.arange(1, n + 1) / n)[:, None]
        ends = np.stack([self.r_putter[-1][-1], motion.r_bay_from_putter[0]])
        r = Slerp([0.0, 1.0], Rotation.from_matrix(ends))(u[:, 0]).as_matrix()
        grip = (1 - u) * self.grip[-1][-1] + u * motion.grip_end_m[0]
        moved = PutterMotion(r, grip, grip + LENGTH_M * r[:, :, 0], np.zeros(n))
        self.add(moved, {k: (1 - u) * self.wrists[k][-1][-1] + u * w[0] for k, w in wrists.items()})


def perform_putting(plan: PuttingPlan, rng: np.random.Generator) -> TruePutting:
    """Play the plan. Deterministic for a given generator state."""
    first = plan.putts[0]
    held = _Held(first, plan)
    reel = _Reel()
    putts: list[TruePutt] = []
    lead_in = round((0.5 + 2 * POSE_S + MOVE_S) / STEP_S)
    pose_ends: list[tuple[int, int]] = [(0, lead_in)]
    start = putter_motion(first, np.zeros(1), 1.0)
    still = {side: np.repeat(held.at_address(first, side)[None], lead_in, axis=0) for side in held.grips}
    reel.add(_standing(start, lead_in), still)
    for number, style in enumerate(plan.putts):
        begin_s = style.address_s
        lasts = begin_s + style.back_s + 2.0 * style.through_s + AFTER_S
        time_s = STEP_S * np.arange(round(lasts / STEP_S), dtype=np.float64)
        motion = putter_motion(style, time_s, begin_s)
        wrists = {side: held.angles(style, side, time_s, begin_s) for side in held.grips}
        if plan.posed_again_at == number:
            reel.come_to(motion, wrists, BACK_S)
            pose_ends.append((reel.samples, reel.samples + lead_in))
            still = {side: np.repeat(w[:1], lead_in + round(1.5 / STEP_S), axis=0) for side, w in wrists.items()}
            reel.add(_standing(motion, lead_in + round(1.5 / STEP_S)), still)
        reel.come_to(motion, wrists, 1.5 if number == 0 else BACK_S)
        putts.append(_marks(style, motion, time_s, begin_s, STEP_S * reel.samples))
        reel.add(motion, wrists)
    return _finished(plan, held, reel, putts, pose_ends, rng)


def _standing(motion: PutterMotion, samples: int) -> PutterMotion:
    def repeated(values: Array) -> Array:
        return np.repeat(values[:1], samples, axis=0)

    return PutterMotion(
        repeated(motion.r_bay_from_putter),
        repeated(motion.grip_end_m),
        repeated(motion.sweet_spot_m),
        np.zeros(samples),
    )


class _Held:
    """How each hand holds the putter: its orientation against the putter's, chosen at the first address."""

    def __init__(self, first: PuttStyle, plan: PuttingPlan) -> None:
        putter = address_putter(first)
        self.twist = np.deg2rad(plan.twist_rest_deg)
        self.grips: dict[str, Array] = {}
        for side in ("lead", "trail"):
            e, v = self.at_address(first, side)
            hand = hanging_forearm() @ rotation_of(np.array([e]), np.array([v]), np.array([self.twist]))[0]
            seen = putter if side == "lead" else MIRROR @ putter
            self.grips[side] = seen.T @ hand

    def at_address(self, style: PuttStyle, side: str) -> Array:
        """Extension and deviation, rad."""
        lead = side == "lead"
        angles = (
            (style.extension_deg, style.deviation_deg)
            if lead
            else (style.trail_extension_deg, style.trail_deviation_deg)
        )
        return np.asarray(np.deg2rad(angles))

    def angles(self, style: PuttStyle, side: str, time_s: Array, begin_s: float) -> Array:
        """Extension and deviation (n, 2), rad, over a stroke."""
        lead = side == "lead"
        steps = (style.extension, style.deviation) if lead else (style.trail_extension, style.trail_deviation)
        added = np.stack([style.course(s, time_s, begin_s) for s in steps], axis=1)
        return np.asarray(self.at_address(style, side) + np.deg2rad(added))


def _marks(style: PuttStyle, motion: PutterMotion, time_s: Array, begin_s: float, at_s: float) -> TruePutt:
    """True instants on the session's clock: the head's reversal along the target line, its passage of the address
    place."""
    along = motion.sweet_spot_m[:, 1]
    turn_s = begin_s + style.back_s
    near = (time_s > turn_s - 0.25) & (time_s < turn_s + 0.25)
    k = int(np.flatnonzero(near)[np.argmin(along[near])])
    a, b, c = along[k - 1 : k + 2]
    transition = float(time_s[k] + STEP_S * 0.5 * (a - c) / (a - 2 * b + c))
    home = float(along[0])
    passed = np.flatnonzero((along[k:-1] < home) & (along[k + 1 :] >= home))[0] + k
    impact = float(time_s[passed] + STEP_S * (home - along[passed]) / (along[passed + 1] - along[passed]))
    times = {
        "address": begin_s - 0.1,
        "takeaway": begin_s,
        "transition": transition,
        "impact": impact,
        "finish": begin_s + style.back_s + 2.0 * style.through_s,
    }
    end_s = float(time_s[-1]) + at_s
    return TruePutt(at_s + 0.05, end_s, {name: at_s + t for name, t in times.items()}, style)


def _finished(
    plan: PuttingPlan,
    held: _Held,
    reel: _Reel,
    putts: Sequence[TruePutt],
    pose_ends: Sequence[tuple[int, int]],
    rng: np.random.Generator,
) -> TruePutting:
    r = np.concatenate(reel.r_putter)
    grip = np.concatenate(reel.grip)
    swung = np.concatenate(reel.swung)
    first = address_putter(plan.putts[0])
    open_rad = np.deg2rad(plan.putts[0].face_deg)
    aim = np.array([np.sin(open_rad), np.cos(open_rad), 0.0])
    toe = np.array([aim[1], -aim[0], 0.0])
    arms: dict[str, TrueArm] = {}
    windows: dict[str, list[tuple[float, float]]] = {}
    for side in ("lead", "trail"):
        arms[side], windows = _arm(plan, held, side, r, grip, np.concatenate(reel.wrists[side]), pose_ends, rng)
    return TruePutting(
        STEP_S * np.arange(len(r), dtype=np.float64),
        arms,
        PutterMotion(r, grip, grip + LENGTH_M * r[:, :, 0], swung),
        tuple(putts),
        windows,
        first.T @ aim,
        first.T @ toe,
    )


def _arm(
    plan: PuttingPlan,
    held: _Held,
    side: str,
    r_putter: Array,
    grip: Array,
    wrist: Array,
    pose_ends: Sequence[tuple[int, int]],
    rng: np.random.Generator,
) -> tuple[TrueArm, dict[str, list[tuple[float, float]]]]:
    """An arm that holds the putter, and before it the poses; the trail arm in the mirrored bay."""
    mirror = np.eye(3) if side == "lead" else MIRROR
    seen = mirror @ r_putter
    hand = seen @ held.grips[side]
    n = len(hand)
    tremble = _tremor(n, rng) * np.deg2rad(plan.tremor_deg)
    e, v = wrist[:, 0], wrist[:, 1]
    twist = np.full(n, held.twist)
    forearm = hand @ np.swapaxes(rotation_of(e + tremble[:, 0], v + tremble[:, 1], twist), 1, 2)
    places = grip @ mirror + seen @ np.array([ON_SHAFT_M[side], 0.0, -OFF_SHAFT_M])
    elbow = places - FOREARM_M * forearm[:, :, 0]
    windows: dict[str, list[tuple[float, float]]] = {"flat": [], "raised": []}
    for start, stop in pose_ends:
        _pose(plan, (forearm, hand, elbow), side, start, stop, windows, rng)
    wrist_m = elbow + FOREARM_M * forearm[:, :, 0]
    return TrueArm(forearm, hand, elbow, wrist_m, e, v), windows


def _pose(
    plan: PuttingPlan,
    arm: tuple[Array, Array, Array],
    side: str,
    start: int,
    stop: int,
    windows: dict[str, list[tuple[float, float]]],
    rng: np.random.Generator,
) -> None:
    """Both poses written over an arm's motion (forearm, hand, elbow) between two samples; from there it moves to where
    it was within 1.4 s, and from where it was within the last 1.4 s before."""
    forearm, hand, elbow = arm
    session = SessionPlan((), plan.pose_errors, raise_deg=plan.raise_deg)
    flat, raised = pose(session, 0.0, rng), pose(session, plan.raise_deg, rng)
    steps = [(flat, 0.5 + POSE_S), (raised, MOVE_S), (raised, POSE_S)]
    at = ELBOW_AT_POSES_M[side] * np.array([1.0, 1.0 if side == "lead" else -1.0, 1.0])
    k = start
    last = flat
    for state, seconds in steps:
        m = round(seconds / STEP_S)
        u = minimum_jerk(np.arange(1, m + 1) / m) if state is not last else np.ones(m)
        ends = np.stack([last.forearm, state.forearm])
        forearm[k : k + m] = Slerp([0.0, 1.0], Rotation.from_matrix(ends))(u).as_matrix()
        bend = (1 - u)[:, None] * last.wrist + u[:, None] * state.wrist
        hand[k : k + m] = forearm[k : k + m] @ rotation_of(*bend.T)
        elbow[k : k + m] = at
        k, last = k + m, state
    move = round(1.4 / STEP_S)
    for values in (forearm, hand):
        _joined(values, k, move)
        if start:
            _joined(values[::-1], len(values) - start, move)
    u = minimum_jerk(np.arange(1, move + 1) / move)[:, None]
    elbow[k : k + move] = (1 - u) * at + u * elbow[k : k + move]
    if start:
        elbow[start - move : start] = (1 - u[::-1]) * at + u[::-1] * elbow[start - move : start]
    raised_end = (k) * STEP_S
    flat_end = (start * STEP_S) + 0.5 + POSE_S
    windows["flat"].append((round(flat_end - 1.9, 3), round(flat_end - 0.1, 3)))
    windows["raised"].append((round(raised_end - 1.9, 3), round(raised_end - 0.1, 3)))


def _joined(values: Array, k: int, move: int) -> None:
    """Orientations (n, 3, 3) from sample ``k`` on begin where the one before stands, and blend into their own."""
    held = Rotation.from_matrix(values[k - 1])
    own = Rotation.from_matrix(values[k : k + move])
    u = minimum_jerk(np.arange(1, move + 1) / move)
    values[k : k + move] = (held * Rotation.from_rotvec((held.inv() * own).as_rotvec() * u[:, None])).as_matrix()


def _tremor(n: int, rng: np.random.Generator) -> Array:
    """Trembling (n, 2) of unit standard deviation between 7 and 11 Hz."""
    low, high = (1.0 / (2.0 * np.pi * f * STEP_S) for f in TREMOR_HZ)
    noise = rng.normal(size=(n, 2))
    band = gaussian_filter1d(noise, high, axis=0) - gaussian_filter1d(noise, low, axis=0)
    return np.asarray(band / band.std(axis=0))
