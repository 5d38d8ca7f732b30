"""The marker set: where a camera system would see the model player's markers, with noise and dropouts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.frames.handedness import Hand
from finearc.core.typing import Array
from finearc.golfer.anatomy import (
    FOOT_MARKERS,
    HEAD_MARKERS,
    PELVIS_MARKERS,
    PELVIS_TILT_DEG,
    THORAX_MARKERS,
)
from finearc.golfer.session import TrueSession
from finearc.golfer.trunk import tipped
from finearc.golfer.whole import Foot, Limb, WholeBody

MARKER_RADIUS_M = 0.007
KNUCKLE_M = 0.080
BACK_OF_HAND_M = 0.010
LOFT_DEG = 33.0
SIDES = {"L": "R", "R": "L"}


@dataclass(frozen=True)
class MarkerQuirks:
    """What goes wrong: ``noise_m`` a coordinate; ``gap_share`` of the markers hidden for a moment in each swing, up
    to ``gap_s``; ``swapped``: two markers exchanged for a while; ``flicker``: a marker jumps for single frames;
    ``left_out``: markers that were not worn."""

    rate_hz: float = 240.0
    noise_m: float = 0.0003
    gap_share: float = 0.25
    gap_s: float = 0.08
    swapped: tuple[str, str] | None = None
    flicker: str = ""
    left_out: tuple[str, ...] = ()


@dataclass(frozen=True)
class MarkerLog:
    """What the cameras saw: ``points_m`` (n, k, 3), not a number where hidden."""

    time_s: Array
    labels: tuple[str, ...]
    points_m: Array
    rate_hz: float


def _limb(out: dict[str, Array], side: str, names: tuple[str, str], limb: Limb, half: float) -> None:
    out[side + names[0]] = limb.middle_m + half * limb.lateral
    out[side + names[1]] = limb.middle_m - half * limb.lateral


def _foot(out: dict[str, Array], side: str, foot: Foot) -> None:
    outward = foot.r_foot[:, :, 1]
    out[f"{side}ANK"], out[f"{side}ANM"] = foot.ankle_m + 0.035 * outward, foot.ankle_m - 0.035 * outward
    for name, place in FOOT_MARKERS.items():
        out[side + name] = foot.ankle_m + foot.r_foot @ place


def true_markers(session: TrueSession, body: WholeBody) -> dict[str, Array]:
    """Every marker's true place (n, 3), m, on the session's grid; L is the lead side."""
    trunk = session.trunk
    out: dict[str, Array] = {}
    tilt = tipped(np.full(1, PELVIS_TILT_DEG), np.zeros(1), np.zeros(1))[0]
    for name, place in PELVIS_MARKERS.items():
        out[name] = body.pelvis_m + trunk.r_pelvis @ (tilt @ place)
    for name, place in THORAX_MARKERS.items():
        out[name] = trunk.upper_m + trunk.r_thorax @ place
    for name, place in HEAD_MARKERS.items():
        out[name] = body.head_m + body.r_head @ place
    drop = trunk.r_thorax[:, :, 2] * session.anatomy.acromion_drop
    out["LSHO"], out["RSHO"] = body.lead_arm.top_m + drop, body.trail_arm.top_m + drop
    for side, arm, leg, foot in (
        ("L", body.lead_arm, body.lead_leg, body.lead_foot),
        ("R", body.trail_arm, body.trail_leg, body.trail_foot),
    ):
        _limb(out, side, ("ELB", "ELM"), arm, 0.040)
        _limb(out, side, ("KNE", "KNM"), leg, 0.050)
        _foot(out, side, foot)
    hands = (
        ("L", body.lead_wrist_m, session.r_bay_from_forearm[:, :, 2], session.r_bay_from_hand),
        ("R", body.trail_wrist_m, _thumb_side(body), body.r_trail_hand),
    )
    for side, wrist, thumb, hand in hands:
        out[f"{side}WRA"], out[f"{side}WRB"] = wrist + 0.030 * thumb, wrist - 0.030 * thumb
        back = (BACK_OF_HAND_M + MARKER_RADIUS_M) * hand[:, :, 1]
        out[f"{side}FIN"] = wrist + KNUCKLE_M * hand[:, :, 0] + back
    return out | _club(session, body)


def _thumb_side(body: WholeBody) -> Array:
    """Thumb side (n, 3) of the trail forearm: the hand's, made square to the forearm (no twist at the wrist)."""
    arm = body.trail_arm
    d = arm.end_m - arm.middle_m
    d = d / np.linalg.norm(d, axis=1, keepdims=True)
    r = body.r_trail_hand[:, :, 2]
    r = r - np.sum(r * d, axis=1, keepdims=True) * d
    return np.asarray(r / np.linalg.norm(r, axis=1, keepdims=True))


