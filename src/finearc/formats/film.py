"""A simulated swing as a camera beside the bay would film it, with the sound of the strike: a stand-in for a video."""

from __future__ import annotations

import tempfile
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
from PIL import Image, ImageDraw

from finearc.core.frames.handedness import Hand
from finearc.core.signals.strike_sound import SOUND_M_S
from finearc.core.typing import Array
from finearc.golfer.scenarios import Recording
from finearc.golfer.whole import WholeBody, whole_body

SIZE = (404, 720)
SOUND_HZ = 48_000
BEFORE_S, AFTER_S = 2.6, 1.6
"""So much around impact is filmed."""
SEEN_M = 2.5
"""So much stands from the lower to the upper edge of the picture."""
MIDDLE_M = (0.3, 0.0, 1.05)
"""What stands in its middle; x to the ball, y to the target, z up."""
WALL, FLOOR, BODY, CLUB = (205, 212, 208), (148, 158, 150), (52, 60, 66), (120, 64, 34)
FADES_S = 0.006
KINDS = {"mp4": ("libx264", "aac"), "webm": ("libvpx", "libopus")}
OPTIONS = {"mp4": {"preset": "veryfast", "crf": "26", "g": "15"}, "webm": {"deadline": "realtime"}}


def film(
    recording: Recording,
    number: int = 0,
    view: str = "front",
    *,
    rate_hz: int = 60,
    sound: bool = True,
    away_m: float = 2.5,
    kind: str = "mp4",
) -> bytes:
    """A video file of a swing (counted from 0) from in ``front`` or along the target ``line``; ``away_m``: how far the
    microphone stands from the ball."""
    truth = recording.truth
    impact_s = truth.swings[number].times_s["impact"]
    start_s = max(float(truth.time_s[0]), impact_s - BEFORE_S)
    end_s = min(float(truth.time_s[-1]), impact_s + AFTER_S)
    at_s = np.arange(start_s, end_s, 1.0 / rate_hz)
    lines = _lines(whole_body(truth), truth.time_s, at_s)
    struck = impact_s - start_s
    heard = _sound(end_s - start_s, struck + away_m / SOUND_M_S) if sound else None
    flip = -1.0 if recording.hand is Hand.LEFT else 1.0
    pictures = [_picture([(p[k], wide) for p, wide in lines], view, flip) for k in range(len(at_s))]
    return _file(pictures, heard, rate_hz, kind)


def filmed_impact_s(recording: Recording, number: int = 0) -> float:
    """Where in such a video the ball is struck."""
    return min(BEFORE_S, recording.truth.swings[number].times_s["impact"] - float(recording.truth.time_s[0]))


def _lines(body: WholeBody, time_s: Array, at_s: Array) -> list[tuple[Array, int]]:
    """Chains of points (frames, points, 3), m, and how wide each is drawn."""
    limbs = (body.lead_leg, body.trail_leg, body.lead_arm, body.trail_arm)
    chains = [(np.stack([limb.top_m, limb.middle_m, limb.end_m], axis=1), 15) for limb in limbs]
    shoulders = (body.lead_arm.top_m + body.trail_arm.top_m) / 2
    chains += [
        (np.stack([body.lead_arm.top_m, body.trail_arm.top_m], axis=1), 16),
        (np.stack([body.lead_leg.top_m, body.trail_leg.top_m], axis=1), 18),
        (np.stack([body.pelvis_m, shoulders], axis=1), 30),
        (np.stack([shoulders, body.head_m], axis=1), 13),
        (np.stack([body.lead_arm.end_m, body.grip_m], axis=1), 13),
        (np.stack([body.trail_arm.end_m, body.grip_m], axis=1), 13),
        (np.stack([body.grip_m, body.club_head_m], axis=1), 5),
        (body.head_m[:, None], 0),
    ]
    rows = np.clip(np.searchsorted(time_s, at_s), 0, len(time_s) - 1)
    return [(points[rows], wide) for points, wide in chains]


def _picture(lines: list[tuple[Array, int]], view: str, flip: float) -> Any:
    width, height = SIZE
    per_m = height / SEEN_M
    middle = np.array(MIDDLE_M)
    image = Image.new("RGB", SIZE, WALL)
    draw = ImageDraw.Draw(image)

    def place(points: Array) -> list[tuple[float, float]]:
        off = points - middle
        side = off[:, 1] if view == "front" else off[:, 0]
        return [(width / 2 + flip * per_m * x, height / 2 - per_m * z) for x, z in zip(side, off[:, 2], strict=True)]

    floor = place(np.array([[0.0, 0.0, 0.0]]))[0][1]
    draw.rectangle((0, floor - 6, width, height), FLOOR)
    for points, wide in lines:
        seen = place(points)
        if not wide:
            (x, y), r = seen[0], 0.115 * per_m
            draw.ellipse((x - r, y - r, x + r, y + r), BODY)
            continue
        colour = CLUB if wide == 5 else BODY
        draw.line(seen, colour, wide, joint="curve")
        for x, y in seen:
            draw.ellipse((x - wide / 2, y - wide / 2, x + wide / 2, y + wide / 2), colour)
    return np.asarray(image)


def _sound(seconds: float, heard_s: float) -> Array:
    """A quiet room, and the strike."""
    rng = np.random.default_rng(7)
    t = np.arange(round(seconds * SOUND_HZ)) / SOUND_HZ
    since = np.maximum(t - heard_s, 0.0)
    strike = np.where(t >= heard_s, 0.5 * np.exp(-since / FADES_S), 0.0)
    return (strike + 0.002) * rng.standard_normal(len(t))


def _file(pictures: list[Any], heard: Array | None, rate_hz: int, kind: str) -> bytes:
    video_codec, sound_codec = KINDS[kind]
    with tempfile.TemporaryDirectory(prefix="finearc-film-") as folder:
        path = Path(folder) / f"film.{kind}"
        with av.open(str(path), "w") as file:
            video: Any = file.add_stream(video_codec, rate=rate_hz)
            video.width, video.height, video.pix_fmt = *SIZE, "yuv420p"
            video.options = OPTIONS[kind]
            audio: Any = None if heard is None else file.add_stream(sound_codec, rate=SOUND_HZ, layout="mono")
            for k, picture in enumerate(pictures):
                frame: Any = av.VideoFrame.from_ndarray(picture, format="rgb24")
                frame.pts, frame.time_base = k, Fraction(1, rate_hz)
                file.mux(video.encode(frame))
            if audio is not None and heard is not None:
                for k in range(0, len(heard), 960):
                    piece: Any = av.AudioFrame.from_ndarray(heard[None, k : k + 960].astype(np.float32), "fltp", "mono")
                    piece.sample_rate, piece.pts, piece.time_base = SOUND_HZ, k, Fraction(1, SOUND_HZ)
                    file.mux(audio.encode(piece))
                file.mux(audio.encode(None))
            file.mux(video.encode(None))
        return path.read_bytes()