def _club(session: TrueSession, body: WholeBody) -> dict[str, Array]:
    shaft, face, toe = (session.r_bay_from_club[:, :, k] for k in range(3))
    head = body.club_head_m
    loft = np.deg2rad(LOFT_DEG)
    return {
        "CGRP": body.grip_m - session.anatomy.grip_to_butt * shaft,
        "CSHF": body.grip_m + 0.60 * shaft,
        "CHEL": head - 0.035 * toe,
        "CTOE": head + 0.035 * toe,
        "CFAC": head + 0.05 * (np.cos(loft) * face - np.sin(loft) * shaft),
    }


def marker_log(
    session: TrueSession, body: WholeBody, quirks: MarkerQuirks, rng: np.random.Generator, hand: Hand = Hand.RIGHT
) -> MarkerLog:
    """The cameras' log. A left-hander's is the mirror image, sides of the labels exchanged; the target is then
    along ``-y`` of the laboratory."""
    true = true_markers(session, body)
    stop = session.time_s[-1] - 0.01
    frames = np.arange(int(stop * quirks.rate_hz) + 1) / quirks.rate_hz
    labels = [k for k in true if k not in quirks.left_out]
    position = frames / float(session.time_s[1] - session.time_s[0])
    low = np.minimum(position.astype(int), len(session.time_s) - 2)
    share = (position - low)[:, None]
    points = np.stack([(1 - share) * true[k][low] + share * true[k][low + 1] for k in labels], axis=1)
    points += rng.normal(0.0, quirks.noise_m, points.shape)
    points[..., 2] -= session.floor_m
    _hide(points, labels, session, frames, quirks, rng)
    if hand is Hand.LEFT:
        points[..., 1] *= -1.0
        labels = [SIDES[k[0]] + k[1:] if k[0] in SIDES and k not in ("CLAV",) else k for k in labels]
    return MarkerLog(frames, tuple(labels), points, quirks.rate_hz)


def _hide(
    points: Array,
    labels: list[str],
    session: TrueSession,
    frames: Array,
    quirks: MarkerQuirks,
    rng: np.random.Generator,
) -> None:
    for swing in session.swings:
        for k in range(len(labels)):
            if rng.random() < quirks.gap_share:
                start = rng.uniform(swing.times_s["address"] + 0.2, swing.times_s["impact"] + 0.4)
                gone = (frames > start) & (frames < start + rng.uniform(0.02, quirks.gap_s))
                points[gone, k] = np.nan
    if quirks.swapped and session.swings:
        a, b = (labels.index(k) for k in quirks.swapped)
        top = session.swings[0].times_s["top"]
        span = np.flatnonzero((frames > top - 0.25) & (frames < top + 0.05))[:, None]
        points[span, np.array([a, b])] = points[span, np.array([b, a])]
    if quirks.flicker and session.swings:
        k = labels.index(quirks.flicker)
        for at in session.swings[0].times_s["top"] + np.array([-0.3, -0.15, 0.02]):
            points[int(at * quirks.rate_hz), k] += np.array([0.15, -0.1, 0.12])
